# SPDX-License-Identifier: GPL-3.0-or-later
"""What comes of a plan: from the document to arrays over its conditions."""
