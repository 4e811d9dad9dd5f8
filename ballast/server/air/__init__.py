"""The air that a rig stands in."""
