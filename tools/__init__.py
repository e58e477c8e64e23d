"""What the people who build Lean Step run by hand."""
