"""How far searches go unless said, where a command can know it without loading what searches."""

BUDGET = 200_000
"""Situations a proof visits."""
TICKS = 30_000
"""Ticks the body world is searched for by playing."""
