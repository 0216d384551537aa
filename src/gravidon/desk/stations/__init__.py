"""The stations, in the order of the oil's path. Adding one means adding its class here."""

from __future__ import annotations

from gravidon.desk.stations.attitude import AttitudeStation
from gravidon.desk.stations.base import Station
from gravidon.desk.stations.breather import BreatherStation
from gravidon.desk.stations.build import BuildStation
from gravidon.desk.stations.car import CarStation
from gravidon.desk.stations.cutting import CuttingStation
from gravidon.desk.stations.drain import DrainStation
from gravidon.desk.stations.entry import EntryStation
from gravidon.desk.stations.feed import FeedStation
from gravidon.desk.stations.guesses import GuessesStation
from gravidon.desk.stations.operating_map import MapStation
from gravidon.desk.stations.parts import PartsStation
from gravidon.desk.stations.restrictor import RestrictorStation
from gravidon.desk.stations.scavenge import ScavengeStation
from gravidon.desk.stations.seat import SeatStation
from gravidon.desk.stations.sheet import SheetStation
from gravidon.desk.stations.sump import SumpStation
from gravidon.desk.stations.tap import TapStation

STATIONS: tuple[type[Station], ...] = (
    CarStation,
    TapStation,
    FeedStation,
    RestrictorStation,
    MapStation,
    SeatStation,
    DrainStation,
    SumpStation,
    EntryStation,
    BreatherStation,
    ScavengeStation,
    AttitudeStation,
    PartsStation,
    CuttingStation,
    BuildStation,
    GuessesStation,
    SheetStation,
)
