"""What are we finding out: kinds of trial, attributes, methods and their marks."""
