"""Every rig with its state, and the sheet of one."""
