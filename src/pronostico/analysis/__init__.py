"""Records in, reports out: what the pages and the command line both show, with no database."""
