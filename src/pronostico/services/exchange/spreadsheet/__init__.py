"""Readings out of somebody's spreadsheet: understood column by column, stored after a preview."""
