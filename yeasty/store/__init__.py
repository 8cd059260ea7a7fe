"""PostgreSQL: typed tables and their queries. No Flask here."""
