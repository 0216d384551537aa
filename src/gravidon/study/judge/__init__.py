# SPDX-License-Identifier: GPL-3.0-or-later
"""What is judged: one table of quantities, each said once, and what becomes of them in an evaluation."""
