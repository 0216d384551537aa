# SPDX-License-Identifier: GPL-3.0-or-later
"""Who does the work of a search: this thread, or worker processes beside it. Answers come in the order of the questions."""

from __future__ import annotations

import os
from collections.abc import Callable, Iterable, Iterator, Sequence
from concurrent.futures import CancelledError, ProcessPoolExecutor
from multiprocessing import get_context, parent_process
from multiprocessing.connection import wait
from threading import Thread
from typing import Any, Protocol, TypeVar

Question = TypeVar("Question")
Answer = TypeVar("Answer")
WORKERS = 2
"""Worker processes at most; project choice."""
LUMP = 4
"""Questions that a worker takes at a time; project choice."""


class Crew(Protocol):
    """Answers many questions."""

    def ask(self, work: Callable[[Question], Answer], questions: Sequence[Question]) -> Iterable[Answer]:
        """Yield the answers to questions, in their order."""


class Stopped(Exception):
    """The crew was let go while it was asked: whoever asks is to stop too."""


class Alone:
    """This thread."""

    def ask(self, work: Callable[[Question], Answer], questions: Sequence[Question]) -> Iterable[Answer]:
        """Yield the answers, one at a time."""
        return map(work, questions)

    def close(self) -> None:
        """Nothing to let go of."""


def _ready() -> None:
    """Keep a worker's own libraries to one thread, load what it will need, and leave interrupts to the window."""
    import signal

    signal.signal(signal.SIGINT, signal.SIG_IGN)
    Thread(target=_end_with_parent, daemon=True).start()
    from gravidon.study.planning import look  # noqa: F401


def _end_with_parent() -> None:
    """End when the process that asks is gone, however it went: nobody is left to answer to."""
    parent = parent_process()
    if parent is not None:
        wait([parent.sentinel])
        os._exit(0)


class Workers:
    """Processes of their own: the window's thread only waits."""

    def __init__(self, count: int | None = None) -> None:
        os.environ.setdefault("OMP_NUM_THREADS", "1")
        os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")
        self.closed = False
        self._pool = ProcessPoolExecutor(
            count or max(min(os.cpu_count() or 1, WORKERS), 1), get_context("spawn"), initializer=_ready
        )

    def ask(self, work: Callable[[Question], Answer], questions: Sequence[Question]) -> Iterator[Answer]:
        """Return the answers in order as they come; the work begins at once.

        Raises: Stopped where the crew was let go meanwhile; BrokenProcessPool if a process was killed.
        """
        return self._until_closed(
            lambda: self._pool.map(work, questions, chunksize=self._lump(len(questions)))
        )

    @staticmethod
    def _lump(count: int) -> int:
        return LUMP if count > 3 * LUMP else 1

    def _until_closed(self, begin: Callable[[], Iterator[Answer]]) -> Iterator[Answer]:
        try:
            answers = begin()
        except RuntimeError as error:
            if self.closed:
                raise Stopped from error
            raise

        def passed_on() -> Iterator[Answer]:
            try:
                yield from answers
            except (CancelledError, RuntimeError) as error:
                if self.closed:
                    raise Stopped from error
                raise

        return passed_on()

    def warm(self) -> None:
        """Let the processes start while there is nothing to do yet."""
        for _ in range(WORKERS):
            self._pool.submit(_nothing)

    def close(self) -> None:
        """Stop: what is under way is dropped."""
        self.closed = True
        self._pool.shutdown(wait=False, cancel_futures=True)


def _nothing() -> Any:
    return None
