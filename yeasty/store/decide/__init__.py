"""Tables and queries of Decide."""
