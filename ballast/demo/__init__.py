"""The demo world, built through the services that people use."""
