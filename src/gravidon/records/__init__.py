# SPDX-License-Identifier: GPL-3.0-or-later
"""What is measured and kept: lines from a logger, recordings, the logbook. Knows no plan and no interface."""
