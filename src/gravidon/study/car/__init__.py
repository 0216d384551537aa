# SPDX-License-Identifier: GPL-3.0-or-later
"""A car simulated in time from a plan: the same physics, hidden true values, faults, and senders that are not perfect."""
