"""The database: tables, sessions, migrations, and records in and out of them."""
