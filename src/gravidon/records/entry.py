# SPDX-License-Identifier: GPL-3.0-or-later
"""What a logbook holds: dated entries with readings, symptoms, what was changed, a photo, a recording."""

from __future__ import annotations

import math
import re
import uuid
from dataclasses import dataclass, field, replace
from datetime import date, datetime

from gravidon.errors import InputError
from gravidon.translate import commas, tr

KINDS = ("reading", "symptom", "work", "part", "oil change", "note")
"""What an entry mainly is."""
CHANGED = ("oil", "screen", "bearing", "pump", "sender", "restrictor", "drain", "breather")
"""What work may have made new: from there on its health begins again."""
MOST_PHOTO = 8_000_000
"""[bytes] of a photo."""

BOUNDS = {
    "rpm": ("engine speed", 0.0, 20000.0, "0 to 20000 rpm"),
    "oil_k": ("oil temperature", 233.15, 453.15, "-40 to 180 °C"),
    "gallery_pa": ("gallery pressure", -1e5, 2e6, "-100 to 2000 kPa"),
    "inlet_pa": ("inlet pressure", -1e5, 2e6, "-100 to 2000 kPa"),
}


@dataclass(frozen=True)
class Reading:
    """One steady reading in SI; nan where nothing was read. `turbo` counts from 0."""

    rpm: float
    oil_k: float
    gallery_pa: float = math.nan
    inlet_pa: float = math.nan
    turbo: int = 0

    def checked(self) -> Reading:
        """Return it.

        Raises: InputError naming the field that cannot be.
        """
        for name, (label, low, high, expected) in BOUNDS.items():
            value = getattr(self, name)
            needed = name in ("rpm", "oil_k")
            if math.isnan(value) and not needed:
                continue
            if not (math.isfinite(value) and low <= value <= high):
                raise InputError(label, value, expected)
        if not 0 <= self.turbo <= 2:
            raise InputError("turbo", self.turbo, "0, 1 or 2")
        return self


def new_uid() -> str:
    """Return a name that no other entry has, in this logbook or another."""
    return uuid.uuid4().hex


@dataclass(frozen=True)
class Entry:
    """One entry: its name for good, day (ISO, with a time or without), distance on the clock [m] (nan: not told), kind, note, readings, symptoms, what was
    made new, the file of a recording, a photo's bytes (None: none, or not asked for)."""

    day: str
    distance_m: float = math.nan
    kind: str = "reading"
    note: str = ""
    readings: tuple[Reading, ...] = ()
    symptoms: tuple[str, ...] = ()
    changed: tuple[str, ...] = ()
    recording: str = ""
    photo: bytes | None = field(default=None, repr=False)
    has_photo: bool = False
    uid: str = field(default_factory=new_uid)

    @property
    def date(self) -> date:
        """The day."""
        return date.fromisoformat(self.day[:10])

    def checked(self) -> Entry:
        """Return it, its readings checked too.

        Raises: InputError naming the field that cannot be.
        """
        day(self.day)
        if self.kind not in KINDS:
            raise InputError("kind", self.kind, tr("one of {known}").format(known=commas(KINDS)))
        if not math.isnan(self.distance_m) and not 0.0 <= self.distance_m <= 1e10:
            raise InputError("distance", self.distance_m / 1e3, "0 to 10 000 000 km")
        wrong = next((c for c in self.changed if c not in CHANGED), None)
        if wrong is not None:
            raise InputError("changed", wrong, tr("some of {known}").format(known=commas(CHANGED)))
        if self.photo is not None and len(self.photo) > MOST_PHOTO:
            raise InputError(
                "photo",
                tr("{count} bytes").format(count=len(self.photo)),
                tr("at most {most} MB").format(most=MOST_PHOTO // 1000000),
            )
        return replace(self, readings=tuple(r.checked() for r in self.readings))


def day(text: str) -> str:
    """Return a day as it is kept: ISO 8601, with a time or without.

    Raises: InputError for anything else.

    >>> day("2026-04-12")
    '2026-04-12'
    """
    try:
        if re.fullmatch(r"\d{4}-\d{2}-\d{2}", text.strip()):
            return date.fromisoformat(text.strip()).isoformat()
        return datetime.fromisoformat(text.strip()).isoformat(timespec="minutes")
    except ValueError:
        raise InputError("day", text, "a day such as 2026-04-12, or 2026-04-12 18:30") from None
