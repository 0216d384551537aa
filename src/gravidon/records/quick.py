# SPDX-License-Identifier: GPL-3.0-or-later
"""A line typed in haste, made an entry: "idle hot 14 psi", "2500 rpm 98C 48 inlet 41, 12 480 km, oil changed"."""

from __future__ import annotations

import math
import re
from dataclasses import dataclass
from datetime import date, timedelta

from gravidon.errors import GravidonError, InputError
from gravidon.plan import units
from gravidon.plan.model import Plan
from gravidon.plan.units import Family
from gravidon.records.entry import Entry, Reading
from gravidon.translate import commas, tr

HOT_C, COLD_C = 95.0, 20.0
"""[°C] meant by "hot" and "cold" where nothing else is known; common practice, no source."""
EXPECTED = tr("such as 'idle hot 14 psi', '2500 rpm 98 C gallery 48 inlet 41 psi', '12480 km oil changed'")

SIGNS = ("blue smoke", "smoke", "leak", "noise", "whine", "smell", "wet", "puff")
"""Words that make a symptom of what stands around them."""
_DONE = {"oil changed": "oil", "new oil": "oil", "oil change": "oil", "screen cleaned": "screen", "cleaned screen": "screen", "new screen": "screen",
         "new turbo": "bearing", "turbo changed": "bearing", "bearing changed": "bearing", "new sender": "sender", "sender changed": "sender", "sender calibrated": "sender",
         "new pump": "pump", "pump changed": "pump", "restrictor changed": "restrictor", "restrictor cleaned": "restrictor"}  # fmt: skip


@dataclass(frozen=True)
class Usual:
    """What a line leaves out: today, the engine's idle [rpm], the hot idle's oil temperature [°C], where a bare pressure was read, units."""

    today: date
    idle_rpm: float
    hot_c: float = HOT_C
    at: str = "gallery"
    family: Family = "imperial"


def bare_place(plan: Plan) -> str:
    """Return where a pressure was read that says nothing of its place: the dash's gauge, unless every sender of the plan sits at a turbo's inlet."""
    at_inlets = bool(plan.senders) and all(s.at == "inlet" for s in plan.senders)
    return "inlet" if at_inlets else "gallery"


_UNSURE = re.compile(
    r"(?<![\d.,])\d{1,3}[,.'  ]\d{3}(?!\d)\s*(?:psi|bar|kpa|rpm)|\d+(?:[.,]\d+)?e[+-]?\d+", re.IGNORECASE
)
"""A number that could be two: "1,400 kPa" is 1400 or 1.4, "1 400" one or two; or one that nobody writes on an engine."""
_PRESSURE = re.compile(
    r"(?:(?P<at>gallery|inlet)\s+)?(?P<value>-?\d+(?:[.,]\d+)?)\s*(?P<unit>psi|bar|kpa)?(?![\w°])",
    re.IGNORECASE,
)
_UNITED = re.compile(r"-?\d+(?:[.,]\d+)?\s*(?:psi|bar|kpa)\b", re.IGNORECASE)
_SPEED = re.compile(r"(?P<rpm>\d{3,5})\s*(?:rpm|1/min|/min)", re.IGNORECASE)
_OIL = re.compile(r"(?:oil\s+)?(?P<t>-?\d+(?:[.,]\d+)?)\s*(?:°\s*|deg\s*)?(?P<u>[cf])\b", re.IGNORECASE)
_DISTANCE = re.compile(r"(?P<d>\d[\d  .]*)\s*(?P<u>km|mi|miles)\b", re.IGNORECASE)
_DAY = re.compile(r"\b(?P<day>\d{4}-\d{2}-\d{2})\b")


class _Line:
    """A line from which what was understood is taken away."""

    def __init__(self, text: str) -> None:
        self.text = text

    def take(self, pattern: re.Pattern[str]) -> re.Match[str] | None:
        found = pattern.search(self.text)
        if found is not None:
            self.text = self.text[: found.start()] + " ; " + self.text[found.end() :]
        return found

    def word(self, *words: str) -> str:
        for word in words:
            if self.take(re.compile(rf"\b{re.escape(word)}\b", re.IGNORECASE)):
                return word
        return ""


