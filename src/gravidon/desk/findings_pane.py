# SPDX-License-Identifier: GPL-3.0-or-later
"""The findings, worst first, each with remedies that have been evaluated already."""

from __future__ import annotations

from html import escape

from PyQt6.QtCore import QRectF, QSize, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QMouseEvent, QPainter, QPaintEvent
from PyQt6.QtWidgets import (
    QAbstractButton,
    QFrame,
    QHBoxLayout,
    QLabel,
    QScrollArea,
    QSizePolicy,
    QToolButton,
    QVBoxLayout,
    QWidget,
)

from gravidon.desk.painted import painted
from gravidon.desk.session import Session
from gravidon.desk.theme import PALETTES
from gravidon.desk.there import there
from gravidon.draw import marks
from gravidon.draw.ink import Ink
from gravidon.draw.style import BODY, SMALL, font
from gravidon.parts import sources
from gravidon.plan import paths
from gravidon.study.verdict.finding import Finding
from gravidon.study.verdict.remedies import Remedy
from gravidon.study.verdict.report import counted
from gravidon.translate import listed
from gravidon.words.text import SEVERITIES, tr, trn, verdict_said

SEVERITY_VERDICT = {"bad": "fails", "watch": "watch", "note": "holds"}
SETTLE_MS = 180
"""How long edits must rest before the cards are made anew."""

WORDS = {severity: tr(said) for severity, said in SEVERITIES.items()}


LIMIT_WORDS = {
    sources.COMMON_PRACTICE: tr("common practice, without a source"),
    sources.FROM_MEMORY: tr("from memory"),
    sources.MAKER: tr("from the maker's sheet"),
    sources.OWN_CHOICE: tr("your own"),
    sources.COMPUTED: tr("computed from this plan"),
}
"""What a limit rests on, as the end of a sentence."""


class DropLabel(QWidget):
    """A verdict drop as a widget."""

    def __init__(self, session: Session, verdict: str, size: int = 16) -> None:
        super().__init__()
        self.session, self.verdict = session, verdict
        self.setAccessibleName(tr("Verdict: {verdict}").format(verdict=verdict_said(verdict)))
        self.setFixedSize(size, round(size * 1.35))

    def show_verdict(self, verdict: str) -> None:
        """Show another verdict."""
        self.verdict = verdict
        self.setAccessibleName(tr("Verdict: {verdict}").format(verdict=verdict_said(verdict)))
        self.update()

    @painted
    def paintEvent(self, painter: QPainter, event: QPaintEvent | None) -> None:
        """Draw the drop."""
        rect = QRectF(1.5, 1.5, self.width() - 3, self.height() - 3)
        marks.paint_drop(Ink(painter, PALETTES[self.session.theme]), rect, self.verdict)


