"""Taste: tastings, seats, answers."""
