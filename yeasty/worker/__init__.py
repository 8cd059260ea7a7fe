"""Slow work in its own process: plans, verdicts, PDFs. Web processes never load this."""
