"""Decide: verdicts and what they stand on."""
