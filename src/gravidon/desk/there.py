# SPDX-License-Identifier: GPL-3.0-or-later
"""What Qt always gives although its types allow None, and the little that is done with it everywhere."""

from __future__ import annotations

from typing import TypeVar

from PyQt6.QtWidgets import QLayout, QWidget

Thing = TypeVar("Thing")


def there(thing: Thing | None) -> Thing:
    """Return a thing that is never None where it is asked for.

    Raises: LookupError if it is, which is a mistake in the program.
    """
    if thing is None:
        raise LookupError("Qt gave nothing where it always gives something")
    return thing


def restyle(widget: QWidget) -> None:
    """Let a changed property show in the widget's style."""
    style = there(widget.style())
    style.unpolish(widget)
    style.polish(widget)


def emptied(layout: QLayout, keep: int = 0) -> None:
    """Take the widgets out of a layout from its end, all but the first few."""
    while layout.count() > keep:
        item = layout.takeAt(layout.count() - 1)
        widget = item.widget() if item is not None else None
        if widget is not None:
            widget.hide()
            widget.deleteLater()
