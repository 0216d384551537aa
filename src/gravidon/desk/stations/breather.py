"""The breather: where blow-by goes, the pressure it leaves in the crankcase, and the hose that holds it down."""

from __future__ import annotations

from typing import get_args

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QKeyEvent, QPainter
from PyQt6.QtWidgets import QCheckBox, QLabel

from gravidon.desk.canvas import Canvas
from gravidon.desk.stations.base import FieldGrid, Station
from gravidon.draw import breather_chart
from gravidon.draw.ink import Ink
from gravidon.parts.dash import HOSE_BORE_IN, hose_bore_mm
from gravidon.plan.model import Breather
from gravidon.plan.units import display_unit, show
from gravidon.study.home.breather_choice import BreatherChoice, breather_choice

SIZES = tuple(d for d in HOSE_BORE_IN if d >= 6)


class BreatherCanvas(Canvas):
    """The scheme at the left, the decision chart at the right: a click takes a hose size."""

    station: BreatherStation

    def _halves(self) -> tuple[QRectF, QRectF]:
        a = self.area
        return QRectF(a.left(), a.top(), 0.47 * a.width(), a.height()), QRectF(
            a.left() + 0.49 * a.width(), a.top(), 0.51 * a.width(), a.height()
        )

    def paint(self, painter: QPainter) -> None:
        """Draw both."""
        s, it = self.station.session, self.station
        left, right = self._halves()
        breather_chart.paint_scheme(Ink(painter, it.colours, s.family), left, s.evaluation, s.condition)
        if s.plan.breather.kind != "typed":
            breather_chart.paint_chart(
                Ink(painter, it.colours, s.family), right, s.evaluation, it.choice, s.condition
            )

    def clicked(self, at: QPointF) -> None:
        """Take the nearest dash size."""
        s = self.station.session
        axes = breather_chart.chart_axes(self._halves()[1], self.station.choice, s.family)
        if s.plan.breather.kind != "typed" and axes.rect.adjusted(-6, -6, 6, 24).contains(at):
            bore = display_unit("bore", s.family).to_si(axes.x_back(at.x())) * 1e3
            self.station.take(min(SIZES, key=lambda d: abs(np.log(hose_bore_mm(d) / bore))))

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Left and right take the next dash size down or up."""
        step = (
            {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}.get(Qt.Key(event.key()), 0) if event is not None else 0
        )
        if not step:
            super().keyPressEvent(event)
            return
        now = self.station.session.plan.breather.hose_bore_mm
        k = int(np.argmin([abs(hose_bore_mm(d) - now) for d in SIZES]))
        self.station.take(SIZES[min(max(k + step, 0), len(SIZES) - 1)])


class BreatherStation(Station):
    """Keep the crankcase near atmospheric, so that it does not stand on the drain."""

    key = "breather"
    question = "Does blow-by get out without standing on the drain? Click a hose size on the chart."
    choice: BreatherChoice

    def build(self) -> None:
        """Scheme and chart above, what they mean in words, the figures."""
        self.choice = breather_choice(self.session.plan)
        self._made_for: object = self.session.plan
        self.canvas = BreatherCanvas(self, "Breather: scheme and decision chart")
        self.column.addWidget(self.canvas, 1)
        self.words = QLabel()
        self.words.setWordWrap(True)
        self.column.addWidget(self.words)
        grid = FieldGrid(self.session, 3)
        grid.add_choice(
            "breather.kind", list(get_args(Breather.model_fields["kind"].annotation)), "Gas leaves by"
        )
        grid.add_value("breather.blow_by_l_min", "Blow-by at full load")
        grid.add_value("needs.crankcase_max_kpa", "Most crankcase pressure")
        grid.add_value("needs.vacuum_max_kpa", "Most crankcase vacuum")
        grid.add_value("breather.hose_bore_mm", "Can hose bore or dash", dash=True)
        grid.add_value("breather.hose_mm", "Can hose length")
        grid.add_value("breather.orifice_mm", "Smallest hole (0: none)")
        grid.add_value("breather.valve_kpa", "Valve opens at")
        grid.add_value("breather.valve_bore_mm", "Valve bore")
        self.one_way = QCheckBox("A real one-way valve")
        self.one_way.clicked.connect(
            lambda on: self.session.edit("breather.one_way", bool(on), "one-way valve")
        )
        grid.add_row("Valve to the intake", self.one_way)
        self.column.addLayout(grid)

    def take(self, size: int) -> None:
        """Run a hose of another dash size."""
        self.session.edit("breather.hose_bore_mm", round(hose_bore_mm(size), 2), f"a -{size} breather hose")

    def refresh(self) -> None:
        """Redraw; the chart is made anew when the plan has changed."""
        s = self.session
        if self._made_for is not s.plan:
            self.choice, self._made_for = breather_choice(s.plan), s.plan
        b = s.plan.breather
        self.one_way.setChecked(b.one_way)
        self.one_way.setEnabled(b.kind in ("valve to intake", "can and valve"))
        e = s.evaluation
        idle = [
            k
            for k, c in enumerate(s.plan.conditions)
            if c.kind.turning and c.kind.warm and not c.kind.driving
        ]
        over = [k for k, c in enumerate(s.plan.conditions) if c.kind.driving and c.intake_kpa < -50]
        parts = []
        for name, rows in (("At idle", idle), ("On overrun", over)):
            if rows:
                gap = max(float(e.drainage.gas_difference_pa[k]) for k in rows)
                side = "above" if gap >= 0 else "below"
                parts.append(
                    f"{name} the crankcase stands {show(abs(gap), 'kpa_small', s.family)} {side} the wheels' side."
                )
        parts.append("Boost holds oil in; only where oil fills the drain does crankcase pressure lift it.")
        self.words.setText(" ".join(parts))
        self.canvas.setAccessibleDescription(self.headline())
        self.canvas.update()