def quick_entry(text: str, usual: Usual) -> Entry:
    """Return the entry that a line means.

    Raises: InputError if it says nothing that can be kept, or a reading without its speed or oil temperature.
    """
    line = _Line(text)
    unsure = _UNSURE.search(text)
    if unsure is not None:
        raise InputError(
            "entry", unsure[0], tr("one number that can be read in one way, such as 1400 or 1.4")
        )
    when = _day_of(line, usual.today)
    distance = _distance(line)
    changed = tuple(dict.fromkeys(what for words, what in _DONE.items() if line.word(words)))
    sentence = line.text
    rpm, oil_k = _speed(line, usual), _oil(line, usual)
    gallery, inlet = (
        _pressures(line, usual) if not math.isnan(rpm) or not math.isnan(oil_k) else (math.nan, math.nan)
    )
    read = math.isfinite(gallery) or math.isfinite(inlet)
    if read and (_SPEED.search(line.text) or _UNITED.search(line.text) or line.word("idle", "idling")):
        raise InputError(
            "entry",
            text,
            tr("one reading a line: an engine speed, an oil temperature, a gallery and an inlet pressure"),
        )
    if not read:  # a speed or a "hot" without a pressure belongs to the sentence
        line.text = sentence
    note = " ".join(" ".join(part.split()) for part in line.text.split(";") if part.strip(" ,.:")).strip(
        " ,.:"
    )
    signs = (note,) if any(word in note.lower() for word in SIGNS) else ()
    readings: tuple[Reading, ...] = ()
    if read:
        if math.isnan(rpm):
            raise InputError(
                "entry",
                text,
                tr("the engine's speed beside a pressure, {expected}").format(expected=EXPECTED),
            )
        readings = (Reading(rpm, oil_k if math.isfinite(oil_k) else usual.hot_c + 273.15, gallery, inlet),)
    if not (readings or changed or note or math.isfinite(distance)):
        raise InputError(
            "entry", text, tr("a reading, work, a symptom or a note, {expected}").format(expected=EXPECTED)
        )
    kind = (
        "reading"
        if readings
        else "oil change"
        if "oil" in changed
        else "work"
        if changed
        else "symptom"
        if signs
        else "note"
    )
    return Entry(when, distance, kind, "" if signs else note, readings, signs, changed).checked()


def _day_of(line: _Line, today: date) -> str:
    found = line.take(_DAY)
    if found is not None:
        return found["day"]
    back = {"yesterday": 1, "today": 0}
    word = line.word(*back)
    return (today - timedelta(days=back.get(word, 0))).isoformat()


def _distance(line: _Line) -> float:
    found = line.take(_DISTANCE)
    if found is None:
        return math.nan
    digits = re.sub(r"[^\d]", "", found["d"])
    return float(digits) * (1000.0 if found["u"].lower() == "km" else 1609.344)


def _speed(line: _Line, usual: Usual) -> float:
    found = line.take(_SPEED)
    if found is not None:
        return float(found["rpm"])
    if line.word("idle", "idling"):
        return usual.idle_rpm
    return 0.0 if line.word("engine off", "off") else math.nan


def _oil(line: _Line, usual: Usual) -> float:
    found = line.take(_OIL)
    if found is not None:
        value = float(found["t"].replace(",", "."))
        return units.KINDS["degc"].aliases[found["u"].lower()].to_si(value)
    word = line.word("hot", "warm", "cold")
    return math.nan if not word else (COLD_C if word == "cold" else usual.hot_c) + 273.15


def _pressures(line: _Line, usual: Usual) -> tuple[float, float]:
    made = {"gallery": math.nan, "inlet": math.nan}
    default = units.display_unit("kpa", usual.family)
    found: list[re.Match[str]] = []
    while len(found) < 2 and (match := line.take(_PRESSURE)) is not None:
        found.append(match)
    places = [(m["at"] or "").lower() for m in found]
    if len(found) == 2 and (places[0] == places[1]):
        raise InputError(
            tr("pressures"),
            commas(m[0].strip() for m in found),
            tr("which is which, such as 'gallery 48 inlet 41 psi'"),
        )
    shared = next((m["unit"] for m in reversed(found) if m["unit"]), "")
    for match in found:
        at = (match["at"] or "").lower()
        if not at:  # a bare one is where a gauge usually is, or at the other place where that one is named
            other = "gallery" if usual.at == "inlet" else "inlet"
            at = other if usual.at in places else usual.at
        typed = f"{match['value']} {match['unit'] or shared}"
        try:
            made[at] = units.parse(typed, "kpa", tr("{at} pressure").format(at=at), default)
        except GravidonError as error:
            raise InputError(
                tr("{at} pressure").format(at=at), typed, "a pressure such as '14 psi'"
            ) from error
    return made["gallery"], made["inlet"]
