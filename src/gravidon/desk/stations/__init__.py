"""The stations, in the order of the oil's path. Adding one means its module and a row here; it is loaded when first shown."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from importlib import import_module
from typing import TYPE_CHECKING

from gravidon.desk.session import Session
from gravidon.desk.stations import headlines

if TYPE_CHECKING:
    from gravidon.desk.stations.base import Station


@dataclass(frozen=True)
class Entry:
    """A station as the rail knows it: key, name, module and class, page of the handbook, and its headline."""

    key: str
    name: str
    module: str
    class_name: str
    help_page: str
    headline: Callable[[Session], str]

    def make(self, session: Session) -> Station:
        """Load the station's module and make it."""
        module = import_module(f"{__name__}.{self.module}")
        made: Station = getattr(module, self.class_name)(session)
        return made


STATIONS: tuple[Entry, ...] = (
    Entry("car", "Car & turbo", "car", "CarStation", "car", headlines.car),
    Entry("tap", "Tap", "tap", "TapStation", "pressure", headlines.tap),
    Entry("feed", "Feed line", "feed", "FeedStation", "pressure", headlines.feed),
    Entry("restrictor", "Restrictor", "restrictor", "RestrictorStation", "pressure", headlines.restrictor),
    Entry("map", "Operating map", "operating_map", "MapStation", "pressure", headlines.operating_map),
    Entry("seat", "Seat", "seat", "SeatStation", "seat", headlines.seat),
    Entry("drain", "Drain run", "drain", "DrainStation", "gravity", headlines.drain),
    Entry("sump", "Sump", "sump", "SumpStation", "entry", headlines.sump),
    Entry("entry", "Pan entry", "entry", "EntryStation", "entry", headlines.entry),
    Entry("breather", "Breather", "breather", "BreatherStation", "breather", headlines.breather),
    Entry("scavenge", "Scavenge", "scavenge", "ScavengeStation", "scavenge", headlines.scavenge),
    Entry("attitude", "Attitude", "attitude", "AttitudeStation", "attitude", headlines.attitude),
    Entry("parts", "Parts", "parts", "PartsStation", "parts", headlines.parts),
    Entry("cutting", "Cut and drill", "cutting", "CuttingStation", "parts", headlines.cutting),
    Entry("build", "Build", "build", "BuildStation", "build", headlines.build),
    Entry("guesses", "Guesses", "guesses", "GuessesStation", "guesses", headlines.guesses),
    Entry("sheet", "Shop sheet", "sheet", "SheetStation", "sheet", headlines.sheet),
)
BY_KEY = {entry.key: entry for entry in STATIONS}
