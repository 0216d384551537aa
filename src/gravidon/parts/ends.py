# SPDX-License-Identifier: GPL-3.0-or-later
"""Ends of parts, and what becomes of any two of them: seals, leaks or does not fit, why, and by what it is sealed.

Sizes follow the standard named with each kind; judgement of a pair is geometry plus common practice, no source.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import lru_cache
from typing import Literal

from gravidon.parts.dash import INCH_MM
from gravidon.parts.threads import THREADS, Thread, goes_in_loose, starts_with, why_it_leaks
from gravidon.translate import N_, tr

EndKind = Literal[
    "NPT",
    "NPTF",
    "BSPT",
    "BSPP",
    "BSP cone",
    "metric",
    "metric cone",
    "metric boss",
    "UNF",
    "metric taper",
    "37 flare",
    "45 flare",
    "inverted flare",
    "O-ring boss",
    "banjo",
    "barb",
    "hose",
    "PTFE hose",
    "plain hose",
    "crimp",
    "PTFE crimp",
    "flange",
    "weld",
    "wall",
    "hole",
]
Gender = Literal["male", "female", ""]
Outcome = Literal["seals", "leaks", "no fit"]

STANDARD: dict[str, str] = {
    "NPT": "ASME B1.20.1",
    "NPTF": "ASME B1.20.3",
    "BSPT": "ISO 7-1",
    "BSPP": "ISO 228-1",
    "BSP cone": "ISO 8434-6",
    "metric": "ISO 261",
    "metric cone": "ISO 8434-1",
    "metric boss": "ISO 6149",
    "UNF": "ASME B1.1",
    "metric taper": "DIN 158-1",
    "37 flare": "SAE J514",
    "45 flare": "SAE J512",
    "inverted flare": "SAE J512",
    "O-ring boss": "SAE J1926",
    "banjo": "ISO 261 threads; banjo sizes from memory",
    "barb": "hose bore by dash size, from memory",
    "hose": "braided rubber: SAE J517 100R5, from memory",
    "PTFE hose": "SAE J517 100R14, from memory",
    "plain hose": "push-on and plain rubber by its inside in sixteenths, common practice, no source",
    "crimp": "SAE J517 100R5 ends, from memory",
    "PTFE crimp": "SAE J517 100R14 ends, from memory",
    "flange": "bolt patterns: common practice, no source",
    "weld": "common practice, no source",
    "wall": "common practice, no source",
    "hole": "common practice, no source",
}
"""Which source each kind's dimensions follow."""

FLARE_37: dict[int, tuple[float, float]] = {
    2: (5 / 16, 24),
    3: (3 / 8, 24),
    4: (7 / 16, 20),
    5: (1 / 2, 20),
    6: (9 / 16, 18),
    8: (3 / 4, 16),
    10: (7 / 8, 14),
    12: (17 / 16, 12),
    16: (21 / 16, 12),
}
"""Thread (major [in], per inch) of a 37° flare by dash size; SAE J514. O-ring bosses (SAE J1926) share it."""
FLARE_45: dict[int, tuple[float, float]] = {
    2: (5 / 16, 24),
    3: (3 / 8, 24),
    4: (7 / 16, 20),
    5: (1 / 2, 20),
    6: (5 / 8, 18),
    8: (3 / 4, 16),
    10: (7 / 8, 14),
    12: (17 / 16, 14),
}
"""Thread of a 45° flare by sixteenths of an inch of tube; SAE J512."""
INVERTED: dict[int, tuple[float, float]] = {
    2: (5 / 16, 28),
    3: (3 / 8, 24),
    4: (7 / 16, 24),
    5: (1 / 2, 20),
    6: (5 / 8, 18),
    8: (3 / 4, 18),
}
"""Thread of an inverted flare by sixteenths of an inch of tube; SAE J512."""


