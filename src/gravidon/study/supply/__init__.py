"""Choices of the pressure side: taps, restrictors, maps, how sure it is."""
