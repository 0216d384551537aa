"""Painting: one code for the window, the printed sheet and exported pictures."""
