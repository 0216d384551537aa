"""The handbook: Markdown pages shown by F1 and linked from the README."""
