"""What gives the command."""
