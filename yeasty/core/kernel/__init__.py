"""What every station uses and what uses none: quantities, errors, words, steps, entries."""
