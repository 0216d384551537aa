# SPDX-License-Identifier: GPL-3.0-or-later
"""One plan file, two windows: told when it is open elsewhere or changes on the disk."""

from __future__ import annotations

import hashlib
from pathlib import Path

from PyQt6.QtCore import QFileSystemWatcher, QLockFile, QObject, Qt, pyqtSignal
from PyQt6.QtWidgets import QMessageBox, QWidget

from gravidon.plan.storage import stamp
from gravidon.words.text import tr


class PlanWatch(QObject):
    """Follows the file of the plan in a window; a lock in the state folder says to others that it is open here."""

    told = pyqtSignal(str)

    def __init__(self, folder: Path, parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._folder = folder
        self._path: Path | None = None
        self._stamp = ""
        self._lock: QLockFile | None = None
        self._watcher = QFileSystemWatcher(self)
        self._watcher.fileChanged.connect(self._look)

    def follow(self, path: Path | None, known: str) -> None:
        """Follow a file whose content has a known stamp; None for a plan that has no file yet."""
        self._stamp = known
        if path == self._path:
            self._watch_again()
            return
        self.leave()
        self._path = path
        if path is None:
            return
        self._watch_again()
        name = hashlib.sha256(str(path.resolve()).encode("utf-8", "surrogateescape")).hexdigest()[:24]
        lock = QLockFile(str(self._folder / f"{name}.open"))
        lock.setStaleLockTime(0)
        if lock.tryLock(0):
            self._lock = lock
        elif lock.error() == QLockFile.LockError.LockFailedError:
            self.told.emit(
                tr(
                    "{name} is open in another window too. What one saves, the other is told of before it saves."
                ).format(name=path.name)
            )

    def leave(self) -> None:
        """The window has another plan, or closes."""
        if self._watcher.files():
            self._watcher.removePaths(self._watcher.files())
        if self._lock is not None:
            self._lock.unlock()
        self._lock = self._path = None

    def _watch_again(self) -> None:
        if self._path is not None and str(self._path) not in self._watcher.files() and self._path.exists():
            self._watcher.addPath(str(self._path))

    def _look(self, _path: str) -> None:
        """The file was written or replaced: tell, unless it is what this window knows."""
        self._watch_again()  # a file that is replaced whole is no longer watched
        if self._path is None:
            return
        now = stamp(self._path)
        if now and now != self._stamp:
            self._stamp = now
            self.told.emit(
                tr(
                    "{name} was changed on the disk by another window or program. Your plan here is as it was; saving asks first."
                ).format(name=self._path.name)
            )


def ask_save_over(parent: QWidget, path: Path) -> bool | None:
    """Ask what to do with a file that somebody else wrote since; True to write over it, False to write elsewhere."""
    box = QMessageBox(parent)
    box.setWindowTitle(tr("Changed on the disk"))
    box.setTextFormat(Qt.TextFormat.PlainText)
    box.setText(
        tr("“{name}” was changed by another window or program since it was read here.").format(name=path.name)
    )
    box.setInformativeText(tr("Written over, the other's work goes to the backup file beside it."))
    other = box.addButton(tr("Save under another name …"), QMessageBox.ButtonRole.AcceptRole)
    over = box.addButton(tr("Write over it"), QMessageBox.ButtonRole.DestructiveRole)
    box.addButton(QMessageBox.StandardButton.Cancel)
    box.setDefaultButton(other)
    box.exec()
    clicked = box.clickedButton()
    return None if clicked not in (other, over) else clicked is over
