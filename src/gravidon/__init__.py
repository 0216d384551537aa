# SPDX-License-Identifier: GPL-3.0-or-later
"""Gravidon plans a turbocharger's oil feed and gravity drain."""

import os

__version__ = "0.11.1"

# The matrices here are small: a second thread of the linear algebra only waits, and burns a core waiting.
# Whoever has set it, or loaded NumPy before, keeps it as it is.
os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")
