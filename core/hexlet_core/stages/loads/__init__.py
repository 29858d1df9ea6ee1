"""What is switched."""
