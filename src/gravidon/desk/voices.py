# SPDX-License-Identifier: GPL-3.0-or-later
"""Painted things speak: each gets a child without a face that tells assistive technology its role, name, state and place."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import partial

from PyQt6.QtCore import QRectF, Qt, QTimer
from PyQt6.QtGui import QPainter, QPaintEvent
from PyQt6.QtWidgets import QAbstractButton, QLabel, QPushButton, QRadioButton, QWidget

from gravidon.draw.told import told

TELL_MS = 500
"""[ms] at rest after which a drawing tells anew what it shows; project choice."""


@dataclass(frozen=True)
class Voice:
    """What is told of a painted thing: its name, where it lies, more about it, whether it is the chosen one (None: nothing to choose), and what pressing it does."""

    name: str
    rect: QRectF
    more: str = ""
    chosen: bool | None = None
    press: Callable[[], object] | None = None

    @property
    def kind(self) -> type[QWidget]:
        """What it is to assistive technology."""
        if self.chosen is not None:
            return Choice
        return Words if self.press is None else Press


class _Faceless:
    def paintEvent(self, event: QPaintEvent | None) -> None:
        """It is painted already."""


class Choice(_Faceless, QRadioButton):
    """One of several, as a station on the rail."""


class Press(_Faceless, QPushButton):
    """Something to be pressed."""


class Words(_Faceless, QLabel):
    """Words in a drawing."""


class Voices:
    """The children that speak for one widget; kept from one telling to the next as far as they still fit."""

    def __init__(self, owner: QWidget) -> None:
        self.owner = owner
        self.made: list[QWidget] = []
        self._acts: dict[QWidget, Callable[[], object] | None] = {}

    def tell(self, voices: Sequence[Voice]) -> None:
        """Tell of these things and no others, in their order; what changed is announced by Qt as a change of name or state."""
        while len(self.made) > len(voices):
            self._drop(self.made.pop())
        for k, voice in enumerate(voices):
            if k < len(self.made) and type(self.made[k]) is not voice.kind:
                for old in self.made[k:]:
                    self._drop(old)
                del self.made[k:]
            if k == len(self.made):
                self.made.append(self._make(voice))
            self._show(self.made[k], voice)

    def _drop(self, child: QWidget) -> None:
        self._acts.pop(child, None)
        child.hide()
        child.deleteLater()

    def _make(self, voice: Voice) -> QWidget:
        child = voice.kind(self.owner)
        child.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        child.setAttribute(Qt.WidgetAttribute.WA_TransparentForMouseEvents)
        child.setAttribute(Qt.WidgetAttribute.WA_NoSystemBackground)
        if isinstance(child, QAbstractButton):
            child.clicked.connect(
                partial(self._pressed, child)
            )  # once: what it does is told anew, not connected anew
        return child

    def _pressed(self, child: QWidget, _checked: bool = False) -> None:
        """Do what the child that was pressed is told to."""
        press = self._acts.get(child)
        if press is not None:
            press()

    def _show(self, child: QWidget, voice: Voice) -> None:
        child.setGeometry(voice.rect.toAlignedRect())
        if isinstance(child, QLabel):
            if child.text() != voice.name:
                child.setText(voice.name)
        elif child.accessibleName() != voice.name:
            child.setAccessibleName(voice.name)
        if child.accessibleDescription() != voice.more:
            child.setAccessibleDescription(voice.more)
        if isinstance(child, QAbstractButton):
            child.setCheckable(voice.chosen is not None)
            child.setChecked(bool(voice.chosen))
            self._acts[child] = voice.press
        if not child.isVisible():
            child.show()


class Telling:
    """A drawing that tells its texts, half a second after it was last painted.

    Args:
        owner: the widget that is painted.
        paint: what paints it; called with a painter that keeps only what is written.
        pressed: what in it can be pressed; it is told first, in place of the texts that lie in it.
    """

    def __init__(
        self,
        owner: QWidget,
        paint: Callable[[QPainter], None],
        pressed: Callable[[], Sequence[Voice]] = tuple,
    ) -> None:
        self.owner, self.paint, self.pressed = owner, paint, pressed
        self.voices = Voices(owner)
        self.said: tuple[str, ...] = ()
        """The texts last told, in reading order."""
        self._timer = QTimer(owner)
        self._timer.setSingleShot(True)
        self._timer.setInterval(TELL_MS)
        self._timer.timeout.connect(self.now)

    def soon(self) -> None:
        """It was painted: tell when it rests."""
        self._timer.start()

    def now(self) -> None:
        """Tell what is drawn now."""
        if not self.owner.isVisible():
            return
        texts = told(self.paint, self.owner.width(), self.owner.height())
        pressed = list(self.pressed())
        voices = pressed + [
            Voice(w.text.strip(), w.rect)
            for w in texts
            if not any(v.rect.contains(w.rect.center()) for v in pressed)
        ]
        self.said = tuple(v.name for v in voices)
        self.voices.tell(voices)
