"""A whole workspace as one file, out of one installation and into another."""
