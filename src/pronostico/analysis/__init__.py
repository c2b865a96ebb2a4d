"""Records in, reports out: what the pages and the command line both say, with no database."""
