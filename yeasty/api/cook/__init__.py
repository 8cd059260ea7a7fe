"""Cook: shifts, plans, the bench and its log."""