class RemedyButton(QAbstractButton):
    """A remedy in words that wrap; a click applies it."""

    def __init__(self, session: Session, remedy: Remedy) -> None:
        super().__init__()
        self.session, self.remedy = session, remedy
        self.title, self.effect = remedy.said.text(session.family), remedy.effect.text(session.family)
        self.setText(f"{self.title}: {self.effect}")
        self.setAccessibleName(tr("Apply: {remedy}").format(remedy=self.text()))
        self.setToolTip(
            tr("Evaluated on this plan. Click to apply, Ctrl+Z to take back.")
            + ("" if remedy.cures else tr("\nHelps, but does not cure the finding."))
        )
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        policy = QSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Preferred)
        policy.setHeightForWidth(True)
        self.setSizePolicy(policy)
        self.clicked.connect(lambda: session.apply(remedy))

    def enterEvent(self, event: object) -> None:
        """Show what it would make of the plan."""
        self.session.look_at(self.remedy)
        self.update()

    def leaveEvent(self, event: object) -> None:
        """Take that away again."""
        self.session.look_at(None)
        self.update()

    def _height(self, width: int) -> int:
        self.setFont(font(SMALL))
        room = QRectF(0, 0, max(width - 34, 40), 4000).toRect()
        flags = Qt.TextFlag.TextWordWrap
        metrics = self.fontMetrics()
        title = metrics.boundingRect(room, int(flags), self.title).height()
        effect = metrics.boundingRect(room, int(flags), self._effect_text()).height()
        return title + effect + 13

    def _effect_text(self) -> str:
        return (
            self.effect if self.remedy.cures else tr("{effect} (helps, no cure)").format(effect=self.effect)
        )

    def hasHeightForWidth(self) -> bool:
        """Text wraps."""
        return True

    def heightForWidth(self, width: int) -> int:
        """Room for both texts."""
        return self._height(width)

    def sizeHint(self) -> QSize:
        """Room at the current width."""
        width = max(self.width(), 200)
        return QSize(200, self._height(width))

    @painted
    def paintEvent(self, painter: QPainter, event: QPaintEvent | None) -> None:
        """Draw an arrow, the title, and what it changes."""
        p = PALETTES[self.session.theme]
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        rect = QRectF(self.rect()).adjusted(0.8, 0.8, -0.8, -0.8)
        over = self.underMouse() or self.isDown()
        painter.setBrush(p.color("window") if over else p.color("sheet"))
        painter.setPen(p.pen("focus" if self.hasFocus() else "line", 1.6 if self.hasFocus() else 1.0))
        painter.drawRoundedRect(rect, 3, 3)
        painter.setFont(font(SMALL))
        painter.setPen(p.pen("good", 1.6))
        y = rect.top() + 14
        painter.drawLine(int(rect.left() + 9), int(y), int(rect.left() + 19), int(y))
        painter.drawLine(int(rect.left() + 15), int(y - 4), int(rect.left() + 19), int(y))
        painter.drawLine(int(rect.left() + 15), int(y + 4), int(rect.left() + 19), int(y))
        text = QRectF(27, 6, rect.width() - 33, 4000)
        painter.setPen(p.color("ink"))
        used = painter.fontMetrics().boundingRect(text.toRect(), int(Qt.TextFlag.TextWordWrap), self.title)
        painter.drawText(text, int(Qt.TextFlag.TextWordWrap), self.title)
        painter.setPen(p.color("good" if self.remedy.cures else "faint"))
        painter.drawText(
            text.adjusted(0, used.height(), 0, 0), int(Qt.TextFlag.TextWordWrap), self._effect_text()
        )


class FindingCard(QFrame):
    """One finding."""

    looked_at = pyqtSignal(object)
    limit_asked = pyqtSignal(object)

    def __init__(self, session: Session, finding: Finding, chosen: bool) -> None:
        super().__init__()
        self.session, self.finding = session, finding
        self._shown: tuple[tuple[Remedy, ...], bool] | None = None
        self.setProperty("role", "card")
        self.setProperty("chosen", chosen)
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        text = finding.text(session.family)
        self.setAccessibleName(f"{WORDS[finding.severity]}: {finding.title}. {text}")
        column = QVBoxLayout(self)
        column.setContentsMargins(10, 8, 10, 10)
        column.setSpacing(4)
        head = QHBoxLayout()
        head.setSpacing(7)
        head.addWidget(DropLabel(session, SEVERITY_VERDICT[finding.severity], 13))
        title = _label(finding.title)
        title.setStyleSheet("font-weight: 600;")
        head.addWidget(title, 1)
        word = _label(WORDS[finding.severity])
        word.setProperty("role", "faint")
        word.setWordWrap(False)
        head.addWidget(word)
        column.addLayout(head)
        column.addWidget(_label(text))
        if finding.also:
            column.addWidget(_faint(tr("Also in {listed}.").format(listed=listed(finding.also))))
        column.addWidget(_faint(finding.why))
        mark = _faint(
            tr("The limit is {source}").format(source=LIMIT_WORDS.get(finding.source, tr(finding.source)))
        )
        mark.setToolTip(tr("Where the limit comes from: {source}").format(source=tr(finding.source)))
        if finding.limit_path:
            colour = PALETTES[session.theme].focus
            mark.setProperty("markup", True)
            mark.setText(
                tr('{escape} · <a href="limit" style="color: {colour}">change it</a>').format(
                    escape=escape(mark.text()), colour=colour
                )
            )
            mark.setTextInteractionFlags(Qt.TextInteractionFlag.LinksAccessibleByMouse)
            mark.linkActivated.connect(lambda _: self.limit_asked.emit(finding))
        column.addWidget(mark)
        if finding.rests_on:
            labels = [tr(paths.spec_at(session.plan, p).label) for p in finding.rests_on]
            count = len(labels)
            rests = _faint(
                f"{trn('Rests on {count} guess', 'Rests on {count} guesses', count)}: {labels[0]}"
                + (" …" if count > 1 else "")
            )
            rests.setToolTip(tr("Nobody measured:\n") + "\n".join(labels))
            column.addWidget(rests)
        self.remedies = QVBoxLayout()
        self.remedies.setSpacing(4)
        column.addLayout(self.remedies)
        self.fill_remedies()

    def fill_remedies(self) -> None:
        """Show the remedies known so far."""
        known = self.session.remedies.get(self.finding.key, ())
        now = (known, bool(known) or self.session.remedies_done)
        if now == self._shown:
            return
        self._shown = now
        while self.remedies.count():
            item = self.remedies.takeAt(0)
            widget = item.widget() if item else None
            if widget is not None:
                widget.setParent(None)
                widget.deleteLater()
        for remedy in known:
            self.remedies.addWidget(RemedyButton(self.session, remedy))
        if not known and not self.session.remedies_done:
            self.remedies.addWidget(_faint(tr("Trying remedies …")))

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """Go and look at it."""
        self.looked_at.emit(self.finding)


