# SPDX-License-Identifier: GPL-3.0-or-later
"""When something goes wrong inside: nothing ends, the plan is kept, it is said in words, and a report can be written.

`MISHAPS.install()` takes over from the interpreter what no one caught: in a slot, in a paint, in a thread. The window
listens to `happened`.
"""

from __future__ import annotations

import platform
import sys
import threading
import traceback
from types import TracebackType

from PyQt6.QtCore import PYQT_VERSION_STR, QT_VERSION_STR, QObject, pyqtSignal

from gravidon import __version__
from gravidon.plan.model import Plan
from gravidon.plan.storage import plan_to_text


class Mishaps(QObject):
    """Where errors that nobody caught end up."""

    happened = pyqtSignal(str)
    """The trace of an error; one that repeats is told once."""

    def __init__(self) -> None:
        super().__init__()
        self.latest = ""

    def install(self) -> None:
        """Take over what is not caught in slots and threads."""
        sys.excepthook = self._uncaught
        threading.excepthook = lambda args: self._uncaught(
            args.exc_type, args.exc_value or args.exc_type(), args.exc_traceback
        )

    def tell(self, error: BaseException) -> None:
        """Tell of an error that was caught where nothing better could be done about it."""
        trace = "".join(traceback.format_exception(error))
        print(trace, file=sys.stderr)
        if trace != self.latest:
            self.latest = trace
            self.happened.emit(trace)

    def _uncaught(self, kind: type[BaseException], error: BaseException, trace: TracebackType | None) -> None:
        if issubclass(kind, KeyboardInterrupt):
            sys.__excepthook__(kind, error, trace)
            return
        self.tell(error)


MISHAPS = Mishaps()


def report_text(trace: str, plan: Plan | None) -> str:
    """Return a report: versions, the trace, and the plan where the builder wants it in."""
    import numpy

    parts = [
        f"Gravidon {__version__}",
        f"Python {platform.python_version()}, Qt {QT_VERSION_STR}, PyQt {PYQT_VERSION_STR}, NumPy {numpy.__version__}",
        f"{platform.system()} {platform.release()}, {platform.machine()}",
        "",
        trace,
    ]
    if plan is not None:
        parts += ["", plan_to_text(plan)]
    return "\n".join(parts)
