# SPDX-License-Identifier: GPL-3.0-or-later
"""Every error Gravidon raises on purpose.

GravidonError
├── InputError            a value that cannot be used; names field, value, expectation
│   ├── UnitError         text that is not a number with a unit of the right kind
│   └── PhysicsError      an argument outside what an equation can take
├── PlanFileError         a plan file that cannot be read or written
│   ├── NewerFormatError  written by a later version of Gravidon
│   └── ChangedOnDiskError  not what was read: somebody else wrote it since
├── LogbookError          a logbook that cannot be opened, read or written
└── SolverError           a balance that could not be closed
"""

from __future__ import annotations

from gravidon.translate import tr


class GravidonError(Exception):
    """Base of all errors with a message meant for the person at the screen."""


class InputError(GravidonError):
    """A value that cannot be used.

    Args:
        field: what the person calls the field, or its path in the plan.
        value: what was given.
        expected: what would have been accepted, with units.
    """

    def __init__(self, field: str, value: object, expected: str) -> None:
        self.field = field
        self.value = value
        self.expected = expected
        shown = repr(value)
        if len(shown) > 60:
            shown = shown[:57] + "..."
        super().__init__(
            tr("{field}: {value} cannot be used; expected {expected}").format(
                field=tr(field), value=shown, expected=tr(expected)
            )
        )


class UnitError(InputError):
    """Typed text that is not a number with a unit of the right kind."""


class PhysicsError(InputError):
    """An argument outside what an equation can take."""


class PlanFileError(GravidonError):
    """A plan file that cannot be read or written; `field` names the place where known."""

    def __init__(self, message: str, field: str = "") -> None:
        self.field = field
        super().__init__(message)


class NewerFormatError(PlanFileError):
    """The file was written by a later version of Gravidon."""


class ChangedOnDiskError(PlanFileError):
    """The file is not what was read from it: another window or program wrote it since."""


class LogbookError(GravidonError):
    """A logbook that cannot be opened, read or written."""


class SolverError(GravidonError):
    """A balance that could not be closed."""