def _label(text: str) -> QLabel:
    label = QLabel(text)
    label.setWordWrap(True)
    label.setTextFormat(Qt.TextFormat.PlainText)
    return label


def _faint(text: str) -> QLabel:
    label = _label(text)
    label.setProperty("role", "faint")
    label.setStyleSheet(f"font-size: {SMALL}px;")
    return label


class FindingLine(QAbstractButton):
    """A finding in one line; a click opens it."""

    def __init__(self, session: Session, finding: Finding) -> None:
        super().__init__()
        self.session, self.finding = session, finding
        self.setText(finding.title + (f" · {finding.condition}" if finding.condition else ""))
        self.setAccessibleName(f"{WORDS[finding.severity]}: {self.text()}")
        self.setToolTip(finding.text(session.family))
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)

    def _height(self, width: int) -> int:
        self.setFont(font(BODY))
        room = QRectF(0, 0, max(width - 32, 40), 400).toRect()
        return max(
            self.fontMetrics().boundingRect(room, int(Qt.TextFlag.TextWordWrap), self.text()).height() + 10,
            28,
        )

    def sizeHint(self) -> QSize:
        """Room at the current width."""
        return QSize(200, self._height(max(self.width(), 200)))

    def resizeEvent(self, event: object) -> None:
        """Its words may wrap."""
        self.setFixedHeight(self._height(self.width()))

    @painted
    def paintEvent(self, painter: QPainter, event: QPaintEvent | None) -> None:
        """Its drop and its words."""
        p = PALETTES[self.session.theme]
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        if self.underMouse() or self.hasFocus():
            painter.setPen(p.pen("focus" if self.hasFocus() else "line", 1.0))
            painter.setBrush(p.color("raised"))
            painter.drawRoundedRect(QRectF(self.rect()).adjusted(0.5, 0.5, -0.5, -0.5), 3, 3)
        marks.paint_drop(Ink(painter, p), QRectF(7, 7, 10, 14), SEVERITY_VERDICT[self.finding.severity])
        painter.setFont(font(BODY))
        painter.setPen(p.color("ink"))
        painter.drawText(self.rect().adjusted(26, 5, -4, -3), int(Qt.TextFlag.TextWordWrap), self.text())


