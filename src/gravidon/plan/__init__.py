"""The document: what the builder decided and measured, its units, its file."""
