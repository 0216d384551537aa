# SPDX-License-Identifier: GPL-3.0-or-later
"""Findings as flags at the station they belong to: short, and open in place with reason, limit and remedies."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import QPoint, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QPainter, QPaintEvent, QResizeEvent
from PyQt6.QtWidgets import QAbstractButton, QFrame, QScrollArea, QSizePolicy, QVBoxLayout, QWidget

from gravidon.desk.findings_pane import SEVERITY_VERDICT, FindingCard
from gravidon.desk.painted import painted
from gravidon.desk.session import Session
from gravidon.desk.theme import PALETTES
from gravidon.draw import marks
from gravidon.draw.ink import Ink
from gravidon.draw.style import BODY, font
from gravidon.plan import units
from gravidon.study.verdict.finding import Finding
from gravidon.words.text import tr

GAP, HEIGHT, CARD_WIDTH = 6, 28, 360


def flag_words(finding: Finding, session: Session) -> str:
    """Return a finding in a flag's few words: title, value where it has one, condition."""
    words = finding.title
    if finding.condition:
        words += f" · {finding.condition}"
    if finding.kind in units.KINDS and finding.condition and finding.kind != "count":
        words += f" {units.show(finding.value, finding.kind, session.family)}"
    return words


class Flag(QAbstractButton):
    """One finding as a flag."""

    def __init__(self, session: Session, finding: Finding) -> None:
        super().__init__()
        self.session, self.finding = session, finding
        self.setText(flag_words(finding, session))
        self.setCheckable(True)
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(f"{tr(SEVERITY_VERDICT[finding.severity])}: {self.text()}")
        self.setToolTip(finding.text(session.family))

    def sizeHint(self) -> QSize:
        """As wide as its words."""
        self.setFont(font(BODY))
        return QSize(self.fontMetrics().horizontalAdvance(self.text()) + 34, HEIGHT)

    @painted
    def paintEvent(self, painter: QPainter, event: QPaintEvent | None) -> None:
        """A tag with its drop."""
        p = PALETTES[self.session.theme]
        verdict = SEVERITY_VERDICT[self.finding.severity]
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        rect = QRectF(self.rect()).adjusted(0.8, 0.8, -0.8, -0.8)
        painter.setPen(p.pen("focus" if self.hasFocus() or self.isChecked() else "line", 1.4))
        painter.setBrush(p.color("raised"))
        painter.drawRoundedRect(rect, 3, 3)
        marks.paint_drop(Ink(painter, p), QRectF(8, 6, 11, 15), verdict)
        painter.setFont(font(BODY))
        painter.setPen(p.color("ink" if verdict != "holds" else "faint"))
        painter.drawText(rect.adjusted(25, 0, -4, 0), int(Qt.AlignmentFlag.AlignVCenter), self.text())


class FlagCard(QFrame):
    """An open flag: the finding's whole card, over the page, closed by Escape or a click on its flag."""

    closed = pyqtSignal()

    def __init__(self, card: FindingCard, parent: QWidget) -> None:
        super().__init__(parent)
        self.card = card
        self.setObjectName("flagcard")
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        area = QScrollArea()
        area.setWidgetResizable(True)
        area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        area.setWidget(card)
        column.addWidget(area)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Escape closes it."""
        if event is not None and event.key() == Qt.Key.Key_Escape:
            self.closed.emit()
            return
        super().keyPressEvent(event)


class FlagStrip(QWidget):
    """The flags of a station in rows; one may be open."""

    limit_asked = pyqtSignal(object)
    looked_at = pyqtSignal(object)

    def __init__(self, session: Session, over: QWidget) -> None:
        super().__init__()
        self.session, self.over = session, over
        self.flags: list[Flag] = []
        self.open: FlagCard | None = None
        policy = QSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        policy.setHeightForWidth(True)
        self.setSizePolicy(policy)
        session.remedies_changed.connect(self._remedies)

    def show_findings(self, findings: Sequence[Finding]) -> None:
        """Show these findings; an open flag stays open while its finding is there."""
        kept = self.open.card.finding.key if self.open is not None else ""
        self.close_card()
        for flag in self.flags:
            flag.setParent(None)
            flag.deleteLater()
        self.flags = []
        for finding in findings:
            flag = Flag(self.session, finding)
            flag.setParent(self)
            flag.clicked.connect(lambda _=False, f=flag: self.toggle(f))
            flag.show()
            self.flags.append(flag)
        self.setVisible(bool(findings))
        self._lay()
        self.updateGeometry()
        again = next((f for f in self.flags if f.finding.key == kept), None)
        if again is not None:
            self.toggle(again)

    def toggle(self, flag: Flag) -> None:
        """Open a flag, or close it."""
        was = self.open.card.finding.key if self.open is not None else ""
        self.close_card()
        if was == flag.finding.key:
            return
        card = FindingCard(self.session, flag.finding, True)
        card.limit_asked.connect(self.limit_asked)
        self.open = FlagCard(card, self.over)
        self.open.closed.connect(self.close_card)
        width = min(CARD_WIDTH, self.over.width() - 28)
        at = flag.mapTo(self.over, QPoint(0, flag.height() + 3))
        x = max(min(at.x(), self.over.width() - width - 14), 14)
        room = self.over.height() - at.y() - 12
        self.open.setGeometry(x, at.y(), width, min(max(card.heightForWidth(width), 150) + 4, room))
        self.open.show()
        self.open.raise_()
        flag.setChecked(True)
        self.looked_at.emit(flag.finding)

    def open_key(self, key: str) -> None:
        """Open the flag of a finding."""
        for flag in self.flags:
            if flag.finding.key == key and not (self.open and self.open.card.finding.key == key):
                self.toggle(flag)

    def close_card(self) -> None:
        """Close what is open."""
        if self.open is not None:
            self.open.hide()
            self.open.deleteLater()
            self.open = None
        for flag in self.flags:
            flag.setChecked(False)

    def _remedies(self) -> None:
        if self.open is not None:
            self.open.card.fill_remedies()

    def _lay(self) -> int:
        x, y = 0, 0
        for flag in self.flags:
            size = flag.sizeHint()
            if x and x + size.width() > self.width():
                x, y = 0, y + HEIGHT + GAP
            flag.setGeometry(x, y, min(size.width(), max(self.width(), 80)), HEIGHT)
            x += size.width() + GAP
        return y + HEIGHT if self.flags else 0

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """Lay the flags in rows."""
        self._lay()

    def hasHeightForWidth(self) -> bool:
        """Rows wrap."""
        return True

    def heightForWidth(self, width: int) -> int:
        """As many rows as it takes."""
        rows, x = 1, 0
        for flag in self.flags:
            wide = flag.sizeHint().width()
            if x and x + wide > width:
                rows, x = rows + 1, 0
            x += wide + GAP
        return rows * (HEIGHT + GAP) - GAP if self.flags else 0

    def sizeHint(self) -> QSize:
        """At the present width."""
        return QSize(200, self.heightForWidth(max(self.width(), 200)))

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Escape closes what is open."""
        if event is not None and event.key() == Qt.Key.Key_Escape and self.open is not None:
            self.close_card()
            return
        super().keyPressEvent(event)
