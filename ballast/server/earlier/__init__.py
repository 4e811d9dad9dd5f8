"""Earlier readings, out of files of one's own."""