GENDERED = {"male": N_("{end}, male"), "female": N_("{end}, female")}
BRIEFLY = {"male": N_("{end} m"), "female": N_("{end} f")}
"""Ends with their gender, and where there is little room."""
NAMES: dict[str, str] = {
    "37 flare": tr("{size} 37° flare"),
    "45 flare": tr("{size} 45° flare"),
    "inverted flare": tr("{size} inverted flare"),
    "O-ring boss": tr("{size} O-ring boss"),
    "hose": tr("{size} rubber hose"),
    "PTFE hose": tr("{size} PTFE hose"),
    "plain hose": tr("{size} plain hose"),
    "barb": tr("{size} barb"),
    "flange": tr("{size} flange"),
    "weld": tr("weld edge"),
    "wall": tr("pan wall"),
    "hole": tr("{size} hole"),
    "banjo": tr("banjo for {size}"),
    "crimp": tr("{size} crimped end"),
    "PTFE crimp": tr("{size} crimped PTFE end"),
    "BSP cone": tr("{size} BSP 60° cone"),
    "metric cone": tr("{size} 24° cone"),
    "metric boss": tr("{size} O-ring port"),
    "metric taper": tr("{size} taper"),
    "metric": "{size}",
}
"""What an end of each kind is called in the shop, with the place of its size."""


@dataclass(frozen=True, order=True)
class End:
    """One end of a part: kind, size ("1/8", "M10x1.0", "-4", a flange's name) and gender."""

    kind: EndKind
    size: str
    gender: Gender = ""

    @property
    def _words(self) -> str:
        if self.kind == "UNF":
            return next((n for n in THREADS if n.startswith(f"{self.size} UN")), self.size)
        form = NAMES.get(self.kind)
        return form.format(size=self.size) if form else f"{self.size} {self.kind}"

    @property
    def text(self) -> str:
        """What it is called in the shop."""
        return self._words if not self.gender else tr(GENDERED[self.gender]).format(end=self._words)

    @property
    def brief(self) -> str:
        """The same in as few letters as a drawing has room for."""
        return self._words if not self.gender else tr(BRIEFLY[self.gender]).format(end=self._words)

    @property
    def code(self) -> str:
        """How it is written in data files: kind|size|gender."""
        return "|".join((self.kind, self.size, self.gender))


def end_from(code: str) -> End:
    """Return an end from its code in a data file.

    Raises: ValueError if it is none.

    >>> end_from("NPT|1/8|male").text
    '1/8 NPT, male'
    """
    kind, _, rest = code.partition("|")
    size, _, gender = rest.partition("|")
    if kind not in STANDARD or gender not in ("male", "female", "") or not size:
        raise ValueError(f"'{code}' is not KIND|SIZE|GENDER with one of {', '.join(STANDARD)}")
    return End(kind, size, gender)  # type: ignore[arg-type]


def end_of_thread(name: str, gender: Gender) -> End:
    """Return the end that a plan's thread name stands for.

    Raises: KeyError for an unknown name.

    >>> end_of_thread("-10 flare 7/8-14", "male").code
    '37 flare|-10|male'
    """
    thread = THREADS[name]
    if name.endswith((" UNF", " UN")):
        return End("UNF", name.split(maxsplit=1)[0], gender)
    for kind in ("NPTF", "NPT", "BSPT", "BSPP"):
        if name.endswith(f" {kind}"):
            return End(kind, name.removesuffix(f" {kind}"), gender)
    if "flare" in name:
        return End("37 flare", name.split(maxsplit=1)[0], gender)
    if thread.tapered:
        return End("metric taper", name.removesuffix(" taper"), gender)
    return End("metric", name, gender)


_NAMED: dict[str, str] = {
    **{kind: f"{{}} {kind}" for kind in ("NPT", "NPTF", "BSPT", "BSPP", "UNF")},
    **dict.fromkeys(("metric", "banjo", "metric cone", "metric boss"), "{}"),
    "BSP cone": "{} BSPP",
    "metric taper": "{} taper",
}
"""The thread of an end by its kind, with its size in it; unified threads of other series than UNF end in UN."""


