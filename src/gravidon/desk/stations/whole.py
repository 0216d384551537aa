# SPDX-License-Identifier: GPL-3.0-or-later
"""The first page: the whole way of the oil in one picture; every station is entered from its place in it."""

from __future__ import annotations

from collections.abc import Hashable
from functools import partial

from PyQt6.QtCore import QPointF, QRect, Qt
from PyQt6.QtGui import QKeyEvent, QPainter

from gravidon.desk.canvas import Canvas
from gravidon.desk.findings_pane import SEVERITY_VERDICT, FindingCard
from gravidon.desk.flags import CARD_WIDTH, FlagCard
from gravidon.desk.motion import Motion
from gravidon.desk.stations.base import Station
from gravidon.desk.voices import Voice
from gravidon.draw import whole_way, whole_way_words
from gravidon.draw.ink import Ink
from gravidon.study.solve.evaluate import Evaluation
from gravidon.words.text import tr, verdict_said

MOST_PX = 150.0
"""[px] that the briskest oil creeps in one motion; project choice."""
PREFIXES: tuple[tuple[str, str], ...] = (
    ("engine.", "car"),
    ("oil.", "car"),
    ("tap.", "tap"),
    ("feed.", "feed"),
    ("restrictor.", "restrictor"),
    ("flange_hole.", "restrictor"),
    ("turbo.pitch", "seat"),
    ("turbo.clock", "seat"),
    ("turbo.shaft", "seat"),
    ("turbo.seal", "seat"),
    ("turbo.cavity", "seat"),
    ("turbo.tilt", "seat"),
    ("turbo.", "car"),
    ("drain.", "drain"),
    ("sump.", "sump"),
    ("breather.", "breather"),
    ("scavenge.", "scavenge"),
)
"""Which station a guess belongs to, by how its path begins."""


