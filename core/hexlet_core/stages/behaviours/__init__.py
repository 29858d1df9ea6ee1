"""What makes one command of another, or of presses."""
