"""Tables and queries of Ask."""
