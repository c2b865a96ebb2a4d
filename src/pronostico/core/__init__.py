"""The rules of the job and all computation: no web, no database, no files, no clock."""
