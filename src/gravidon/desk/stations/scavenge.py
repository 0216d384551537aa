# SPDX-License-Identifier: GPL-3.0-or-later
"""The scavenge side: pump, pot, valve and wiring, and gravity against pump."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QKeyEvent, QPainter
from PyQt6.QtWidgets import QCheckBox, QHBoxLayout, QLabel, QWidget

from gravidon.desk.box import Box
from gravidon.desk.canvas import Canvas
from gravidon.desk.picture_fields import Fold, PictureFields, Spot
from gravidon.desk.stations.base import FieldGrid, Station
from gravidon.draw import scavenge_chart
from gravidon.physics.scavenge import WIRE_AMPS
from gravidon.plan.units import show
from gravidon.study.solve.scavenging import pump_chart
from gravidon.study.verdict.drain_choice import WAYS, DrainWay, both_ways
from gravidon.translate import commas
from gravidon.words.text import tr

UNDER = 64
"""[px] under the charts, where their figures are typed."""


class ScavengeCanvas(Canvas):
    """Both ways as cards above; pump chart and circuit below. A click on a card takes that way."""

    station: ScavengeStation

    def _parts(self) -> tuple[QRectF, QRectF, QRectF]:
        a = self.area
        cards = QRectF(a.left(), a.top() + 2, a.width(), 84)
        lower = a.adjusted(0, 96, 0, -UNDER)
        half = 0.5 * lower.width()
        return (
            cards,
            QRectF(lower.left(), lower.top(), half - 8, lower.height()),
            QRectF(lower.left() + half + 8, lower.top(), half - 8, lower.height()),
        )

    def paint(self, painter: QPainter) -> None:
        """Draw the three parts."""
        s, it = self.station.session, self.station
        e = s.evaluation
        cards, pump, circuit = self._parts()
        ink = self.ink(painter)
        scavenge_chart.paint_ways(ink, cards, it.ways, s.line.drain_by, len(e.names))
        chart = pump_chart(s.plan, s.line, e.drainage.froth, e.scavenging.volts, s.condition)
        scavenge_chart.paint_pump(ink, pump, e, chart, s.condition)
        scavenge_chart.paint_circuit(ink, circuit, e)

    def under(self, part: int, share: float) -> QPointF:
        """A place under the pump's chart (1) or the circuit (2), at a share of its width."""
        rect = self._parts()[part]
        return QPointF(rect.left() + 30 + share * (rect.width() - 60), rect.bottom() + 8)

    def filled(self) -> list[QRectF]:
        """Cards and charts."""
        return list(self._parts())

    def clicked(self, at: QPointF) -> None:
        """Take a way."""
        for k, way in enumerate(WAYS):
            if scavenge_chart.card_rect(self._parts()[0], k).contains(at):
                self.station.use(way)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Left takes gravity, right the pump."""
        key = Qt.Key(event.key()) if event is not None else Qt.Key.Key_unknown
        if key in (Qt.Key.Key_Left, Qt.Key.Key_Right):
            self.station.use(WAYS[0 if key == Qt.Key.Key_Left else 1])
        else:
            super().keyPressEvent(event)


class ScavengeStation(Station):
    """Bring the oil home where gravity cannot."""

    key = "scavenge"
    question = tr("Would a pump do better than gravity, and does it get its volts? Click the way to use.")
    ways: tuple[DrainWay, DrainWay]

    def build(self) -> None:
        """Drawing, key-off in words, the figures."""
        self._made_for: object = None
        self.ways = both_ways(self.session.evaluation)
        self._made_for = self.session.evaluation
        self.canvas = ScavengeCanvas(self, tr("Gravity against pump, pump chart, circuit"), (380, 340))
        self.column.addWidget(self.canvas, 1)
        self.words = QLabel()
        self.words.setWordWrap(True)
        self.column.addWidget(self.words)
        canvas, scavenge = self.canvas, "line.scavenge."
        self.canvas.fields = PictureFields(
            canvas,
            (
                Spot(f"{scavenge}stall_kpa", tr("stall pressure"), lambda: canvas.under(1, 0.0)),
                Spot(f"{scavenge}free_l_min", tr("delivery, no pressure"), lambda: canvas.under(1, 0.72)),
                Spot(f"{scavenge}supply_v", tr("at the battery"), lambda: canvas.under(2, -0.08)),
                Spot(f"{scavenge}fuse_a", tr("fuse"), lambda: canvas.under(2, 0.2)),
                Spot(f"{scavenge}wire_mm", tr("wire, one way"), lambda: canvas.under(2, 0.48)),
                Spot(f"{scavenge}current_a", tr("pump takes"), lambda: canvas.under(2, 0.76)),
            ),
        )
        body = QWidget()
        grid = FieldGrid(self.session, 3)
        grid.setContentsMargins(0, 0, 0, 0)
        body.setLayout(grid)
        for path, label in (
            ("rated_v", tr("Pump made for")),
            ("pot_ml", tr("Pot volume")),
            ("run_on_s", tr("Runs on after key-off")),
            ("hose_bore_mm", tr("Hose bore or dash")),
            ("hose_mm", tr("Hose length")),
            ("return_z_mm", tr("Return, from the rail")),
            ("valve_kpa", tr("One-way valve opens at")),
            ("pump_above_pot_mm", tr("Pump above the pot")),
            ("self_priming_mm", tr("Primes itself from")),
        ):
            grid.add_value(f"{scavenge}{path}", label, dash=path == "hose_bore_mm")
        self.fold = Fold(self.session, tr("Pot, hose, valve and heights"), body)
        row = QHBoxLayout()
        row.setSpacing(14)
        row.addWidget(QLabel(tr("Wire")))
        self.gauge = Box()
        self.gauge.addItems([f"{g} AWG" for g in sorted(WIRE_AMPS, reverse=True)])
        self.gauge.setAccessibleName(tr("Wire gauge"))
        self.gauge.textActivated.connect(
            lambda words: self.session.edit(
                "line.scavenge.gauge_awg", int(words.split()[0]), tr("wire gauge")
            )
        )
        row.addWidget(self.gauge)
        self.ticks: dict[str, QCheckBox] = {}
        for key, words in (
            ("valve", tr("One-way valve")),
            ("relay", tr("Relay")),
            ("runs_dry", tr("Pump may run dry")),
        ):
            box = QCheckBox(words)
            box.clicked.connect(
                lambda on, k=key, w=words: self.session.edit(f"line.scavenge.{k}", bool(on), w.lower())
            )
            row.addWidget(box)
            self.ticks[key] = box
        row.addStretch(1)
        self.column.addLayout(row)
        self.column.addWidget(self.fold)

    def use(self, way: str) -> None:
        """Drain this turbo another way."""
        if self.session.line.drain_by != way:
            self.session.edit("line.drain_by", way, tr("drain by {way}").format(way=way))

    def refresh(self) -> None:
        """Redraw; both ways are evaluated anew when the plan has changed."""
        s = self.session
        if self._made_for is not s.evaluation:
            self.ways, self._made_for = both_ways(s.evaluation), s.evaluation
        it, made = s.line.scavenge, s.evaluation.scavenging
        for key, box in self.ticks.items():
            box.setChecked(bool(getattr(it, key)))
        self.gauge.blockSignals(True)
        self.gauge.setCurrentText(f"{it.gauge_awg} AWG")
        self.gauge.blockSignals(False)
        took = made.pot_m3 + made.pumped_m3
        left = made.left_over_m3
        after = tr(
            "After key-off {comes_down_m3} come down; pot and {run_on:g} s of run-on take {took}"
        ).format(
            comes_down_m3=show(made.comes_down_m3, "ml", s.family),
            run_on=it.run_on_s.value,
            took=show(took, "ml", s.family),
        ) + (tr(": {left} find no room.").format(left=show(left, "ml", s.family)) if left > 1e-7 else ".")
        most = int(made.duty_m3_s.argmax())
        duty = tr("It must take {amount} of froth ({margin:g} times what comes in {names}).").format(
            amount=show(float(made.duty_m3_s[most]), "l_min", s.family),
            margin=s.plan.needs.pump_margin.value,
            names=s.evaluation.names[most],
        )
        weak = [n for n, w in zip(s.evaluation.names, made.short_of_duty, strict=True) if w]
        keeps = (
            tr("It takes {takes} there: too weak in {conditions}.").format(
                takes=show(float(made.delivery_m3_s[most]), "l_min", s.family), conditions=commas(weak)
            )
            if weak
            else tr("The pump takes it in every condition.")
        )
        self.words.setText(f"{duty} {keeps} {after}")
        self.fold.refresh()
        self.canvas.lay_fields()
        self.canvas.setAccessibleDescription(self.headline())
        self.canvas.update()
