"""The gauge drawer, and when each was last compared."""
