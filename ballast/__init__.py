"""Gentle Ballast: tire pressures worked out from weighed loads."""
