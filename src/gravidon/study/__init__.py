# SPDX-License-Identifier: GPL-3.0-or-later
"""Answers: evaluate a plan, find what goes wrong, try remedies, choose a restrictor."""