@lru_cache(maxsize=512)
def thread_of(end: End) -> Thread | None:
    """Return the thread of an end; None for ends without one.

    Raises: KeyError for a size the kind does not have.
    """
    named = _NAMED.get(end.kind)
    if named is not None:
        name = named.format(end.size)
        return THREADS[name if name in THREADS else name.removesuffix("F")]
    table = {
        "37 flare": FLARE_37,
        "O-ring boss": FLARE_37,
        "45 flare": FLARE_45,
        "inverted flare": INVERTED,
    }.get(end.kind)
    if table is None:
        return None
    major, per_inch = table[int(end.size.removeprefix("-"))]
    return Thread(end.text, STANDARD[end.kind], major * INCH_MM, INCH_MM / per_inch, 60.0, False)


SEAL: dict[str, str] = {
    "NPT": tr(
        "liquid sealant or tape on the taper thread; tape clear of the first two threads: shreds end up in the orifice"
    ),
    "NPTF": tr("made to seal dry, once; for hot oil liquid sealant, no tape"),
    "BSPT": tr("liquid sealant or tape on the taper thread; tape clear of the first two threads"),
    "metric taper": tr("liquid sealant or tape on the taper thread"),
    "BSPP": tr("a bonded washer on the face; no tape"),
    "metric": tr("a crush washer on the face; no tape"),
    "BSP cone": tr("nothing: the 60° cone seals; oil it, no tape"),
    "metric cone": tr("its cutting ring or O-ring on the 24° cone; no tape"),
    "metric boss": tr("its O-ring, oiled; no tape"),
    "UNF": tr("a crush washer on the face; no tape"),
    "37 flare": tr("nothing: the cone seals; oil it, no tape, no sealant"),
    "45 flare": tr("nothing: the cone seals; no tape, no sealant"),
    "inverted flare": tr("nothing: the flare seals; no tape"),
    "O-ring boss": tr("its O-ring, oiled; no tape"),
    "banjo": tr("two crush washers, one each side; no tape"),
    "barb": tr("a hose clamp behind the bead"),
    "hose": tr("nothing: the cutter grips; oil it"),
    "PTFE hose": tr("nothing: the ferrule (olive) grips the bared tube; a new one every time"),
    "plain hose": tr("nothing: the barb grips; a clamp where the barb is a plain one"),
    "crimp": tr("the ferrule, pressed once for good"),
    "PTFE crimp": tr("the ferrule, pressed once for good"),
    "flange": tr("a new gasket"),
    "weld": tr("a weld by a qualified welder"),
    "wall": tr("a weld by a qualified welder"),
    "hole": tr("a sealing washer each side of the wall"),
}
"""What seals a joint of two ends of one kind; common practice, no source."""
TIGHTEN: dict[str, str] = {
    "taper": tr("hand-tight, then 1.5 to 2.5 turns; in aluminium stop early"),
    "flare": tr("snug, then a sixth of a turn; aluminium: snug only"),
    "washer": tr("snug by the maker's torque; aluminium strips"),
    "ring": tr("to the stop, snug"),
    "clamp": tr("until the hose just bulges"),
    "crimp": tr("by a hose shop's press, to the gauge of its end"),
    "hose": tr("socket to the shoulder, nipple to a 1 mm gap"),
    "push": tr("by hand to the collar, oiled"),
    "flange": tr("evenly, by the maker's torque"),
    "none": tr("no torque"),
}
"""Advice by class; common practice, no source: the maker's figure overrides it."""
_CLASS: dict[str, str] = {
    "NPT": "taper",
    "NPTF": "taper",
    "BSPT": "taper",
    "metric taper": "taper",
    "BSP cone": "flare",
    "metric cone": "flare",
    "metric boss": "ring",
    "UNF": "washer",
    "crimp": "crimp",
    "PTFE crimp": "crimp",
    "BSPP": "washer",
    "metric": "washer",
    "37 flare": "flare",
    "45 flare": "flare",
    "inverted flare": "flare",
    "O-ring boss": "ring",
    "banjo": "washer",
    "barb": "clamp",
    "hose": "hose",
    "PTFE hose": "hose",
    "plain hose": "push",
    "flange": "flange",
    "weld": "none",
    "wall": "none",
    "hole": "washer",
}


