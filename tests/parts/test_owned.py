# SPDX-License-Identifier: GPL-3.0-or-later
"""Parts as a builder writes them down."""

import pytest

from gravidon.errors import InputError
from gravidon.parts.catalogue import catalogue
from gravidon.parts.owned import KITS, owned_from

PARTS = tuple(catalogue().values())


def told(text: str) -> list[tuple[float, str]]:
    return [(o.count, o.part.name) for o in owned_from(text, PARTS)]


def test_amounts_and_lengths_in_one_line() -> None:
    """24 in are 0.6096 m (25.4 mm an inch, by definition)."""
    (count, end), (length, hose), (one, other) = told("2x -10 45, 24 in -10; -4 90 PTFE")
    assert (count, one) == (2.0, 1.0)
    assert "-10 45°" in end
    assert length == pytest.approx(0.6096)
    assert "hose, per metre" in hose
    assert "-4 90°" in other
    assert told("0.5 m -4 PTFE")[0][0] == 0.5


def test_a_hole_in_inches_is_found() -> None:
    """0.030 in is 0.762 mm."""
    ((_, name),) = (
        told(".030 flange") if any("0.76" in p.name and "flange" in p.name for p in PARTS) else told(".030")
    )
    assert "0.76" in name or "0.030" in name


def test_whole_kits() -> None:
    for kit in KITS:
        assert len(told(kit)) == len(KITS[kit])


def test_what_nothing_answers_to_is_named() -> None:
    with pytest.raises(InputError, match="unobtainium"):
        owned_from("-10 45, unobtainium", PARTS)
