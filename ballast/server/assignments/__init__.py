"""Rounds that are given to people and crews, for a day."""
