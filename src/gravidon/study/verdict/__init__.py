# SPDX-License-Identifier: GPL-3.0-or-later
"""What is wrong with a plan, how badly, and what would cure it."""
