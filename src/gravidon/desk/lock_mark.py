# SPDX-License-Identifier: GPL-3.0-or-later
"""The padlock beside a value: whether the choice that decides it is held, and the menu that holds or opens it."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QRectF
from PyQt6.QtWidgets import QLineEdit, QMenu, QWidget

from gravidon.desk.session import Session
from gravidon.desk.theme import PALETTES
from gravidon.desk.there import there
from gravidon.draw import marks
from gravidon.draw.ink import Ink
from gravidon.draw.surface import painter_on
from gravidon.plan.model import Hold
from gravidon.words.text import tr

MARK_PX = 11.0


STATES = {"locked": tr("locked"), "limited": tr("limited"), "open": tr("open")}
"""How a choice is held, in words."""


class LockMark:
    """A widget's padlock; drawn where its choice is locked or limited, nothing where it is open or is no choice."""

    def __init__(self, widget: QWidget, session: Session, place: Callable[[], str]) -> None:
        self.widget, self.session, self.place = widget, session, place
        self.state, self.why = "", ""
        self._of: tuple[object, str] = (None, "")

    def refresh(self) -> None:
        """See how the choice stands now."""
        plan, path = self.session.plan, self.place()
        if self._of[0] is plan and self._of[1] == path:
            return
        self._of = plan, path
        from gravidon.study.planning.freedom import choice_of, held

        found = choice_of(plan, path)
        now = held(plan, *found) if found is not None else None
        self.state = now.state if now is not None else ""
        self.why = tr(now.why) if now is not None else ""
        shown = self.state in ("locked", "limited")
        if isinstance(self.widget, QLineEdit):
            margins = self.widget.textMargins()
            wanted = int(MARK_PX) + 3 if shown else 0
            if margins.left() != wanted:
                self.widget.setTextMargins(wanted, 0, 0, 0)
        self.widget.update()

    @property
    def words(self) -> str:
        """What a tip says of it, on a line of its own; empty where it is not held."""
        return f"\n{STATES[self.state]}: {self.why}" if self.state in ("locked", "limited") else ""

    def paint(self, right: float = 0.0) -> None:
        """Draw it at the left of the widget, or so many pixels before its right edge."""
        if self.state not in ("locked", "limited"):
            return
        high = self.widget.height()
        x = self.widget.width() - right - MARK_PX if right else 3.0
        at = QRectF(x, 0.5 * (high - MARK_PX), MARK_PX, MARK_PX)
        with painter_on(self.widget) as painter:
            marks.paint_padlock(Ink(painter, PALETTES[self.session.theme]), at, self.state)

    def offer(self, menu: QMenu) -> None:
        """Add to a menu what can be done with the lock."""
        from gravidon.study.planning.freedom import choice_of, with_hold

        found = choice_of(self.session.plan, self.place())
        if found is None:
            return
        choice, k = found
        self.refresh()
        state = "open" if self.state in ("locked", "limited") else "locked"
        menu.addSeparator()
        words = (
            tr("Let the planner change it ({words})").format(words=choice.words)
            if state == "open"
            else tr("Lock it ({words})").format(words=choice.words)
        )
        hold = Hold(choice=choice.name, turbo=k, state=state)  # type: ignore[arg-type]
        there(menu.addAction(words)).triggered.connect(
            lambda _=False: self.session.propose(
                with_hold(self.session.plan, hold), f"{choice.words} {state}"
            )
        )
