# SPDX-License-Identifier: GPL-3.0-or-later
"""Texts in the language of the session: `tr` where they are shown, `N_` where they only stand in a table.

gettext domain "gravidon", catalogues under words/locale; the language is that of the environment when Gravidon starts.
"""

from __future__ import annotations

import gettext
import os
from functools import cache
from pathlib import Path

DOMAIN = "gravidon"
FOLDER_SET = "GRAVIDON_LOCALES"
"""Environment variable: another folder of catalogues, for who makes one."""


def N_(text: str) -> str:
    """Mark a literal for extraction; it is translated when shown."""
    return text


@cache
def _catalogue() -> gettext.NullTranslations:
    return gettext.translation(
        DOMAIN, os.environ.get(FOLDER_SET, Path(__file__).parent / "words" / "locale"), fallback=True
    )


def tr(text: str) -> str:
    """Return a marked text in the language of the session; the text itself where there is no translation."""
    return _catalogue().gettext(text) if text else text