@dataclass(frozen=True)
class Fit:
    """What becomes of two ends: outcome, why, what seals it, how to tighten it."""

    outcome: Outcome
    why: str
    seal: str = ""
    tighten: str = ""


CONES = {"37 flare": 37, "45 flare": 45}


@lru_cache(maxsize=4096)
def fit(one: End, other: End) -> Fit:
    """Return what becomes of two ends put together; the order does not matter.

    Raises: KeyError for a size a kind does not have.

    >>> fit(End("NPT", "1/8", "male"), End("BSPT", "1/8", "female")).outcome
    'leaks'
    """
    male, female = (one, other) if one.gender != "female" else (other, one)
    if male.kind == female.kind and male.size == female.size and _genders_meet(male, female):
        kind = male.kind
        return Fit(
            "seals",
            tr("{male} in {female}: made for each other").format(male=male.text, female=female.text),
            SEAL[kind],
            TIGHTEN[_CLASS[kind]],
        )
    special = _special(male, female) or _special(female, male)
    if special is not None:
        return special
    if thread_of(one) is None or thread_of(other) is None:
        return Fit(
            "no fit", tr("{one} and {other} have nothing in common").format(one=one.text, other=other.text)
        )
    if one.gender == other.gender:
        return Fit(
            "no fit",
            tr("both are {gender}: an adapter is missing between {one} and {other}").format(
                gender=one.gender, one=one.text, other=other.text
            ),
        )
    return _threaded(male, female)


def _genders_meet(a: End, b: End) -> bool:
    if a.kind in ("weld", "wall"):
        return False  # two bungs are no joint: a bung needs a wall
    if a.kind in ("flange", "hole"):
        return True
    return {a.gender, b.gender} == {"male", "female"}


_HOSES = ("hose", "PTFE hose", "plain hose")
ON_HOSE = {
    "hose": tr("an end for braided rubber"),
    "PTFE hose": tr("an end for PTFE"),
    "plain hose": tr("a push-on end"),
    "barb": tr("a barb with a clamp"),
    "crimp": tr("a crimped end for braided rubber"),
    "PTFE crimp": tr("a crimped end for PTFE"),
}
"""Makes of hose, and what is put into them: each grips its own make only."""
_MADE: dict[tuple[str, str], tuple[str, str]] = {
    ("barb", "plain hose"): (tr("{female} pushed on {male}"), "clamp"),
    ("NPTF", "NPT"): (tr("{male} in {female}: one taper, sealed as NPT"), "taper"),
    ("NPT", "NPTF"): (tr("{male} in {female}: one taper, sealed as NPT"), "taper"),
    ("crimp", "hose"): (tr("{male} pressed on {female}"), "crimp"),
    ("PTFE crimp", "PTFE hose"): (tr("{male} pressed on {female}"), "crimp"),
    ("BSPT", "BSPP"): (tr("taper {male} in parallel {female}: a common joint"), "taper"),
    ("metric taper", "metric"): (tr("taper {male} in parallel {female}: made for it"), "taper"),
}
"""Different kinds of one size that are made for each other: what is said, and how it is tightened."""


_GRIPS: tuple[tuple[EndKind, EndKind], ...] = (
    ("barb", "plain hose"),
    ("crimp", "hose"),
    ("PTFE crimp", "PTFE hose"),
)
"""Ends that hold in one make of hose beside the make's own."""


def _special(a: End, b: End) -> Fit | None:
    """Pairs of different kinds that are made for each other, or look so."""
    if a.kind in ("weld", "wall") and b.kind in ("weld", "wall"):
        welded = Fit(
            "seals", tr("{one} to {other}").format(one=a.text, other=b.text), SEAL["weld"], TIGHTEN["none"]
        )
        return (
            welded
            if a.kind != b.kind
            else Fit("no fit", tr("two of a kind are no joint: a bung needs a wall"))
        )
    return _of_two_kinds(a, b)


