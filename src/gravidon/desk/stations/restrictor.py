# SPDX-License-Identifier: GPL-3.0-or-later
"""The restrictor station: a decision chart one chooses on."""

from __future__ import annotations

import math
from collections.abc import Hashable
from functools import partial

from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter
from PyQt6.QtWidgets import QCheckBox, QHBoxLayout, QLabel, QSizePolicy, QToolButton

from gravidon.desk.canvas import Canvas
from gravidon.desk.stations.base import Station
from gravidon.desk.value_field import ValueField
from gravidon.draw import restrictor_chart
from gravidon.draw.ink import Ink
from gravidon.parts.drills import DRILLS, Drill
from gravidon.plan.fields import spec
from gravidon.plan.model import Restrictor
from gravidon.plan.units import display_unit, show
from gravidon.study.solve.assemble import gauge_pressure
from gravidon.study.supply.house_rules import applied, house_rules
from gravidon.study.supply.restrictor_choice import RestrictorChoice, choose
from gravidon.translate import either
from gravidon.words.text import tr, verdict_said

BORES = spec(Restrictor, "bore_mm")
METRIC = tuple(d for d in DRILLS if d.metric and BORES.low <= d.diameter_mm <= BORES.high)


class ChartCanvas(Canvas):
    """The chart: click or drag to choose, arrow keys step through the drills."""

    station: RestrictorStation

    def __init__(self, station: RestrictorStation) -> None:
        super().__init__(station, tr("Restrictor chart: inlet pressure and flow over bore"), (420, 300))
        self.hover: float | None = None
        self.held = False
        self.setCursor(Qt.CursorShape.CrossCursor)

    def bore_at(self, at: QPointF) -> float:
        """Return the bore [m] under a pixel."""
        where = restrictor_chart.layout(self.area, self.station.choice, self.station.session.family)
        return where.bore_at(at.x())

    def ground_key(self) -> Hashable | None:
        """Window, axes, curves and drills stay while a bore is dragged."""
        session = self.station.session
        return (id(self.station.choice), session.condition, session.family)

    def paint_ground(self, painter: QPainter) -> None:
        """Draw what stays."""
        session = self.station.session
        restrictor_chart.paint_ground(
            Ink(painter, self.station.colours, session.family),
            self.area,
            session.evaluation,
            self.station.choice,
            session.condition,
        )

    def paint(self, painter: QPainter) -> None:
        """Draw the bore as chosen and the one under the mouse."""
        session = self.station.session
        restrictor_chart.paint_marks(
            Ink(painter, self.station.colours, session.family),
            self.area,
            session.evaluation,
            self.station.choice,
            session.condition,
            self.hover,
        )

    def clicked(self, at: QPointF) -> None:
        """Choose the drill nearest the click."""
        self.held = True
        self.station.pick(self.bore_at(at), "drag")

    def hovered(self, at: QPointF | None) -> None:
        """Read the curves; with the button down, keep choosing."""
        self.hover = None if at is None else self.bore_at(at)
        if self.held and self.hover is not None:
            self.station.pick(self.hover, "drag")
        self.update()

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        """The choice is one step of the history."""
        self.held = False
        self.station.session.end_merge()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Arrows step through the metric drills."""
        if event is None:
            return
        step = {
            Qt.Key.Key_Left: -1,
            Qt.Key.Key_Down: -1,
            Qt.Key.Key_Right: 1,
            Qt.Key.Key_Up: 1,
        }.get(Qt.Key(event.key()), 0)
        if step:
            self.station.step(step)
        else:
            super().keyPressEvent(event)


class RestrictorStation(Station):
    """Choose the hole that meters the feed."""

    key = "restrictor"
    question = tr(
        "Which hole keeps the bearing inside its window in every condition? Click the chart to choose a drill."
    )
    choice: RestrictorChoice

    def build(self) -> None:
        """Make the chart and the strip of fields under it."""
        self._chosen_for: object = None
        self.choice = choose(self.session.plan, self.session.turbo)
        self.canvas = ChartCanvas(self)
        self.column.addWidget(self.canvas, 1)
        self.answer = QLabel()
        self.answer.setWordWrap(True)
        self.column.addWidget(self.answer)
        strip = QHBoxLayout()
        strip.setSpacing(8)
        self.fitted = QCheckBox(tr("Fitted"))
        self.fitted.setToolTip(tr("Whether a restrictor is fitted at the inlet"))
        self.fitted.clicked.connect(
            lambda on: self.session.edit("line.restrictor.fitted", bool(on), tr("restrictor fitted"))
        )
        strip.addWidget(self.fitted)
        for path, label in (
            ("line.restrictor.bore_mm", tr("Bore")),
            ("line.restrictor.tolerance_mm", "±"),
            ("line.restrictor.length_mm", tr("Length")),
        ):
            strip.addSpacing(4)
            text = QLabel(label)
            field = ValueField(self.session, path)
            field.setFixedWidth(76)
            text.setBuddy(field)
            strip.addWidget(text)
            strip.addWidget(field)
        strip.addStretch(1)
        self.flange = QCheckBox(tr("Flange hole"))
        self.flange.setToolTip(tr("A second hole, in the inlet flange, as many kits have it"))
        self.flange.clicked.connect(
            lambda on: self.session.edit("line.flange_hole.fitted", bool(on), tr("hole in the flange"))
        )
        strip.addWidget(self.flange)
        flange_bore = ValueField(self.session, "line.flange_hole.bore_mm")
        flange_bore.setFixedWidth(76)
        strip.addWidget(flange_bore)
        self.column.addLayout(strip)
        rules = QHBoxLayout()
        rules.setSpacing(6)
        rules.addWidget(QLabel(tr("House rules")))
        self.rules = [QToolButton() for _ in range(3)]
        for k, button in enumerate(self.rules):
            button.setCheckable(True)
            button.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Preferred)
            button.setMinimumWidth(130)
            button.clicked.connect(partial(self.take_rule, k))
            rules.addWidget(button, 1)
        self.column.addLayout(rules)

    def follow(self) -> None:
        """Only the drawing under the hand."""
        self.canvas.update()

    def refresh(self) -> None:
        """Recompute the chart if the plan changed in anything but the bore, and redraw."""
        plan = self.session.plan
        key = (
            self.session.turbo,
            plan.oil,
            plan.engine,
            plan.tap,
            plan.taps,
            plan.trunk,
            plan.conditions,
            *self._lines(),
        )
        if key != self._chosen_for:
            self._chosen_for = key
            self.choice = choose(plan, self.session.turbo)
            self.rules_known = house_rules(plan, self.session.turbo, self.choice)
        self.fitted.setChecked(self.session.line.restrictor.fitted)
        self.flange.setChecked(self.session.line.flange_hole.fitted)
        self._show_rules()
        self.answer.setText(f"{self._pressures()} {self._sentence()}")
        self.canvas.setAccessibleDescription(self._sentence())
        self.canvas.update()

    def _lines(self) -> list[object]:
        """What the chart depends on of each turbo: all but the chosen one's own bore, and no drain."""
        rows: list[object] = []
        for k, line in enumerate(self.session.plan.turbos):
            own = line.restrictor.length_mm if k == self.session.turbo else line.restrictor
            rows.append((line.turbo, line.feed, own, line.flange_hole))
        return rows

    def _pressures(self) -> str:
        """What the bearing has, and what a gauge at the inlet port would read, in the chosen condition."""
        s = self.session
        feed = s.evaluation.feed
        bearing, port = (
            show(float(p[s.condition]), "kpa", s.family)
            for p in (feed.inlet_pressure_pa, gauge_pressure(s.line, feed))
        )
        name = s.evaluation.names[s.condition]
        if not s.plan.conditions[s.condition].kind.turning:
            return tr("{name}: no pressure.").format(name=name.capitalize())
        if bearing == port:
            return tr("{capitalize}: {bearing} at the bearing.").format(
                capitalize=name.capitalize(), bearing=bearing
            )
        return tr("{capitalize}: {bearing} at the bearing; a gauge before the hole reads {port}.").format(
            capitalize=name.capitalize(), bearing=bearing, port=port
        )

    def _sentence(self) -> str:
        c, family = self.choice, self.session.family
        if c.range_m is None:
            return tr(
                "No bore keeps every condition inside the window; the window, the tap or the line has to change."
            )
        low, high = (show(b, "bore", family) for b in c.range_m)
        wide_open = c.breaks_above is None
        words = (
            tr("From {low} up to the open line every condition passes.").format(low=low)
            if wide_open
            else tr("From {low} to {high} every condition passes.").format(low=low, high=high)
        )
        if c.breaks_below:
            words += tr(" Smaller, {breaks_below} is {breaks_below2} first.").format(
                breaks_below=c.breaks_below[0], breaks_below2=c.breaks_below[1]
            )
        if c.breaks_above:
            words += tr(" Larger, {breaks_above} is {breaks_above2} first.").format(
                breaks_above=c.breaks_above[0], breaks_above2=c.breaks_above[1]
            )
        r = self.session.line.restrictor
        if r.fitted and r.tolerance_mm > 0.0:
            edges = [(r.bore_mm + d) * 1e-3 for d in (-r.tolerance_mm, r.tolerance_mm)]
            inside = c.range_m[0] <= edges[0] and (edges[1] <= c.range_m[1] or wide_open)
            verdict = (
                tr("passes at both ends of its tolerance")
                if inside
                else tr("does not pass over its whole tolerance")
            )
            words += tr(" The chosen hole {verdict} ({smallest} to {largest}).").format(
                verdict=verdict,
                smallest=show(edges[0], "bore", family),
                largest=show(edges[1], "bore", family),
            )
        smallest = {d.name.startswith("#"): d.name for d in reversed(c.drills)}
        if smallest:
            words += tr(" Smallest drills that pass: {listed}.").format(
                listed=either([smallest[k] for k in sorted(smallest)])
            )
        return words

    def _show_rules(self) -> None:
        family, now = self.session.family, self.session.line.restrictor
        for button, rule in zip(self.rules, self.rules_known, strict=False):
            hole = show(rule.bore_mm * 1e-3, "bore", family) if rule.bore_mm else tr("no hole")
            low, high = (show(v, "kpa", family, with_unit=False) for v in (rule.low_pa, rule.high_pa))
            unit = display_unit("kpa", family).symbol
            button.setText(
                tr("{name}: {hole}\n{low} to {high} {unit}, {verdict}").format(
                    name=tr(rule.name),
                    hole=hole,
                    low=low,
                    high=high,
                    unit=unit,
                    verdict=verdict_said("holds" if rule.holds else "fails"),
                )
            )
            button.setToolTip(
                tr("Inlet pressure at speed; hottest oil out {hottest}. Click to use this rule.").format(
                    hottest=show(rule.hottest_k, "degc", family)
                )
            )
            same = rule.bore_mm == now.bore_mm if now.fitted else rule.bore_mm is None
            button.setChecked(same)
        for k, button in enumerate(self.rules):
            button.setVisible(k < len(self.rules_known))

    def take_rule(self, index: int, _clicked: bool = False) -> None:
        """Do as a house rule says."""
        rule = self.rules_known[index]
        self.session.propose(
            applied(self.session.plan, self.session.turbo, rule),
            tr("restrictor: {name}").format(name=tr(rule.name)),
        )
        self.refresh()

    def pick(self, bore_m: float, merge: str) -> None:
        """Choose the drill nearest a bore (by ratio)."""
        millimetres = max(bore_m * 1e3, 0.4)
        self._take(min(METRIC, key=lambda d: abs(math.log(d.diameter_mm / millimetres))), merge)

    def step(self, by: int) -> None:
        """Choose the next drill up or down."""
        now = self.session.line.restrictor.bore_mm
        if by > 0:
            rest = [d for d in METRIC if d.diameter_mm > now + 1e-6]
            drill = rest[0] if rest else METRIC[-1]
        else:
            rest = [d for d in METRIC if d.diameter_mm < now - 1e-6]
            drill = rest[-1] if rest else METRIC[0]
        self._take(drill, "step")

    def _take(self, drill: Drill, merge: str) -> None:
        restrictor = self.session.line.restrictor.model_copy(
            update={"fitted": True, "bore_mm": drill.diameter_mm}
        )
        self.session.edit(
            "line.restrictor",
            restrictor,
            tr("restrictor {name}").format(name=drill.name),
            f"{merge}-restrictor",
        )
