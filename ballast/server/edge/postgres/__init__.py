"""The database engine of several processes: Django's for PostgreSQL, with the queue of writers that SQLite has by itself."""
