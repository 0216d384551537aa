"""What is wrong with a plan, how badly, and what would cure it."""
