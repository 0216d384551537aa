# SPDX-License-Identifier: GPL-3.0-or-later
"""Words in the cells of a CSV: none is a formula to the spreadsheet that opens it."""

from __future__ import annotations

import re

_FORMULA = re.compile(r"^[\s]*[=+@\t\r]|^[\s]*-(?!\d+(?:[ /,.\d][^=|!(]*)?$)")
"""What a spreadsheet may compute; a dash size ("-10 hose end") is none."""


def cell(text: str) -> str:
    """Return a word as it goes into a cell: what a spreadsheet would compute gets an apostrophe before it.

    >>> cell("=1+1"), cell("-10 hose, 2 m"), cell("-2+cmd|x"), cell("oil")
    ("'=1+1", '-10 hose, 2 m', "'-2+cmd|x", 'oil')
    """
    return f"'{text}" if _FORMULA.match(text) else text


def word(text: str) -> str:
    """Return what `cell` made of a word.

    >>> word(cell("=1+1")), word("'tis")
    ('=1+1', "'tis")
    """
    return text[1:] if text.startswith("'") and _FORMULA.match(text[1:]) else text
