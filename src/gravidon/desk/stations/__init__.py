# SPDX-License-Identifier: GPL-3.0-or-later
"""The stations, in the order of the oil's path. Adding one means its module and a row here; it is loaded when first shown."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from importlib import import_module
from typing import TYPE_CHECKING

from gravidon.desk.session import Session
from gravidon.desk.stations import headlines
from gravidon.words.text import tr

if TYPE_CHECKING:
    from gravidon.desk.stations.base import Station


@dataclass(frozen=True)
class Entry:
    """A station as the rail knows it: key, name, module and class, page of the handbook, headline, chapter, its own key."""

    key: str
    name: str
    module: str
    class_name: str
    help_page: str
    headline: Callable[[Session], str]
    chapter: int = 0
    shortcut: str = ""

    @property
    def also(self) -> str:
        """Other words a builder may look for it by."""
        return ALSO.get(self.key, "")

    def own_grade(self, session: Session) -> int:
        """How its own readings stand, beside the plan's findings: 0 fails, 1 to be watched, 2 holds."""
        graded = headlines.OWN_GRADES.get(self.key)
        return 2 if graded is None else graded(session)

    def make(self, session: Session) -> Station:
        """Load the station's module and make it."""
        module = import_module(f"{__name__}.{self.module}")
        made: Station = getattr(module, self.class_name)(session)
        return made


CHAPTERS = (tr("Plan the way"), tr("Make it"), tr("Run it"))
"""Chapters of the rail, in the order of the work; a station's is its number in here."""

STATIONS: tuple[Entry, ...] = (
    Entry("whole", tr("The whole way"), "whole", "WholeStation", "start", headlines.whole, 0, "F2"),
    Entry("planner", tr("Planner"), "planner", "PlannerStation", "planner", headlines.planner, 0, "F3"),
    Entry("ideas", tr("Ideas"), "ideas", "IdeasStation", "planner", headlines.ideas, 0, "F4"),
    Entry("car", tr("Car & turbo"), "car", "CarStation", "car", headlines.car, 0, "Ctrl+1"),
    Entry("tap", tr("Tap"), "tap", "TapStation", "pressure", headlines.tap, 0, "Ctrl+2"),
    Entry("feed", tr("Feed line"), "feed", "FeedStation", "pressure", headlines.feed, 0, "Ctrl+3"),
    Entry(
        "restrictor",
        tr("Restrictor"),
        "restrictor",
        "RestrictorStation",
        "pressure",
        headlines.restrictor,
        0,
        "Ctrl+4",
    ),
    Entry(
        "map",
        tr("Operating map"),
        "operating_map",
        "MapStation",
        "pressure",
        headlines.operating_map,
        0,
        "Ctrl+5",
    ),
    Entry("seat", tr("Seat"), "seat", "SeatStation", "seat", headlines.seat, 0, "Ctrl+6"),
    Entry("drain", tr("Drain run"), "drain", "DrainStation", "gravity", headlines.drain, 0, "Ctrl+7"),
    Entry("sump", tr("Sump"), "sump", "SumpStation", "entry", headlines.sump, 0, "Ctrl+8"),
    Entry("entry", tr("Pan entry"), "entry", "EntryStation", "entry", headlines.entry, 0, "Ctrl+9"),
    Entry(
        "breather", tr("Breather"), "breather", "BreatherStation", "breather", headlines.breather, 0, "Ctrl+0"
    ),
    Entry("scavenge", tr("Scavenge"), "scavenge", "ScavengeStation", "scavenge", headlines.scavenge, 0),
    Entry("guesses", tr("Guesses"), "guesses", "GuessesStation", "guesses", headlines.guesses, 0),
    Entry("parts", tr("Parts"), "parts", "PartsStation", "parts", headlines.parts, 1),
    Entry("cutting", tr("Cut and drill"), "cutting", "CuttingStation", "parts", headlines.cutting, 1),
    Entry("build", tr("Build"), "build", "BuildStation", "build", headlines.build, 1),
    Entry("sheet", tr("Shop sheet"), "sheet", "SheetStation", "sheet", headlines.sheet, 1),
    Entry("senders", tr("Senders"), "senders", "SendersStation", "first-start", headlines.senders, 2),
    Entry("bench", tr("First start"), "bench", "BenchStation", "first-start", headlines.bench, 2, "F7"),
    Entry("logbook", tr("Logbook"), "logbook", "LogbookStation", "logbook", headlines.logbook, 2, "Ctrl+J"),
    Entry("health", tr("Health"), "health", "HealthStation", "logbook", headlines.health, 2),
    Entry(
        "diagnosis",
        tr("Diagnosis"),
        "diagnosis",
        "DiagnosisStation",
        "diagnosis",
        headlines.diagnosis,
        2,
        "F5",
    ),
    Entry("trainer", tr("Trainer"), "trainer", "TrainerStation", "trainer", headlines.trainer, 2, "Ctrl+T"),
    Entry("attitude", tr("On the road"), "attitude", "AttitudeStation", "attitude", headlines.attitude, 2),
)
"""A station keeps its key for good: others may come between, and no key moves."""
BY_KEY = {entry.key: entry for entry in STATIONS}

ALSO: dict[str, str] = {
    "whole": tr("overview smoke start picture all"),
    "planner": tr(
        "plan make best rank safest cheapest lock padlock why not alternative search optimise freedom"
    ),
    "ideas": tr("compare alternative variant keep version difference beside back earlier"),
    "car": tr("engine oil grade pressure gauge readings bearing journal ball relief viscosity"),
    "tap": tr("source port sender thread compare alternative sandwich plate gallery"),
    "feed": tr("line hose pressure lost screen prime"),
    "restrictor": tr("orifice hole drill compare pill jet"),
    "map": tr("speed temperature rpm"),
    "seat": tr("clock tilt housing rotate smoke seal bolts"),
    "drain": tr("return hose fall slope bend smoke freeboard level"),
    "sump": tr("pan oil level fill baffle windage dipstick"),
    "entry": tr("bung weld tap bulkhead hole wall thread compare"),
    "breather": tr("crankcase blow-by pcv can valve smoke"),
    "scavenge": tr("pump electric pot wire fuse relay"),
    "guesses": tr("uncertain tolerance probability measure sure"),
    "parts": tr("order list buy fittings adapters drawer chain compare price"),
    "cutting": tr("cut length hose template drill hole clamp sleeve"),
    "build": tr("steps sequence order work tick note first start log"),
    "sheet": tr("print pdf paper"),
    "senders": tr("sender sensor gauge calibrate zero volts ratiometric offset"),
    "bench": tr("first start crank prime live logger serial stop pressure fire idle record"),
    "logbook": tr(
        "log diary entries history reading note service maintenance oil change photo recording csv"
    ),
    "health": tr("trend wear clogging screen closing forecast drift worn starve predict"),
    "diagnosis": tr("smoke why cause symptom fault test find trouble leak suspicion"),
    "trainer": tr("learn practise case drill exercise school record"),
    "attitude": tr("corner cornering g drive log replay track launch braking"),
}
"""By a station's key: what builders call it, and what they look for when they need it."""
