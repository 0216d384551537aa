# SPDX-License-Identifier: GPL-3.0-or-later
"""A form made from a model of the plan: one field for every number it has, its label and unit from the model itself."""

from __future__ import annotations

from collections.abc import Iterable

from pydantic import BaseModel
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QDialog, QDialogButtonBox, QFrame, QLabel, QScrollArea, QVBoxLayout, QWidget

from gravidon.desk.session import Session
from gravidon.desk.stations import STATIONS
from gravidon.desk.stations.base import FieldGrid
from gravidon.desk.value_field import ValueField
from gravidon.plan import paths
from gravidon.plan.fields import spec
from gravidon.study.judge.table import TABLE
from gravidon.words.text import tr


def numbers_of(model: type[BaseModel] | BaseModel) -> tuple[str, ...]:
    """Return the names of a model's numeric fields, in its order."""
    owner = model if isinstance(model, type) else type(model)
    found = []
    for name in owner.model_fields:
        try:
            spec(owner, name)
        except KeyError:
            continue
        found.append(name)
    return tuple(found)


def add_model(grid: FieldGrid, prefix: str, names: Iterable[str] | None = None) -> dict[str, ValueField]:
    """Add a field for every number (or the named ones) of the part of the plan at a path; by their paths."""
    session = grid.session
    model = paths.get(session.plan, session.resolve(prefix))
    return {f"{prefix}.{name}": grid.add_value(f"{prefix}.{name}") for name in names or numbers_of(model)}


def limit_groups(session: Session) -> list[tuple[str, list[str]]]:
    """Return every limit that can be judged against as (station's name, plan paths), in the order of the stations.

    The needs that no quantity names are those of a place on the pan's wall.
    """
    station_of: dict[str, str] = {}
    for q in TABLE:
        told = q.limit if isinstance(q.limit, str) else q.source_path
        if told:
            station_of.setdefault(told, q.station)
    needs = [f"needs.{name}" for name in numbers_of(session.plan.needs)]
    window = [f"line.turbo.window.{name}" for name in numbers_of(session.line.turbo.window)]
    places = {path: "entry" for path in needs if path not in station_of}
    every = {**dict.fromkeys(window, "restrictor"), **station_of, **places}
    return [
        (entry.name, [path for path, key in every.items() if key == entry.key])
        for entry in STATIONS
        if entry.key in every.values()
    ]


class LimitsDialog(QDialog):
    """Every limit the plan is judged against, by the station it belongs to, each to be typed over."""

    def __init__(self, session: Session, parent: QWidget | None = None, at: str = "") -> None:
        super().__init__(parent)
        self.setWindowTitle(tr("Limits"))
        self.resize(560, 620)
        column = QVBoxLayout(self)
        words = QLabel(
            tr(
                "What this plan is judged against. The turbo's and the engine's makers override common practice: type their figure, and mark where it comes from by its context menu."
            )
        )
        words.setWordWrap(True)
        column.addWidget(words)
        body = QWidget()
        grid = FieldGrid(session, 1)
        grid.setColumnStretch(0, 1)
        self.fields: dict[str, ValueField] = {}
        for name, limits in limit_groups(session):
            grid.add_heading(name)
            for path in limits:
                self.fields[path] = grid.add_value(path)
        body.setLayout(grid)
        self.area = QScrollArea()
        self.area.setWidgetResizable(True)
        self.area.setFrameShape(QFrame.Shape.NoFrame)
        self.area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.area.setWidget(body)
        column.addWidget(self.area, 1)
        self.problem = QLabel()
        self.problem.setWordWrap(True)
        column.addWidget(self.problem)
        session.refused.connect(self.problem.setText)
        session.changed.connect(self.problem.clear)
        buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Close)
        buttons.rejected.connect(self.reject)
        column.addWidget(buttons)
        self.at = at

    def showEvent(self, event: object) -> None:
        """Go to the limit that was asked for."""
        field = self.fields.get(self.at)
        if field is not None:
            field.setFocus()
            field.selectAll()
            self.area.ensureWidgetVisible(field, 0, 120)
