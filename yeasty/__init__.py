"""Yeasty Trial: a test kitchen's bench, from question to published method."""

__version__ = "0.22.1"