class FindingsPane(QWidget):
    """All findings in a column: one line each, the chosen one whole."""

    looked_at = pyqtSignal(object)
    limit_asked = pyqtSignal(object)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.chosen = ""
        self.cards: list[FindingCard] = []
        self.lines: list[FindingLine] = []
        self.notes_open = False
        column = QVBoxLayout(self)
        column.setContentsMargins(10, 6, 6, 6)
        column.setSpacing(6)
        self.title = QLabel()
        self.title.setProperty("role", "faint")
        column.addWidget(self.title)
        self.area = QScrollArea()
        self.area.setWidgetResizable(True)
        self.area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        column.addWidget(self.area, 1)
        self.setMinimumWidth(222)
        self._pause = QTimer(self)
        self._pause.setSingleShot(True)
        self._pause.setInterval(SETTLE_MS)
        self._pause.timeout.connect(self.rebuild)
        session.changed.connect(self._soon)
        session.look_changed.connect(self.rebuild)
        session.remedies_changed.connect(self._remedies)
        self.rebuild()

    def _soon(self) -> None:
        """While edits pour in (a drag), the cards wait; the title counts at once."""
        self._count()
        self._pause.start()

    def _count(self) -> None:
        found = self.session.findings
        self.title.setText(
            tr("Findings, worst first: {counts}").format(counts=counted(found))
            if found
            else tr("Findings: none")
        )

    def rebuild(self) -> None:
        """Show the session's findings: one line each, the chosen one whole, notes folded."""
        body = QWidget()
        column = QVBoxLayout(body)
        column.setContentsMargins(0, 0, 6, 0)
        column.setSpacing(6)
        found = self.session.findings
        self._pause.stop()
        self._count()
        self.cards, self.lines = [], []
        notes = [f for f in found if f.severity == "note"]
        for finding in found:
            if finding.severity != "note":
                self._add(column, finding)
        if notes:
            chosen = any(f.key == self.chosen for f in notes)
            fold = QToolButton()
            fold.setProperty("link", True)
            opened = self.notes_open or chosen
            fold.setText(f"{trn('{count} note', '{count} notes', len(notes))} {'▾' if opened else '▸'}")
            fold.clicked.connect(lambda _=False: self._fold())
            column.addWidget(fold)
            if opened:
                for finding in notes:
                    self._add(column, finding)
        if not found:
            column.addWidget(
                _label(
                    tr(
                        "Nothing found. Every condition in the deck stays inside the window, the drain breathes and the seals stay dry. Measure what is still marked as a guess, then print the shop sheet."
                    )
                )
            )
        column.addStretch(1)
        bar = there(self.area.verticalScrollBar())
        at = bar.value()
        self.area.setWidget(body)
        bar.setValue(at)

    def _add(self, column: QVBoxLayout, finding: Finding) -> None:
        if finding.key == self.chosen:
            card = FindingCard(self.session, finding, True)
            card.looked_at.connect(self._look)
            card.limit_asked.connect(self.limit_asked)
            column.addWidget(card)
            self.cards.append(card)
            return
        line = FindingLine(self.session, finding)
        line.clicked.connect(lambda _=False: self._look(finding))
        column.addWidget(line)
        self.lines.append(line)

    def _fold(self) -> None:
        self.notes_open = not self.notes_open
        self.rebuild()

    def _remedies(self) -> None:
        if not self._pause.isActive():
            for card in self.cards:
                card.fill_remedies()

    def _look(self, finding: Finding) -> None:
        self.chosen = finding.key
        self.rebuild()
        self.looked_at.emit(finding)

    def step(self, by: int) -> None:
        """Choose the next or previous finding, notes last."""
        found = self.session.findings
        if not found:
            return
        keys = [f.key for f in found]
        now = keys.index(self.chosen) if self.chosen in keys else -1 if by > 0 else 0
        self._look(found[(now + by) % len(keys)])
        if self.cards:
            self.area.ensureWidgetVisible(self.cards[0])

    def apply_first(self) -> None:
        """Apply what the band offers; where it offers nothing, look at the finding it names, as its button does."""
        finding, remedy = self.session.next_step()
        if remedy is not None:
            self.session.apply(remedy)
        elif finding is not None:
            self._look(finding)
