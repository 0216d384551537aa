"""Pure functions on NumPy arrays, SI units, one phenomenon a module. No plan, no file, no Qt."""
