"""Sealed rounds."""
