"""In and out: records, backups, spreadsheets."""
