"""Tables and queries of Kitchen."""
