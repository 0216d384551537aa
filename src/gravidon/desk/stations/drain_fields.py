# SPDX-License-Identifier: GPL-3.0-or-later
"""What is typed and chosen beside the drain's drawings: a point's coordinates, a thing's size, where the drain ends."""

from __future__ import annotations

from PyQt6.QtCore import QPoint, QRect, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent
from PyQt6.QtWidgets import QComboBox, QFrame, QHBoxLayout, QLabel, QVBoxLayout, QWidget

from gravidon.desk.box import Box
from gravidon.desk.name_field import NameField
from gravidon.desk.session import Session
from gravidon.desk.stations.base import ChoiceField, Station
from gravidon.desk.value_field import ValueField
from gravidon.draw.geometry.elevation import View
from gravidon.plan.model import Joining
from gravidon.plan.things import THINGS
from gravidon.words.text import N_, tr

AXES: dict[View, tuple[tuple[str, str], tuple[str, str]]] = {
    "front": (("y_mm", N_("across")), ("z_mm", N_("height"))),
    "side": (("x_mm", N_("along")), ("z_mm", N_("height"))),
    "above": (("x_mm", N_("along")), ("y_mm", N_("across"))),
}
"""The two coordinates that a view shows."""
ALL_AXES = (("x_mm", N_("along")), ("y_mm", N_("across")), ("z_mm", N_("height")))


def handle_path(name: str) -> str:
    """Return the plan path of a handle's point."""
    fixed = {"turbo": "line.turbo.drain_flange", "entry": "line.drain.entry", "pot": "line.scavenge.pot"}
    if name in fixed:
        return fixed[name]
    number = int(name.split()[1]) - 1
    return f"shapes.{number}.corner" if name.startswith("shape") else f"line.drain.points.{number}"


