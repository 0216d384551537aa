# SPDX-License-Identifier: GPL-3.0-or-later
"""A plugin of pytest, loaded while `tools/mutate.py` finds which test passes where: what one test has worked out and kept, the next works out again."""

from __future__ import annotations

import sys
from pathlib import Path

import pytest

ROOT = Path(__file__).resolve().parent.parent
PLACES = tuple(
    f"{ROOT}/{place}/"
    for place in ("src/gravidon/physics", "src/gravidon/study", "tests/kept", "tests/study")
)


@pytest.hookimpl(tryfirst=True)
def pytest_runtest_setup() -> None:
    """Empty every cache of physics, study and their tests."""
    for module in list(sys.modules.values()):
        if str(getattr(module, "__file__", None)).startswith(PLACES):
            for value in list(vars(module).values()):
                if callable(getattr(value, "cache_clear", None)):
                    value.cache_clear()
