"""The check itself, wheel by wheel."""
