# SPDX-License-Identifier: GPL-3.0-or-later
"""The window: views that read one session and propose edits to it. No view computes physics."""
