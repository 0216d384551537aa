"""What must be bought, cut and done, and in which order."""
