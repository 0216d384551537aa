# SPDX-License-Identifier: GPL-3.0-or-later
"""The feed line: a pressure cascade whose pieces are edited in place."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtGui import QKeyEvent, QPainter
from PyQt6.QtWidgets import QComboBox, QHBoxLayout, QLabel, QSlider, QToolButton, QWidget

from gravidon.desk.box import Box
from gravidon.desk.canvas import Canvas
from gravidon.desk.stations.base import Station
from gravidon.desk.there import emptied
from gravidon.desk.value_field import ValueField
from gravidon.draw import cascade as drawing
from gravidon.draw.ink import Ink
from gravidon.parts.shapes import SHAPES
from gravidon.plan import paths
from gravidon.plan.fields import Known
from gravidon.plan.model import Fitting, Hose, Piece, ScreenPiece
from gravidon.plan.units import show, show_difference
from gravidon.study.solve.priming import arrival, stack_height_mm
from gravidon.study.solve.split import split_shares
from gravidon.study.supply.cascade import Step, cascade, piece_name
from gravidon.translate import commas
from gravidon.words.text import comes_after, tr

PIECE_FIELDS: dict[str, tuple[tuple[str, str], ...]] = {
    "hose": (("bore_mm", tr("bore or dash")), ("length_mm", tr("length"))),
    "fitting": (("bore_mm", tr("bore or dash")), ("height_mm", tr("height"))),
    "screen": (
        ("rated_drop_kpa", tr("drop, clean")),
        ("rated_flow_l_min", tr("at a flow of")),
        ("height_mm", tr("height")),
    ),
}
"""What can be typed for each kind of piece: field and label."""


class CascadeCanvas(Canvas):
    """The cascade; a click or left and right choose a piece."""

    station: FeedStation

    def paint(self, painter: QPainter) -> None:
        """Draw the cascade of the chosen condition."""
        s = self.station.session
        low, high = s.evaluation.window_pa[s.condition]
        drawing.paint(
            Ink(painter, self.station.colours, s.family),
            self.area,
            self.station.steps,
            (float(low), float(high)),
            self.station.selected,
        )

    def clicked(self, at: QPointF) -> None:
        """Choose the step under the mouse."""
        axes = drawing.axes_of(self.area, self.station.steps, self.station.session.family)
        for k, step in enumerate(self.station.steps):
            if drawing.step_rect(axes, k).contains(at):
                self.station.select(step.path)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Left and right walk the pieces."""
        if event is None:
            return
        step = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}.get(Qt.Key(event.key()), 0)
        if step:
            self.station.walk(step)
        elif event.key() in (Qt.Key.Key_Delete, Qt.Key.Key_Backspace):
            self.station.remove()
        else:
            super().keyPressEvent(event)


