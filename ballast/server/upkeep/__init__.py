"""Keeping the files: which world a server may open, copies of the database, and putting one back."""