class PointEditor(QFrame):
    """The selected point's coordinates, typed beside the point; a thing's name, kind and size too."""

    closed = pyqtSignal()
    """It was put away by key."""

    def __init__(self, station: Station) -> None:
        super().__init__(station)
        self.station = station
        self.setProperty("role", "card")
        self.setObjectName("point-editor")
        self.rows = QVBoxLayout(self)
        self.rows.setContentsMargins(8, 4, 8, 4)
        self.rows.setSpacing(2)
        self.fields: list[QWidget] = []
        self.shown_for: tuple[str, View] | None = None
        self.hide()

    def _row(self, widgets: list[QWidget]) -> None:
        row = QHBoxLayout()
        row.setSpacing(5)
        for widget in widgets:
            row.addWidget(widget)
        self.rows.addLayout(row)
        self.fields += widgets
        for widget in widgets:
            widget.show()  # at once: a card in sight is measured before Qt would come to show them

    def _figures(self, figures: list[tuple[str, str]]) -> None:
        """Lay fields side by side, each under its word."""
        fields = [self._value(path) for path, _ in figures]
        names = [QLabel(tr(word)) for _, word in figures]
        for name, field in zip(names, fields, strict=True):
            name.setProperty("role", "faint")
            name.setFixedWidth(field.maximumWidth())
            name.setBuddy(field)
        self._row(list(names))
        self._row(list(fields))

    def _value(self, path: str) -> ValueField:
        field = ValueField(self.station.session, path)
        field.setFixedWidth(104)
        return field

    def _empty(self) -> None:
        while self.rows.count():
            row = self.rows.takeAt(0)
            inner = row.layout() if row is not None else None
            if inner is not None:
                inner.deleteLater()
        for widget in self.fields:
            widget.hide()
            widget.deleteLater()
        self.fields = []

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Escape and Enter put the card away; a field has taken what was typed before."""
        if event is not None and event.key() in (Qt.Key.Key_Escape, Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.closed.emit()
        else:
            super().keyPressEvent(event)

    def show_for(self, name: str, view: View, at: QPoint, within: QRect, clear: list[QPoint]) -> None:
        """Show a point's coordinates, those that the view shows first, beside the point.

        Args:
            name: the handle.
            view: what the drawing shows.
            at: the handle [px of the station].
            within: the drawing [px of the station]; the card stays inside.
            clear: what the card had better not cover: the drain's points and the things [px of the station].
        """
        if (name, view) != self.shown_for:
            self.shown_for = (name, view)
            self._empty()
            path, session = handle_path(name), self.station.session
            if name.startswith("shape"):
                shape = path.removesuffix(".corner")
                label = NameField(session, f"{shape}.label", tr("Name of the thing"), tr("rename"))
                kind = ChoiceField(session, f"{shape}.kind", list(THINGS), tr("Kind"))
                self._row([label, kind])
                words = (("length_mm", N_("long")), ("width_mm", N_("wide")), ("height_mm", N_("tall")))
                self._figures([(f"{shape}.{key}", word) for key, word in words])
            axes = (*AXES[view], *(axis for axis in ALL_AXES if axis not in AXES[view]))
            self._figures([(f"{path}.{key}", word) for key, word in axes])
        self.adjustSize()
        self.move(self._place(at, within, clear))
        self.show()
        self.raise_()

    def _place(self, at: QPoint, within: QRect, clear: list[QPoint]) -> QPoint:
        """Return the place beside the point, or else in a corner of the drawing, that covers least."""
        w, h = self.width(), self.height()
        xs = (at.x() + 22, at.x() - w - 22, within.left() + 4, within.right() - w - 4)
        ys = (at.y() + 12, at.y() - h - 12, within.top() + 4, within.bottom() - h - 4)
        lowest, rightmost = within.bottom() - h - 4, max(within.right(), self.station.width()) - w - 4

        def cost(place: QPoint) -> tuple[int, int]:
            mine = QRect(place, self.size()).adjusted(-10, -8, 10, 8)
            return sum(mine.contains(p) for p in clear), (mine.center() - at).manhattanLength()

        places = [
            QPoint(max(min(x, rightmost), 4), max(min(y, lowest), within.top() + 4)) for x in xs for y in ys
        ]
        return min(places, key=cost)


POT = 1
"""Place of the scavenge pot among the choices."""


class EndChoice(Box):
    """Where the drain ends: in the pan, in another turbo's drain, or in a scavenge pot."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.setAccessibleName(tr("The drain ends in"))
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMinimumContentsLength(14)
        self.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        self.ends: list[tuple[str, Joining | None]] = []
        self.textActivated.connect(lambda _: self._commit())

    def refresh(self) -> None:
        """Offer what there is: every bend of another drain that runs to the pan or a pot itself."""
        plan, line, mine = self.session.plan, self.session.line, self.session.evaluation.index
        self.ends = [(tr("the pan"), None), (tr("a scavenge pot"), None)]
        joined_here = any(it.drain.joins is not None and it.drain.joins.turbo == mine for it in plan.turbos)
        for k, it in enumerate(plan.turbos):
            ends_itself = it.drain.joins is None or it.drain_by == "scavenge"
            if k == mine or not ends_itself or joined_here:
                continue
            if it.drain_by == "scavenge":  # its pot: a bend that was joined before plays no part
                at_bend = line.drain.joins.bend if line.drain.joins is not None else 0
                self.ends.append(
                    (tr("{label}'s pot").format(label=it.turbo.label), Joining(turbo=k, bend=at_bend))
                )
            else:
                for bend in range(len(it.drain.points)):
                    self.ends.append(
                        (
                            tr("{label}, bend {bend}").format(label=it.turbo.label, bend=bend + 1),
                            Joining(turbo=k, bend=bend),
                        )
                    )
        self.blockSignals(True)
        self.clear()
        self.addItems([words for words, _ in self.ends])
        at = 1 if line.drain_by == "scavenge" else 0
        if line.drain_by == "gravity" and line.drain.joins is not None:
            at = next((k for k, (_, j) in enumerate(self.ends) if j == line.drain.joins), 0)
        self.setCurrentIndex(at)
        self.blockSignals(False)

    def _commit(self) -> None:
        words, joins = self.ends[self.currentIndex()]
        session = self.session
        line = session.line
        drain = line.drain.model_copy(update={"joins": joins})
        by = "scavenge" if self.currentIndex() == POT else "gravity"
        changed = line.model_copy(update={"drain": drain, "drain_by": by})
        if not session.edit(
            f"turbos.{session.evaluation.index}", changed, tr("the drain ends in {words}").format(words=words)
        ):
            self.refresh()
