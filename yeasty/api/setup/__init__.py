"""Set up: same and different, pieces, places, checklists."""
