"""Speed, measured as tables; nothing is asserted."""
