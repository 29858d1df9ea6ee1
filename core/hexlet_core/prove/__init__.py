"""Proving: what the meter should show, and whether it did."""
