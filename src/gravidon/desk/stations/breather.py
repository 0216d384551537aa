# SPDX-License-Identifier: GPL-3.0-or-later
"""The breather: where blow-by goes, the pressure it leaves in the crankcase, and the hose that holds it down."""

from __future__ import annotations

from collections.abc import Callable
from typing import get_args

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QKeyEvent, QPainter
from PyQt6.QtWidgets import QCheckBox, QHBoxLayout, QLabel, QWidget

from gravidon.desk.canvas import Canvas
from gravidon.desk.picture_fields import Fold, PictureFields, Spot
from gravidon.desk.stations.base import ChoiceField, FieldGrid, Station
from gravidon.draw import breather_chart
from gravidon.parts.dash import HOSE_BORE_IN, hose_bore_mm
from gravidon.plan.model import Breather
from gravidon.plan.units import display_unit, show
from gravidon.study.home.breather_choice import BreatherChoice, breather_choice
from gravidon.words.text import tr

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
        ink = self.ink(painter)
        breather_chart.paint_scheme(ink, left, s.evaluation, s.condition)
        breather_chart.paint_chart(ink, right, s.evaluation, it.choice, s.condition)

    def spot(self, name: str) -> QPointF:
        """Where a part of the scheme is."""
        return breather_chart.scheme_places(self._halves()[0])[name]

    def filled(self) -> list[QRectF]:
        """The scheme's parts, and the chart."""
        left, right = self._halves()
        return [*breather_chart.scheme_filled(left), right]

    def spared(self) -> list[QRectF]:
        """What passes the ways out."""
        return [breather_chart.scheme_flows(self._halves()[0])]

    def clicked(self, at: QPointF) -> None:
        """Take the nearest dash size."""
        s = self.station.session
        axes = breather_chart.chart_axes(self._halves()[1], self.station.choice, s.family)
        if s.plan.breather.has_can and axes.rect.adjusted(-6, -6, 6, 24).contains(at):
            bore = display_unit("bore", s.family).to_si(axes.x_back(at.x())) * 1e3
            self.station.take(min(SIZES, key=lambda d: abs(np.log(hose_bore_mm(d) / bore))))

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Left and right take the next dash size down or up."""
        step = (
            {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}.get(Qt.Key(event.key()), 0) if event is not None else 0
        )
        if not step or not self.station.session.plan.breather.has_can:
            super().keyPressEvent(event)
            return
        now = self.station.session.plan.breather.hose_bore_mm
        k = int(np.argmin([abs(hose_bore_mm(d) - now) for d in SIZES]))
        self.station.take(SIZES[min(max(k + step, 0), len(SIZES) - 1)])


class BreatherStation(Station):
    """Keep the crankcase near atmospheric, so that it does not stand on the drain."""

    key = "breather"
    question = tr("Does blow-by get out without standing on the drain? Click a hose size on the chart.")
    choice: BreatherChoice

    def build(self) -> None:
        """Scheme and chart above, what they mean in words, the figures."""
        self.choice = breather_choice(self.session.plan)
        self._made_for: object = self.session.plan
        self.canvas = BreatherCanvas(self, tr("Breather: scheme and decision chart"))
        self.column.addWidget(self.canvas, 1)
        self.words = QLabel()
        self.words.setWordWrap(True)
        self.column.addWidget(self.words)
        bar = QHBoxLayout()
        bar.setSpacing(8)
        kinds = list(get_args(Breather.model_fields["kind"].annotation))
        label = QLabel(tr("Gas leaves by"))
        choice = ChoiceField(self.session, "breather.kind", kinds, tr("Gas leaves by"))
        label.setBuddy(choice)
        bar.addWidget(label)
        bar.addWidget(choice)
        self.one_way = QCheckBox(tr("A real one-way valve to the intake"))
        self.one_way.clicked.connect(
            lambda on: self.session.edit("breather.one_way", bool(on), tr("one-way valve"))
        )
        bar.addWidget(self.one_way)
        bar.addStretch(1)
        self.column.addLayout(bar)
        body = QWidget()
        grid = FieldGrid(self.session, 2)
        grid.setContentsMargins(0, 0, 0, 0)
        body.setLayout(grid)
        grid.add_value("needs.crankcase_max_kpa", tr("Most crankcase pressure"))
        grid.add_value("needs.vacuum_max_kpa", tr("Most crankcase vacuum"))
        self.fold = Fold(self.session, tr("What the crankcase may"), body)
        self.column.addWidget(self.fold)
        canvas, session = self.canvas, self.session

        def of(
            part: str, path: str, label: str, there: Callable[[Breather], bool], dash: bool = False
        ) -> Spot:
            return Spot(
                f"breather.{path}",
                label,
                lambda: canvas.spot(part),
                dash,
                lambda: there(session.plan.breather),
            )

        self.canvas.fields = PictureFields(
            canvas,
            (
                of("case", "blow_by_l_min", tr("blow-by, full load"), lambda _: True),
                of("valve", "valve_kpa", tr("valve opens at"), lambda b: b.has_valve and b.one_way),
                of("valve", "valve_bore_mm", tr("valve bore"), lambda b: b.has_valve),
                of("can", "hose_bore_mm", tr("can hose"), lambda b: b.has_can, dash=True),
                of("can", "hose_mm", tr("its length"), lambda b: b.has_can),
                of("can", "orifice_mm", tr("smallest hole (0: none)"), lambda b: b.has_can),
            ),
        )

    def take(self, size: int) -> None:
        """Run a hose of another dash size."""
        self.session.edit(
            "breather.hose_bore_mm",
            round(hose_bore_mm(size), 2),
            tr("a -{size} breather hose").format(size=size),
        )

    def refresh(self) -> None:
        """Redraw; the chart is made anew when the plan has changed."""
        s = self.session
        if self._made_for is not s.plan:
            self.choice, self._made_for = breather_choice(s.plan), s.plan
        b = s.plan.breather
        self.one_way.setChecked(b.one_way)
        self.fold.refresh()
        self.canvas.lay_fields()
        self.one_way.setEnabled(b.has_valve)
        e = s.evaluation
        idle = [
            k
            for k, c in enumerate(s.plan.conditions)
            if c.kind.turning and c.kind.warm and not c.kind.driving
        ]
        over = [k for k, c in enumerate(s.plan.conditions) if c.kind.driving and c.intake_kpa < -50]
        parts = []
        for name, rows in ((tr("At idle"), idle), (tr("On overrun"), over)):
            if rows:
                gap = max(float(e.drainage.gas_difference_pa[k]) for k in rows)
                side = tr("above") if gap >= 0 else tr("below")
                parts.append(
                    tr("{name} the crankcase stands {amount} {side} the wheels' side.").format(
                        name=name, amount=show(abs(gap), "kpa_small", s.family), side=side
                    )
                )
        parts.append(
            tr("Boost holds oil in; only where oil fills the drain does crankcase pressure lift it.")
        )
        self.words.setText(" ".join(parts))
        self.canvas.setAccessibleDescription(self.headline())
        self.canvas.update()
