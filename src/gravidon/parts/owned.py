# SPDX-License-Identifier: GPL-3.0-or-later
"""Parts on hand as a builder writes them down: "2x -10 45, 24 in -10 PTFE hose, drain kit": how many or how long, and words of the part."""

from __future__ import annotations

import re
from collections.abc import Iterable
from dataclasses import dataclass

from gravidon.errors import InputError
from gravidon.parts.catalogue import Part
from gravidon.translate import N_, tr

_COUNT = re.compile(r"^(?P<count>\d{1,3})\s*(?:x|×|pcs?|off)\s+(?P<rest>.+)$", re.IGNORECASE)
_LENGTH = re.compile(
    r"^(?P<number>\d+(?:[.,]\d+)?)\s*(?P<unit>mm|cm|m|in|inch|inches|\"|ft|feet|foot|')\s*(?:of\s+)?(?P<rest>.+)$",
    re.IGNORECASE,
)
_METRES = {"mm": 1e-3, "cm": 1e-2, "m": 1.0, "in": 0.0254, "inch": 0.0254, "inches": 0.0254, '"': 0.0254}
_METRES |= {"ft": 0.3048, "feet": 0.3048, "foot": 0.3048, "'": 0.3048}

KITS: dict[str, tuple[str, ...]] = {
    N_("feed kit"): ("1 m -4 PTFE hose", "1x -4 90 hose end PTFE", "1x -4 straight hose end PTFE"),
    N_("drain kit"): ("0.6 m -10 PTFE hose", "2x -10 45 hose end PTFE"),
    N_("large drain kit"): ("0.6 m -12 PTFE hose", "2x -12 45 hose end PTFE"),
}
"""What usually lies in a bag of that name; common practice, no source: look into yours."""


@dataclass(frozen=True)
class Owned:
    """So many of a part, or so many metres of hose."""

    part: Part
    count: float


def hits(text: str, parts: Iterable[Part]) -> list[Part]:
    """Return the parts that have every word of a text in their name or kind, the shortest names first. ".030" finds a hole of 0.030 in too."""
    words = text.lower().replace(" mm", "mm").split()
    found = [p for p in parts if words and all(_has(p, w) for w in words)]
    return sorted(found, key=lambda p: len(p.name))


def _has(part: Part, word: str) -> bool:
    name = f"{part.name} {part.kind}".lower().replace(" mm", "mm")
    if word in name:
        return True
    if re.fullmatch(r"0?\.\d{2,3}\"?", word):  # inches of a hole
        wanted = float(word.rstrip('"')) * 25.4
        return any(abs(float(n) - wanted) < 0.02 for n in re.findall(r"(\d+\.\d+)mm", name))
    return False


def owned_from(text: str, parts: Iterable[Part]) -> list[Owned]:
    """Return what a line of parts means, piece by piece between commas or semicolons.

    Raises: InputError naming the piece that no part answers to.
    """
    known = list(parts)
    made: list[Owned] = []
    for piece in (p.strip() for p in re.split(r"[;\n]|,(?!\d)", text)):
        if piece:
            made += _one(piece, known)
    return made


def _one(piece: str, known: list[Part]) -> list[Owned]:
    kit = next((k for k in KITS if piece.lower() in (k, tr(k).lower())), None)
    if kit is not None:
        return [owned for line in KITS[kit] for owned in _one(line, known)]
    count, rest, metres = 1.0, piece, None
    if (match := _COUNT.match(piece)) is not None:
        count, rest = float(match["count"]), match["rest"]
    elif (match := _LENGTH.match(piece)) is not None:
        metres, rest = (
            float(match["number"].replace(",", ".")) * _METRES[match["unit"].lower()],
            match["rest"],
        )
    found = hits(rest, [p for p in known if p.kind == "hose"] if metres is not None else known)
    if not found:
        raise InputError(tr("part"), piece, tr("words of a part, such as 2x -10 45, or 24 in -10 hose"))
    return [Owned(found[0], count if metres is None else round(metres, 4))]
