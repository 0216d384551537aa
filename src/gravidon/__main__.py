# SPDX-License-Identifier: GPL-3.0-or-later
"""`python -m gravidon`."""

import sys

from gravidon.cli.main import main

if __name__ == "__main__":
    sys.exit(main())
