"""Load-inflation tables of the workspace."""
