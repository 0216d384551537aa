"""The stations, in the order of the oil's path. Adding one means adding its class here."""

from __future__ import annotations

from gravidon.desk.stations.base import Station
from gravidon.desk.stations.car import CarStation
from gravidon.desk.stations.drain import DrainStation
from gravidon.desk.stations.ledger import BreatherStation, EntryStation, FeedStation, SeatStation, TapStation
from gravidon.desk.stations.restrictor import RestrictorStation
from gravidon.desk.stations.sheet import SheetStation

STATIONS: tuple[type[Station], ...] = (
    CarStation,
    TapStation,
    FeedStation,
    RestrictorStation,
    SeatStation,
    DrainStation,
    EntryStation,
    BreatherStation,
    SheetStation,
)
