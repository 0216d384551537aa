# SPDX-License-Identifier: GPL-3.0-or-later
"""Threads, sizes, drills and catalogues: what can be bought, drilled and screwed together."""
