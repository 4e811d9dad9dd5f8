"""A fleet's month, drawn: what was done and missed, found and mended."""
