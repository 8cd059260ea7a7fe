"""Cautions and limits. Every figure carries its source and status; none promises safety."""
