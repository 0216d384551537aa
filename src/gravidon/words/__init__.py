# SPDX-License-Identifier: GPL-3.0-or-later
"""All that is said about a plan: message tables without Qt, ready for translation."""
