# SPDX-License-Identifier: GPL-3.0-or-later
"""A language that nobody speaks: every marked text between «», with accents, 40 per cent longer; made from the sources."""

from __future__ import annotations

import io
import re
import runpy
from pathlib import Path

from babel.messages.catalog import Catalog
from babel.messages.mofile import write_mo

HOLE = re.compile(r"(\{[^{}]*\}|\{\{|\}\}|%\(?[a-z_]*\)?[sdr]|&[a-z]+;|<[^>]*>)")
POINT = re.compile(r"(?<![\d.x])(\d)\.(\d)")
SIGNS = {"decimal sign": ",", "sign between thousands": "'"}
ACCENTS = str.maketrans("aeiouncyAEIOUNCY", "áéíóúñçýÁÉÍÓÚÑÇÝ")


def marked() -> Catalog:
    """Return every text that is marked, by the tool that makes the translators' template."""
    tool = Path(__file__).parent.parent.parent / "tools" / "extract_words.py"
    found: Catalog = runpy.run_path(str(tool))["marked"]()
    return found


def pseudo(text: str) -> str:
    """Return a text in that language; its holes stay.

    >>> pseudo("Wire {n}")
    '«Wíré {n}~~»'
    """
    parts = HOLE.split(text)
    words = "".join(p if k % 2 else POINT.sub(r"\1,\2", p.translate(ACCENTS)) for k, p in enumerate(parts))
    letters = sum(len(p) for k, p in enumerate(parts) if not k % 2)
    lead = words[: len(words) - len(words.lstrip())]
    end = words[len(words.rstrip()) :]
    return f"{lead}«{words.strip()}{_tail(round(0.4 * letters))}»{end}"


def _tail(count: int) -> str:
    """Return so many marks, in words no longer than a language's."""
    return " ".join("~" * min(12, count - k) for k in range(0, count, 12))


def write(folder: Path) -> int:
    """Write the catalogue for language `eo` (any the C library knows will do) below a folder; return how many texts it has."""
    source = marked()
    made = Catalog(locale="eo", domain="gravidon")
    for message in source:
        if message.context:
            made.add(message.id, SIGNS.get(message.context) or pseudo(message.id), context=message.context)
        elif isinstance(message.id, tuple):
            made.add(message.id, tuple(pseudo(text) for text in message.id))
        elif message.id:
            made.add(message.id, pseudo(message.id))
    target = folder / "eo" / "LC_MESSAGES"
    target.mkdir(parents=True)
    data = io.BytesIO()
    write_mo(data, made)
    (target / "gravidon.mo").write_bytes(data.getvalue())
    return len(made)
