"""Lean Step: define, drive and prove how a sprite character behaves."""

__version__ = "0.1.0"
