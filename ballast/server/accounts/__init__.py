"""People, workspaces and roles: who may see and do what."""
