# SPDX-License-Identifier: GPL-3.0-or-later
"""Values typed where they are: small fields on a drawing beside what they measure, walked by Tab along the oil."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from itertools import pairwise

from PyQt6.QtCore import QLineF, QPointF, QRectF, QSizeF, Qt
from PyQt6.QtGui import QPainter, QRegion
from PyQt6.QtWidgets import QLabel, QSizePolicy, QToolButton, QVBoxLayout, QWidget

from gravidon.desk.canvas import Canvas
from gravidon.desk.session import Session
from gravidon.desk.value_field import ValueField
from gravidon.draw.labels import Labels
from gravidon.draw.style import HAIR, Palette
from gravidon.plan import paths
from gravidon.plan.fields import Known
from gravidon.words.text import tr, trn

FIELD_WIDTH = 78


@dataclass(frozen=True)
class Spot:
    """A value in a picture: its path, what it is called there, and where it belongs [px]; `dash` for sizes typed as -10;
    `there` for what not every plan has."""

    path: str
    label: str
    anchor: Callable[[], QPointF]
    dash: bool = False
    there: Callable[[], bool] = lambda: True


class PictureField(QWidget):
    """A caption and its field, as one label on the drawing."""

    def __init__(self, session: Session, spot: Spot, parent: QWidget) -> None:
        super().__init__(parent)
        self.spot = spot
        row = QVBoxLayout(self)
        row.setContentsMargins(1, 0, 1, 1)
        row.setSpacing(0)
        self.caption = QLabel(spot.label)
        self.caption.setProperty("role", "caption")
        self.field = ValueField(session, spot.path, dash=spot.dash)
        self.caption.setBuddy(self.field)
        row.addWidget(self.caption, 0, Qt.AlignmentFlag.AlignLeft)
        row.addWidget(self.field)
        self.setSizePolicy(QSizePolicy.Policy.Fixed, QSizePolicy.Policy.Fixed)
        self.setCursor(Qt.CursorShape.ArrowCursor)

    def nearest(self, at: QPointF) -> QPointF:
        """Return the place on caption or field nearest to a place on the drawing: the field is narrower than its caption."""
        wide, high = self.caption.sizeHint().width(), self.caption.sizeHint().height()
        caption = QRectF(self.x(), self.y(), wide + 2, high)
        field = QRectF(self.x(), self.y() + high, self.field.width() + 2, self.height() - high)
        feet = [
            QPointF(min(max(at.x(), r.left()), r.right()), min(max(at.y(), r.top()), r.bottom()))
            for r in (caption, field)
        ]
        return min(feet, key=lambda foot: QLineF(at, foot).length())

    def fit(self) -> None:
        """Make the field as wide as what stands in it."""
        wide = (
            self.field.fontMetrics().horizontalAdvance(self.field.text())
            + self.field.textMargins().left()
            + 22
        )
        self.field.setFixedWidth(max(FIELD_WIDTH, wide))
        self.adjustSize()


class PictureFields:
    """The fields of one canvas. `lay` puts them beside their anchors, clear of one another and of what is drawn."""

    def __init__(self, canvas: Canvas, spots: Sequence[Spot]) -> None:
        self.canvas = canvas
        self.fields = [PictureField(canvas.station.session, spot, canvas) for spot in spots]
        self.leaders: list[tuple[QPointF, QPointF]] = []
        self.rects: list[QRectF] = []
        for before, after in pairwise(self.fields):
            QWidget.setTabOrder(before.field, after.field)

    def drop(self) -> None:
        """Take the fields off the drawing: others come in their place."""
        for made in self.fields:
            made.hide()
            made.setParent(None)
            made.deleteLater()
        self.fields = []

    def lay(self, filled: Sequence[QRectF] = (), spared: Sequence[QRectF] = ()) -> None:
        """Place the fields anew.

        Args:
            filled: what is drawn and must stay in sight [px].
            spared: what stays in sight where there is room for all fields beside it [px].
        """
        there = [made for made in self.fields if made.spot.there()]
        for made in self.fields:
            made.setVisible(made in there)
        # at worst over what is drawn: no figure is out of reach
        grounds = ((*filled, *spared), (*filled,), ())
        # where the last finds no room, another comes first
        turned = [there[k:] + there[:k] for k in range(len(there))]
        any(self._laid(blocked, order) for blocked in grounds for order in turned)

    def _laid(self, blocked: Sequence[QRectF], order: Sequence[PictureField]) -> bool:
        labels = Labels(QRectF(self.canvas.rect()).adjusted(4, 4, -4, -4))
        labels.block(blocked)
        self.leaders, self.rects = [], []
        for made in order:
            made.fit()
            hint = made.sizeHint()
            anchor = made.spot.anchor()
            size = QSizeF(hint.width(), hint.height())
            placed = labels.place(anchor, size) or labels.anywhere(anchor, size)
            made.setVisible(placed is not None)
            if placed is None:
                continue
            made.setGeometry(placed.rect.toRect())
            self.rects.append(placed.rect)
            if placed.leader is not None:
                self.leaders.append((anchor, made.nearest(anchor)))
        return len(self.rects) == len(order)

    def lead(self, painter: QPainter, palette: Palette, words: Sequence[QRectF]) -> None:
        """Paint the leaders over what is drawn, but for its words."""
        bare = QRegion(self.canvas.rect())
        for rect in words:
            bare -= QRegion(rect.toAlignedRect())
        painter.save()
        painter.setClipRegion(bare)
        painter.setPen(palette.pen("faint", HAIR))
        for a, b in self.leaders:
            painter.drawLine(a, b)
        painter.restore()


class Fold(QWidget):
    """What has no place in a picture, folded away under one line that says how much of it is guessed."""

    def __init__(self, session: Session, words: str, body: QWidget) -> None:
        super().__init__()
        self.session, self.words, self.body = session, words, body
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(4)
        self.line = QToolButton()
        self.line.setProperty("link", True)
        self.line.setCursor(Qt.CursorShape.PointingHandCursor)
        self.line.clicked.connect(lambda _=False: self.toggle())
        column.addWidget(self.line, 0, Qt.AlignmentFlag.AlignLeft)
        column.addWidget(body)
        body.hide()
        self.refresh()

    def toggle(self) -> None:
        """Open or close it."""
        self.body.setVisible(self.body.isHidden())
        self.refresh()

    def refresh(self) -> None:
        """Count what is guessed."""
        fields = self.body.findChildren(ValueField)
        guessed = 0
        for field in fields:
            try:
                known = paths.get(self.session.plan, field.place)
            except (AttributeError, IndexError):
                continue
            guessed += isinstance(known, Known) and known.basis == "guess"
        said = trn(", {count} guess", ", {count} guesses", guessed) if guessed else tr(", no guesses")
        mark = "▸" if self.body.isHidden() else "▾"
        self.line.setText(
            tr("{mark} {words}: {fields} figures{said}").format(
                mark=mark, words=self.words, fields=len(fields), said=said
            )
        )
