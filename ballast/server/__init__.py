"""Django: one app for each room of the work line, and the edge they share."""