class FeedStation(Station):
    """See where each bit of pressure goes, and change it there."""

    key = "feed"
    question = tr(
        "Where does the pressure go between gallery and bearing? Click a step to change what stands there."
    )
    steps: tuple[Step, ...] = ()

    def build(self) -> None:
        """The cascade, the chosen piece's fields, and what the line adds up to."""
        self.selected = ""
        self._fields_for: tuple[str, str] = ("", "")
        self._title: QLabel | None = None
        self.canvas = CascadeCanvas(self, tr("Pressure cascade from gallery to bearing"))
        self.column.addWidget(self.canvas, 1)
        self.editor = QHBoxLayout()
        self.editor.setSpacing(8)
        self.column.addLayout(self.editor)
        bar = QHBoxLayout()
        for words, piece in (
            (tr("Add end"), Fitting(shape="45°", bore_mm=5.56, height_mm=22.0)),
            (
                tr("Add screen"),
                ScreenPiece(
                    rated_drop_kpa=Known(value=4.0), rated_flow_l_min=Known(value=3.0), height_mm=30.0
                ),
            ),
            (tr("Add hose"), Hose(bore_mm=5.56, length_mm=Known(value=300.0))),
        ):
            button = QToolButton()
            button.setText(words)
            button.clicked.connect(lambda _, p=piece: self.add(p))
            bar.addWidget(button)
        self.remove_button = QToolButton()
        self.remove_button.setText(tr("Remove"))
        self.remove_button.clicked.connect(self.remove)
        bar.addWidget(self.remove_button)
        bar.addStretch(1)
        text = QLabel(tr("Room over the inlet"))
        room = ValueField(self.session, "line.feed.bonnet_mm")
        room.setMaximumWidth(90)
        text.setBuddy(room)
        bar.addWidget(text)
        bar.addWidget(room)
        self.column.addLayout(bar)
        self.answer = QLabel()
        self.answer.setWordWrap(True)
        self.column.addWidget(self.answer)

    def refresh(self) -> None:
        """Redraw the cascade and say what it comes to."""
        s = self.session
        self.steps = cascade(s.evaluation, s.condition, s.family)
        if self.selected not in {step.path for step in self.steps}:
            self.selected = ""
        self.answer.setText(self._sentence())
        self.canvas.setAccessibleDescription(
            "; ".join(f"{p.name} {show_difference(p.drop_pa, 'kpa_diff', s.family)}" for p in self.steps)
        )
        self._show_fields()
        self.canvas.update()

    def _sentence(self) -> str:
        s, e = self.session, self.session.evaluation
        arrives = arrival(s.plan, e.supply)
        tall = stack_height_mm(e.line.feed.pieces) * 1e-3
        words = tr(
            "Flow {amount} in {names}. The dry line holds {volume_m3}; oil arrives {cold} after a cold start, {hot} hot. Fittings over the inlet stand {tall} tall."
        ).format(
            amount=show(float(e.feed.flow_m3_s[s.condition]), "l_min", s.family),
            names=e.names[s.condition],
            volume_m3=show(arrives.volume_m3, "ml", s.family),
            cold=comes_after(arrives.cold_s),
            hot=comes_after(arrives.hot_s),
            tall=show(tall, "run", s.family),
        )
        if len(s.plan.turbos) > 1:
            shares = split_shares(e)[:, s.condition]
            parts = [
                f"{line.turbo.label} {share:.0%}" for line, share in zip(s.plan.turbos, shares, strict=True)
            ]
            running = [k for k, c in enumerate(s.plan.conditions) if c.rpm > 0]
            own = split_shares(e)[e.index, running]
            words += tr(
                " The tee splits the flow {parts} ({label}: {least:.0%} to {most:.0%} over all conditions); equal branches and equal holes balance it."
            ).format(parts=commas(parts), label=e.line.turbo.label, least=own.min(), most=own.max())
        return words

    def select(self, path: str) -> None:
        """Choose a step by its place in the plan."""
        self.selected = path
        self._show_fields()
        self.canvas.update()

    def walk(self, by: int) -> None:
        """Choose the next step that can be changed."""
        known = [step.path for step in self.steps if step.path]
        now = known.index(self.selected) if self.selected in known else -1 if by > 0 else 0
        self.select(known[(now + by) % len(known)])

    def _piece(self) -> Piece | None:
        if ".pieces." not in self.selected and not self.selected.startswith("trunk."):
            return None
        found = paths.get(self.session.plan, self.selected)
        return found if isinstance(found, Hose | Fitting | ScreenPiece) else None

    def _show_fields(self) -> None:
        piece = self._piece()
        self.remove_button.setEnabled(piece is not None)
        key = (self.selected, type(piece).__name__)
        if key == self._fields_for:
            if self._title is not None:
                self._title.setText(self._title_words(piece))
            return
        self._fields_for = key
        self._title = None
        emptied(self.editor)
        if not self.selected:
            self.editor.addWidget(
                QLabel(tr("Nothing chosen: click a step of the cascade, or walk with the arrow keys."))
            )
            self.editor.addStretch(1)
            return
        self._add_title(piece)
        if isinstance(piece, Fitting):
            self._add(self._shape_box(piece))
        names = PIECE_FIELDS.get(piece.kind, ()) if piece is not None else ()
        for field, label in names:
            self._add(QLabel(label))
            self._add(ValueField(self.session, f"{self.selected}.{field}", dash=field == "bore_mm"))
        if piece is None:
            self._add(ValueField(self.session, self.selected, dash=self.selected.endswith("bore_mm")))
        if isinstance(piece, ScreenPiece):
            self._add(QLabel(tr("clogged")))
            self._add(self._clog_slider(piece))
        self.editor.addStretch(1)

    def _add(self, widget: QWidget) -> None:
        self.editor.addWidget(widget)

    def _title_words(self, piece: Piece | None) -> str:
        step = next((s for s in self.steps if s.path == self.selected), None)
        words = (
            piece_name(piece, self.session.family).split(",")[0]
            if piece is not None
            else (step.name if step else "")
        )
        return words[:1].upper() + words[1:]

    def _add_title(self, piece: Piece | None) -> None:
        self._title = QLabel(self._title_words(piece))
        self._title.setProperty("role", "section")
        self._add(self._title)

    def _shape_box(self, piece: Fitting) -> QComboBox:
        box = Box()
        box.setAccessibleName(tr("Shape of the fitting"))
        box.offer(SHAPES)
        box.choose(piece.shape)
        path = f"{self.selected}.shape"
        box.textActivated.connect(
            lambda word: self.session.edit(path, box.meaning(word), tr("fitting {word}").format(word=word))
        )
        return box

    def _clog_slider(self, piece: ScreenPiece) -> QSlider:
        slider = QSlider(Qt.Orientation.Horizontal)
        slider.setAccessibleName(tr("Share of the screen that is clogged, percent"))
        slider.setRange(0, 98)
        slider.setValue(round(piece.clogged * 100))
        slider.setMinimumWidth(80)
        path = f"{self.selected}.clogged"
        slider.valueChanged.connect(
            lambda v: self.session.edit(path, v / 100, tr("screen {share} % clogged").format(share=v), "clog")
        )
        slider.sliderReleased.connect(self.session.end_merge)
        return slider

    def add(self, piece: Piece) -> None:
        """Put a piece after the chosen one, or at the turbo's end."""
        pieces = self.session.line.feed.pieces
        own = f"turbos.{self.session.evaluation.index}.feed.pieces."
        at = int(self.selected.removeprefix(own)) + 1 if self.selected.startswith(own) else len(pieces)
        bore = pieces[at - 1].bore_mm if not isinstance(piece, ScreenPiece) else piece.bore_mm
        new = piece.model_copy(update={"bore_mm": bore})
        if self.session.edit(
            "line.feed.pieces",
            (*pieces[:at], new, *pieces[at:]),
            tr("add {piece_name}").format(piece_name=piece_name(piece)),
        ):
            self.select(f"{own}{at}")

    def remove(self) -> None:
        """Take the chosen piece out of the line or the trunk."""
        if self._piece() is None:
            return
        list_path, _, index = self.selected.rpartition(".")
        pieces = paths.get(self.session.plan, list_path)
        k = int(index)
        self.selected = ""
        self.session.edit(list_path, (*pieces[:k], *pieces[k + 1 :]), tr("remove a piece of the feed"))
