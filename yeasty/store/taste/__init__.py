"""Tables and queries of Taste."""
