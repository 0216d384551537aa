# SPDX-License-Identifier: GPL-3.0-or-later
"""Text files as other programs write them: UTF-8 with or without a mark, UTF-16, Latin-1; and CSV as a spreadsheet opens it right."""

from __future__ import annotations

import codecs

from gravidon.errors import PlanFileError
from gravidon.translate import tr

MARKS: tuple[tuple[bytes, str], ...] = (
    (codecs.BOM_UTF8, "utf-8-sig"),
    (codecs.BOM_UTF16_LE, "utf-16"),
    (codecs.BOM_UTF16_BE, "utf-16"),
)
MOST_CONTROLS = 0.01
"""[-] of bytes that are control characters, from which a file without a mark is no text; project choice."""


def decoded(raw: bytes, name: str) -> str:
    """Return the text of a file.

    A mark at its beginning says which; without one UTF-8, and what is none of it Windows' Latin-1 (a "°C" in a heading is what usually is not UTF-8).

    Raises: PlanFileError if it is no text.
    """
    try:
        for mark, coding in MARKS:
            if raw.startswith(mark):
                return raw.decode(coding)
        try:
            return raw.decode("utf-8")
        except UnicodeDecodeError:
            controls = sum(byte < 9 or 13 < byte < 32 for byte in raw[:100_000])
            if controls > MOST_CONTROLS * min(len(raw), 100_000) or b"\0" in raw:
                raise
            return raw.decode("cp1252", errors="strict")
    except UnicodeDecodeError as error:
        raise PlanFileError(tr("{name} is not a text file").format(name=name)) from error


def for_spreadsheet(text: str) -> bytes:
    """Return a CSV with the mark without which a spreadsheet reads "45Â°" for "45°"."""
    return text.encode("utf-8-sig")
