"""Threads, sizes, drills and catalogues: what can be bought, drilled and screwed together."""
