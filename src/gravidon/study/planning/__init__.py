# SPDX-License-Identifier: GPL-3.0-or-later
"""Plans made: what may change, ways through space, a search over all of it, the best plans with their reasons."""
