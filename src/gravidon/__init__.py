"""Gravidon plans a turbocharger's oil feed and gravity drain."""

__version__ = "0.5.0"
