"""Tables and queries of Safety."""
