# SPDX-License-Identifier: GPL-3.0-or-later
"""The window's parts by F6: head, verdict, rail, station, findings, deck; each gives the keyboard to its first place."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QApplication, QWidget


def first_place(region: QWidget) -> QWidget | None:
    """Return the first widget of a part that Tab would reach; the part itself if it takes the keyboard; None if nothing does."""
    if _takes(region):
        return region
    at = region.nextInFocusChain()
    while at is not None and at is not region:
        if region.isAncestorOf(at) and _takes(at):
            return at
        at = at.nextInFocusChain()
    return None


def _takes(widget: QWidget) -> bool:
    tabbed = Qt.FocusPolicy.TabFocus.value & widget.focusPolicy().value
    return bool(tabbed) and widget.isVisible() and widget.isEnabled()


def step(regions: Sequence[QWidget], by: int) -> QWidget | None:
    """Give the keyboard to the next part in sight (or the one before), and return where it went; None where nothing takes it."""
    now = QApplication.focusWidget()
    shown = [r for r in regions if r.isVisible()]
    at = next((k for k, r in enumerate(shown) if now is not None and (r is now or r.isAncestorOf(now))), -by)
    for k in range(1, len(shown) + 1):
        place = first_place(shown[(at + by * k) % len(shown)])
        if place is not None:
            place.setFocus(Qt.FocusReason.TabFocusReason if by > 0 else Qt.FocusReason.BacktabFocusReason)
            return place
    return None
