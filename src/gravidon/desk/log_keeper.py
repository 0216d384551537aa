# SPDX-License-Identifier: GPL-3.0-or-later
"""The logbook of the plan in the window: beside its file once it has one, in a file of its own until then."""

from __future__ import annotations

import shutil
import uuid
from collections.abc import Callable, Iterable
from dataclasses import replace
from pathlib import Path

from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from gravidon.desk.preferences import state_folder
from gravidon.errors import GravidonError
from gravidon.records import recording as recordings
from gravidon.records.book import SUFFIX, Book, book_path, recordings_folder
from gravidon.records.entry import Entry
from gravidon.records.recording import Recording
from gravidon.translate import commas, tr

LOOK_MS = 2000
"""[ms] between two looks whether another window has written; project choice."""


class LogKeeper(QObject):
    """Opens, follows and closes the logbook; views read `entries` and call its verbs."""

    changed = pyqtSignal()
    refused = pyqtSignal(str)

    def __init__(self, parent: QObject | None = None, folder: Path | None = None) -> None:
        super().__init__(parent)
        self._folder = folder
        self._plan: Path | None = None
        self._book: Book | None = None
        self._seen = 0
        self._entries: tuple[Entry, ...] | None = None
        self._shipped: tuple[Entry, ...] = ()
        self._left_out: tuple[str, ...] = ()
        self.touched = False
        """Whether something was written into a logbook that has no plan file to stand beside."""
        self.taken_out: Entry | None = None
        self._timer = QTimer(self)
        self._timer.setInterval(LOOK_MS)
        self._timer.timeout.connect(self.look)

    # --- which logbook ---------------------------------------------------------------------

    def begin(self, plan: Path | None, shipped: Iterable[Entry] = (), adopted: Path | None = None) -> None:
        """Another plan is in the window. `shipped` are the entries of a demo; `adopted` is a logbook that a crash left."""
        self.close()
        self._plan, self._shipped = plan, tuple(shipped)
        self._entries = None
        self.taken_out = None
        if adopted is not None and adopted.is_file():
            self._book = self._opened(adopted)
            self.touched = self._book is not None
        self.changed.emit()

    def moved(self, plan: Path) -> None:
        """The plan was saved: its logbook goes beside it.

        Raises: LogbookError if it cannot be written; the old one is then kept.
        """
        if plan == self._plan:
            return
        target = book_path(plan)
        if self._book is not None and (self.entries or self.touched) and target != self._book.path:
            old, there = self._book, target.exists()
            new = Book(target) if there else old.copy_to(target)
            joined = new.join(old) if there else 0
            self._move_recordings(old.path, target)
            self.close()
            self._book = new
            self._timer.start()
            if joined:
                words = tr("{name} was there already: {count} entries of this plan were added to it")
                self.refused.emit(words.format(name=target.name, count=joined))
        else:
            self.close()
        self._plan, self._entries = plan, None
        self.touched = False
        self.changed.emit()

    @staticmethod
    def _move_recordings(old: Path | None, target: Path) -> None:
        if old is None:
            return
        before, after = recordings_folder(old), recordings_folder(target)
        if not before.is_dir():
            return
        after.mkdir(exist_ok=True)
        for one in before.iterdir():
            if one.is_file() and not (after / one.name).exists():
                shutil.copy2(one, after / one.name)

    def close(self) -> None:
        """Let it go; one that stands beside no plan is thrown away."""
        self._timer.stop()
        if self._book is not None:
            path = self._book.path
            self._book.close()
            if self._plan is None and path is not None:
                _drop(path)
        self._book = None
        self.touched = False

    @property
    def path(self) -> Path | None:
        """Where the logbook is; None before there is one."""
        return self._book.path if self._book is not None else None

    @property
    def book(self) -> Book | None:
        """The logbook, opened or made when first asked for; None if it cannot be."""
        if self._book is None:
            if self._plan is not None:
                self._book = self._opened(book_path(self._plan))
            else:
                folder = self._folder or state_folder()
                self._book = self._opened(folder / f"loose-{uuid.uuid4().hex}{SUFFIX}")
                if self._book is not None and self._shipped:
                    self._book.add(*self._shipped)
        return self._book

    def _opened(self, path: Path) -> Book | None:
        try:
            book = Book(path)
        except GravidonError as error:
            self.refused.emit(str(error))
            return None
        self._seen = book.seen()
        self._timer.start()
        if book.read_only:
            self.refused.emit(tr("{name} can be read here, not written").format(name=path.name))
        return book

    # --- reading ---------------------------------------------------------------------------

    @property
    def entries(self) -> tuple[Entry, ...]:
        """All entries by day. A logbook that is not there is not made for being looked at."""
        if self._entries is None:
            self._entries = self._read()
        return self._entries

    def _read(self) -> tuple[Entry, ...]:
        if self._book is None:
            if self._plan is None:
                return tuple(sorted(self._shipped, key=lambda e: e.day))
            if not book_path(self._plan).is_file():
                return ()
        book = self.book
        try:
            found = book.entries() if book is not None else ()
        except GravidonError as error:
            self.refused.emit(str(error))
            return ()
        if book is not None and book.left_out and book.left_out != self._left_out:
            words = tr("The logbook: left out, because it cannot be used: {what}")
            self.refused.emit(words.format(what=commas(book.left_out[:3])))
        self._left_out = book.left_out if book is not None else ()
        return found

    def look(self) -> None:
        """See whether another window has written."""
        if self._book is None:
            return
        if self._book.replaced:
            self._open_anew()
            return
        seen = self._book.seen()
        if seen != self._seen:
            self._seen = seen
            self._entries = None
            self.changed.emit()

    def _open_anew(self) -> None:
        """The file was replaced or deleted under the window: what is there now counts, and it is said."""
        book = self._book
        if book is None or book.path is None:
            return
        name = book.path.name
        self._timer.stop()
        book.close()
        self._book = self._entries = None
        self.refused.emit(
            tr("{name} was replaced or deleted by another program; what is there now is shown").format(
                name=name
            )
        )
        self.changed.emit()

    # --- writing ---------------------------------------------------------------------------

    def add(self, *entries: Entry) -> bool:
        """Add entries; return whether they are kept."""
        return self._do(lambda book: book.add(*entries))

    def change(self, entry: Entry) -> bool:
        """Put an entry in the place of the one of its name; return whether it is kept."""
        return self._do(lambda book: book.change(entry))

    def remove(self, entry: Entry) -> bool:
        """Take an entry out; `bring_back` puts it back."""
        book = self.book
        try:
            photo = book.photo(entry.uid) if book is not None and entry.has_photo else None
        except GravidonError as error:
            self.refused.emit(str(error))
            return False
        if not self._do(lambda book: book.remove(entry.uid)):
            return False
        self.taken_out = replace(entry, photo=photo)
        return True

    def bring_back(self) -> bool:
        """Put the entry back that was taken out last."""
        entry = self.taken_out
        if entry is None or not self.add(entry):
            return False
        self.taken_out = None
        return True

    def _do(self, action: Callable[[Book], None]) -> bool:
        if self._book is not None and self._book.replaced:
            self._open_anew()
            return False
        book = self.book
        if book is None:
            return False
        try:
            action(book)
        except GravidonError as error:
            self.refused.emit(str(error))
            return False
        self._entries = None
        self.touched = self._plan is None
        self.changed.emit()
        return True

    def keep(self, name: str, text: str) -> bool:
        """Keep a text beside the entries under a name; return whether it is kept."""
        return (not text and self._book is None) or self._do(lambda book: book.keep(name, text))

    def kept(self, name: str) -> str:
        """Return a text kept under a name; empty where there is none. A logbook that is not there is not made for being looked at."""
        there_is_one = self._plan is not None and book_path(self._plan).is_file()
        book = self._book or (self.book if there_is_one else None)
        return book.kept(name) if book is not None else ""

    def keep_recording(self, made: Recording, name: str) -> str:
        """Keep a recording beside the logbook; return its file's name, empty if it could not be kept."""
        book = self.book
        if book is None or book.path is None:
            return ""
        folder = recordings_folder(book.path)
        try:
            folder.mkdir(parents=True, exist_ok=True)
            path, n = folder / f"{name}{recordings.SUFFIX}", 2
            while path.exists():
                path, n = folder / f"{name}-{n}{recordings.SUFFIX}", n + 1
            recordings.save(made, path)
        except (OSError, GravidonError) as error:
            self.refused.emit(str(error))
            return ""
        return path.name

    def recording(self, entry: Entry) -> Path | None:
        """Return where an entry's recording is; None if it has none, or it is gone."""
        if not entry.recording or self.path is None:
            return None
        path = recordings_folder(self.path) / Path(entry.recording).name
        return path if path.is_file() else None


def _drop(path: Path) -> None:
    """Throw a logbook away that stood beside no plan, with what stands beside it."""
    for tail in ("", "-wal", "-shm"):
        path.with_name(path.name + tail).unlink(missing_ok=True)
    shutil.rmtree(recordings_folder(path), ignore_errors=True)
