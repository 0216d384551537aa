# SPDX-License-Identifier: GPL-3.0-or-later
"""What must be bought, cut and done, and in which order."""
