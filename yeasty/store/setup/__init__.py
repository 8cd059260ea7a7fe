"""Tables and queries of Setup."""
