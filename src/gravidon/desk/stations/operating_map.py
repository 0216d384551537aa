# SPDX-License-Identifier: GPL-3.0-or-later
"""The operating map: how the feed does between and beyond the conditions."""

from __future__ import annotations

from PyQt6.QtCore import QPointF
from PyQt6.QtGui import QPainter
from PyQt6.QtWidgets import QButtonGroup, QHBoxLayout, QToolButton

from gravidon.desk.canvas import Canvas
from gravidon.desk.stations.base import Station
from gravidon.draw import map_chart
from gravidon.draw.ink import Ink
from gravidon.plan.units import display_unit
from gravidon.study.supply.operating_map import QUANTITIES, OperatingMap, operating_map
from gravidon.words.text import tr


class MapCanvas(Canvas):
    """The map; the mouse reads every value."""

    station: MapStation
    cursor_at: tuple[float, float] | None = None

    def paint(self, painter: QPainter) -> None:
        """Draw the map."""
        s = self.station.session
        map_chart.paint(
            Ink(painter, self.station.colours, s.family),
            self.area,
            s.evaluation,
            self.station.data,
            self.station.quantity,
            s.condition,
            self.cursor_at,
        )

    def hovered(self, at: QPointF | None) -> None:
        """Read the map under the mouse."""
        self.cursor_at = None
        family = self.station.session.family
        axes = map_chart.axes_of(self.area, self.station.data, family)
        if at is not None and axes.rect.contains(at):
            share = (axes.rect.bottom() - at.y()) / axes.rect.height()
            shown = axes.y_low + share * (axes.y_high - axes.y_low)
            self.cursor_at = (axes.x_back(at.x()), display_unit("degc", family).to_si(shown))
        self.update()

    def clicked(self, at: QPointF) -> None:
        """Choose the condition under the mouse."""
        s = self.station.session
        axes = map_chart.axes_of(self.area, self.station.data, s.family)
        heat = display_unit("degc", s.family)
        for k, c in enumerate(s.plan.conditions):
            spot = QPointF(axes.x(c.rpm), axes.y(heat.from_si(c.oil_temperature_c + 273.15)))
            if c.rpm > 0 and (spot - at).manhattanLength() < 14:
                s.choose_condition(k)


class MapStation(Station):
    """Oil temperature over engine speed."""

    key = "map"
    question = tr(
        "How does the bearing fare between the conditions? Move over the map to read it; bold lines are the window's limits."
    )
    data: OperatingMap

    def build(self) -> None:
        """The choice of quantity and the map."""
        self.quantity = "inlet"
        self.data = operating_map(self.session.plan)
        self._made_for: object = None
        bar = QHBoxLayout()
        self.buttons = QButtonGroup(self)
        for key, (words, _) in QUANTITIES.items():
            button = QToolButton()
            button.setText(tr(words).capitalize())
            button.setCheckable(True)
            button.setChecked(key == self.quantity)
            button.clicked.connect(lambda _, k=key: self.show_quantity(k))
            self.buttons.addButton(button)
            bar.addWidget(button)
        bar.addStretch(1)
        self.column.addLayout(bar)
        self.canvas = MapCanvas(self, tr("Operating map: oil temperature over engine speed"))
        self.column.addWidget(self.canvas, 1)

    def show_quantity(self, key: str) -> None:
        """Show another quantity."""
        self.quantity = key
        for button, name in zip(self.buttons.buttons(), QUANTITIES, strict=True):
            button.setChecked(name == key)
        self.canvas.update()

    def refresh(self) -> None:
        """Make the map again if what it rests on changed, and redraw."""
        plan = self.session.plan
        key = (
            plan.oil,
            plan.engine,
            plan.taps,
            plan.tap,
            plan.trunk,
            plan.conditions,
            *((t.turbo, t.feed, t.restrictor, t.flange_hole) for t in plan.turbos),
        )
        if key != self._made_for:
            self._made_for = key
            self.data = operating_map(plan)
        self.canvas.update()
