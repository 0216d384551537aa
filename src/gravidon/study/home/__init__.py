# SPDX-License-Identifier: GPL-3.0-or-later
"""Choices of the oil's way home: places on the pan, limits of attitude, drives."""
