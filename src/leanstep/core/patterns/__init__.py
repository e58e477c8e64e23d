"""Patterns: graphs that are built over and over, put into a character with conditions that are right."""
