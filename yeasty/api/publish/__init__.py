"""Publish: pages, archives, what may be told."""
