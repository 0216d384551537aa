"""The command line: a thin door to the same answers."""
