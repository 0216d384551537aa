# SPDX-License-Identifier: GPL-3.0-or-later
"""What years of readings say of the feed: fitted, with how sure."""
