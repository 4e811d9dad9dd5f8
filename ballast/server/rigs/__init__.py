"""The rigs of a workspace: labels, axles, tires and spares."""
