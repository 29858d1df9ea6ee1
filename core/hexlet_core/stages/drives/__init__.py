"""Switches between a command and a load."""
