# SPDX-License-Identifier: GPL-3.0-or-later
"""The shop sheet as PDF and HTML."""
