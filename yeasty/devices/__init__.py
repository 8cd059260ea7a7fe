"""Outside devices as small simulated stand-ins that ship with the program."""
