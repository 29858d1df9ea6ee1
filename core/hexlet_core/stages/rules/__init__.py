"""The formulas that kinds share, one subject a file."""