def _of_two_kinds(a: End, b: End) -> Fit | None:
    if a.kind == "banjo" and b == end_of_thread(a.size, "female"):
        return Fit(
            "seals",
            tr("{male} in {female}").format(male=a.text, female=b.text),
            SEAL["banjo"],
            TIGHTEN["washer"],
        )
    if a.size != b.size or {a.gender, b.gender} != {"male", "female"}:
        return None
    made = _MADE.get((a.kind, b.kind))
    if made is not None and a.gender == "male":
        return Fit("seals", made[0].format(male=a.text, female=b.text), SEAL[a.kind], TIGHTEN[made[1]])
    if a.gender == "male" and a.kind in ON_HOSE and b.kind in _HOSES:
        return Fit(
            "leaks",
            tr("{on_hose} does not hold in {text}: it blows off, hot").format(
                on_hose=ON_HOSE[a.kind], text=b.text
            ),
        )
    if (a.kind, b.kind) == ("BSPP", "BSPT") and a.gender == "male":
        return Fit(
            "leaks",
            tr("parallel {male} in taper {female} has nothing to seal on").format(male=a.text, female=b.text),
        )
    return None


def _threaded(male: End, female: End) -> Fit:
    one, two = thread_of(male), thread_of(female)
    if one is None or two is None:
        return Fit(
            "no fit",
            tr("{one} and {other} have nothing in common").format(one=male.text, other=female.text),
        )
    if not starts_with(one, two) and not goes_in_loose(one, two):
        return Fit(
            "no fit", tr("{male} does not start in {female}").format(male=male.text, female=female.text)
        )
    same_thread = abs(one.major_mm - two.major_mm) < 0.02 and abs(one.pitch_mm - two.pitch_mm) < 0.002
    if same_thread and male.kind in CONES and female.kind in CONES:
        return Fit(
            "leaks",
            tr(
                "{male} and {female} share their thread and screw together, but the cones are {male_deg}° and {female_deg}°: they touch on a line and weep"
            ).format(
                male=male.text, female=female.text, male_deg=CONES[male.kind], female_deg=CONES[female.kind]
            ),
        )
    return Fit(
        "leaks",
        tr("{male} in {female}: {why}").format(
            male=male.text, female=female.text, why=why_it_leaks(one, two)
        ),
    )


@lru_cache(maxsize=1024)
def mates(end: End) -> tuple[End, ...]:
    """Return the ends that seal with an end, without looking at any part: for searching."""
    if end.kind in ("flange", "hole"):
        return (end,)
    if end.kind in ("weld", "wall"):
        return (End("wall" if end.kind == "weld" else "weld", end.size),)
    turned: Gender = "female" if end.gender == "male" else "male"
    grips = [End(kind, end.size, "female") for grip, kind in _GRIPS if end.kind == grip]
    return tuple(grips or [replace(end, gender=turned), *_other_kinds(end, turned)])


def _other_kinds(end: End, turned: Gender) -> list[End]:
    """Ends of other kinds that seal with one: tapers in parallel holes, banjos, what grips a hose."""
    found: list[End] = []
    if end.kind in ("NPT", "NPTF"):
        return [End("NPTF" if end.kind == "NPT" else "NPT", end.size, turned)]
    if end.gender == "female":
        thread = thread_of(end)
        if thread is not None and end.kind in ("metric", "UNF", "BSPP"):
            found.append(End("banjo", thread.name, "male"))
        if end.kind == "metric" and f"{end.size} taper" in THREADS:
            found.append(End("metric taper", end.size, "male"))
        if end.kind == "BSPP":
            found.append(End("BSPT", end.size, "male"))
        return found + [End(grip, end.size, "male") for grip, kind in _GRIPS if end.kind == kind]
    if end.kind == "banjo":
        return [end_of_thread(end.size, "female")]
    parallel: dict[str, EndKind] = {"BSPT": "BSPP", "metric taper": "metric"}
    if end.kind in parallel:
        found.append(End(parallel[end.kind], end.size, "female"))
    return found
