"""Is there a difference: codes, serving orders, who was asked what."""
