# SPDX-License-Identifier: GPL-3.0-or-later
"""Choices of the pressure side: taps, restrictors, maps, how sure it is."""
