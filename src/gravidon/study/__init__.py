"""Answers: evaluate a plan, find what goes wrong, try remedies, choose a restrictor."""
