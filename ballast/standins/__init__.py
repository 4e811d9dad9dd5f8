"""Simulated devices and services that ship with the application. Each fills a protocol of the server."""
