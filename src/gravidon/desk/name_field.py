# SPDX-License-Identifier: GPL-3.0-or-later
"""A name in the plan, typed where it stands."""

from __future__ import annotations

from PyQt6.QtWidgets import QLineEdit

from gravidon.desk.session import Session
from gravidon.plan import paths

LONGEST = 80
"""Letters that a name of a part may have."""


class NameField(QLineEdit):
    """Shows and edits a name by its path. What was typed is for the name that stood there: if that has changed meanwhile, by
    undo or because another plan was opened, it is let go."""

    def __init__(self, session: Session, path: str, label: str, step: str) -> None:
        """Show the name.

        Args:
            session: whose plan it is.
            path: of the name, as the session resolves it.
            label: what the field is called.
            step: what a change of it is called in the history.
        """
        super().__init__()
        self.session, self.path, self.step = session, path, step
        self._shown: tuple[int, str] | None = None
        self.setAccessibleName(label)
        self.setMaxLength(LONGEST)
        self.editingFinished.connect(self._commit)
        session.changed.connect(self.refresh)
        self.refresh()

    def _now(self) -> tuple[int, str] | None:
        """Return the name as it stands and in which of the opened plans; None where what it names is gone."""
        try:
            return self.session.opened, str(paths.get(self.session.plan, self.session.resolve(self.path)))
        except (AttributeError, IndexError):
            return None

    def refresh(self) -> None:
        """Show the name as it is, unless one is typing another for it."""
        now = self._now()
        if now is None or (self.isModified() and now == self._shown):
            return
        if self._shown != now:
            self.setText(now[1])
            self.setCursorPosition(0)
            self.setToolTip(now[1])
        self._shown = now
        self.setModified(False)

    def _commit(self) -> None:
        text = self.text().strip()
        if self.isModified() and text and self._shown is not None and self._now() == self._shown:
            self.session.edit(self.path, text, self.step)
        self.setModified(False)
        if self._shown is not None and self._now() == self._shown:
            self.setText(self._shown[1])
