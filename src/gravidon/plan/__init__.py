# SPDX-License-Identifier: GPL-3.0-or-later
"""The document: what the builder decided and measured, its units, its file."""
