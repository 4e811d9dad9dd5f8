"""What was photographed of a rig, a ticket or a wheel."""
