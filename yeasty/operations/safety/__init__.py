"""What may be eaten."""
