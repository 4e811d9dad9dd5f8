"""The database engine of one machine: Django's for SQLite, with a queue at the door of a transaction."""
