# SPDX-License-Identifier: GPL-3.0-or-later
"""Plain geometry of the pictures in millimetres: no painting, no Qt."""
