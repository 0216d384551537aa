# SPDX-License-Identifier: GPL-3.0-or-later
"""Painting: one code for the window, the printed sheet and exported pictures."""