class WholeCanvas(Canvas):
    """The picture: click a name to go there, a flag to open it; arrow keys walk the places, Enter enters."""

    station: WholeStation

    def __init__(self, station: WholeStation) -> None:
        super().__init__(station, tr("The whole way of the oil"), (420, 300))
        self.picture = whole_way_words.Picture()
        self.over, self.chosen = "", ""
        self.motion = Motion(self)
        self.motion.stepped.connect(self.update)

    def creep(self) -> None:
        """Let the oil creep for a moment, as briskly as it flows; not at all where none does, or where motion is off."""
        self.motion.stop()
        if self.station.session.motion and self.pace() > 0.0:
            self.motion.run()

    def pace(self) -> float:
        """How far the bubbles go in a motion [px]: by this condition's flow over the briskest one's."""
        s = self.station.session
        flows = s.evaluation.feed.flow_m3_s
        return MOST_PX * float(flows[s.condition]) / max(float(flows.max()), 1e-12)

    def ground_key(self) -> Hashable:
        """The whole picture stays while nothing in it changes: bubbles creep over it."""
        s = self.station.session
        return (s.evaluation, s.condition, s.family, self.over, self._walked(), s.ghost)

    def _walked(self) -> str:
        """The place that the keys have walked to; none without the focus."""
        return self.chosen if self.hasFocus() else ""

    def paint_ground(self, painter: QPainter) -> None:
        """The whole way, in the chosen condition."""
        s = self.station.session
        self.picture = whole_way.paint(
            Ink(painter, self.station.colours, s.family),
            self.area,
            s.evaluation,
            s.condition,
            s.findings,
            self.station.guesses(),
            self.over,
            self._walked(),
            s.ghost,
        )

    def paint(self, painter: QPainter) -> None:
        """The bubbles, while the oil creeps."""
        if self.motion.isActive():
            ink, k = Ink(painter, self.station.colours), whole_way.scale_of(self.area)
            whole_way.paint_beads(ink, self.picture.way, self.pace() * self.motion.share, k)

    def hovered(self, at: QPointF | None) -> None:
        """Lift the name under the mouse."""
        key = self.picture.place_at(at) if at is not None else ""
        flag = self.picture.flag_at(at) if at is not None else ""
        self.setCursor(Qt.CursorShape.PointingHandCursor if key or flag else Qt.CursorShape.ArrowCursor)
        if key != self.over:
            self.over = key
            self.update()

    def clicked(self, at: QPointF) -> None:
        """Open a flag, or go to a station."""
        flag = self.picture.flag_at(at)
        if flag:
            self.station.open_flag(flag)
            return
        self.station.close_card()
        key = self.picture.place_at(at)
        if key:
            self.station.went.emit(key)

    def pressed(self) -> list[Voice]:
        """Every station's name with how it stands, and every flag with its sentence."""
        s = self.station.session
        found = {f.key: f for f in s.findings}
        worst: dict[str, str] = {}
        for f in s.findings:  # the hardest come first
            worst.setdefault(f.station, SEVERITY_VERDICT[f.severity])
        places = [
            Voice(
                whole_way_words.NAMES[place.key],
                place.rect,
                verdict_said(worst.get(place.key, "holds")),
                press=partial(self.station.went.emit, place.key),
            )
            for place in self.picture.places
        ]
        flags = [
            Voice(
                f"{tr(SEVERITY_VERDICT[found[key].severity])}: {found[key].title}",
                rect,
                found[key].text(s.family),
                press=partial(self.station.open_flag, key),
            )
            for key, rect in self.picture.flags
            if key in found
        ]
        return places + flags

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Arrows walk the places along the oil, Enter enters, Escape closes a flag."""
        if event is None:
            return
        key, keys = Qt.Key(event.key()), [p.key for p in self.picture.places]
        step = {Qt.Key.Key_Right: 1, Qt.Key.Key_Down: 1, Qt.Key.Key_Left: -1, Qt.Key.Key_Up: -1}.get(key, 0)
        if step and keys:
            now = keys.index(self.chosen) if self.chosen in keys else (-1 if step > 0 else 0)
            self.chosen = keys[(now + step) % len(keys)]
            self.setAccessibleDescription(
                tr("{names}: Enter goes there").format(names=whole_way_words.NAMES[self.chosen])
            )
            self.update()
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and self.chosen:
            self.station.went.emit(self.chosen)
        elif key == Qt.Key.Key_Escape:
            self.station.close_card()
        else:
            super().keyPressEvent(event)


class WholeStation(Station):
    """Gallery to sump in one picture."""

    key = "whole"
    question = tr(
        "From the gallery to the pan: click a name to go there, a flag to see what is wrong and what helps."
    )
    flagged = False

    def build(self) -> None:
        """The picture alone."""
        self.canvas = WholeCanvas(self)
        self.card: FlagCard | None = None
        self._shown: tuple[Evaluation, int] | None = None
        self.column.addWidget(self.canvas, 1)
        self.session.remedies_changed.connect(self._remedies)

    def guesses(self) -> dict[str, int]:
        """Return how many guesses each station rests on."""
        found: dict[str, int] = {}
        for _, short in self.session.evaluation.short_guesses:
            key = next((k for prefix, k in PREFIXES if short.startswith(prefix)), "")
            if key:
                found[key] = found.get(key, 0) + 1
        return found

    def refresh(self) -> None:
        """Draw it again."""
        if self.card is not None and self.card.card.finding not in self.session.findings:
            self.close_card()
        shown = (self.session.evaluation, self.session.condition)
        if shown != self._shown:
            self._shown = shown
            self.canvas.creep()
        self.canvas.update()

    def show_ghost(self) -> None:
        """The remedied way over the present one."""
        self.canvas.motion.stop()
        self.canvas.update()

    def open_flag(self, key: str) -> None:
        """Open a finding's card beside its flag."""
        self.close_card()
        finding = next((f for f in self.session.findings if f.key == key), None)
        rect = next((r for k, r in self.canvas.picture.flags if k == key), None)
        if finding is None or rect is None:
            return
        card = FindingCard(self.session, finding, True)
        card.limit_asked.connect(self.flags.limit_asked)
        self.card = FlagCard(card, self.canvas)
        self.card.closed.connect(self.close_card)
        width = min(CARD_WIDTH, self.canvas.width() - 20)
        high = min(max(card.heightForWidth(width), 160) + 6, self.canvas.height() - 12)
        x = min(max(int(rect.left()), 8), self.canvas.width() - width - 8)
        below = int(rect.bottom()) + 4
        y = below if below + high < self.canvas.height() else max(int(rect.top()) - high - 4, 6)
        self.card.setGeometry(QRect(x, y, width, high))
        self.card.show()
        if finding.condition_index >= 0:
            self.session.choose_condition(finding.condition_index)

    def close_card(self) -> None:
        """Close what is open."""
        if self.card is not None:
            self.card.hide()
            self.card.deleteLater()
            self.card = None

    def _remedies(self) -> None:
        if self.card is not None:
            self.card.card.fill_remedies()
