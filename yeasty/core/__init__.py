"""Rules and computation. Plain values in, plain frozen dataclasses out; no clock, no network, no files
but the read-only tables packaged beside the code."""
