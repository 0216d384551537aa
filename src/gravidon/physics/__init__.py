# SPDX-License-Identifier: GPL-3.0-or-later
"""Pure functions on NumPy arrays, SI units, one phenomenon a module. No plan, no file, no Qt."""
