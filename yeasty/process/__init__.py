"""Processes: the local PostgreSQL, the local authority for TLS, and what is started and stopped together."""
