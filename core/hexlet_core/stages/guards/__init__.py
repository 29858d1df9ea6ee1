"""What protects."""
