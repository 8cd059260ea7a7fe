"""Tables and queries of Cook."""
