# SPDX-License-Identifier: GPL-3.0-or-later
"""From a message and numbers to a sentence in a unit family.

Templates stand in tables as plain literals marked with `N_`, so that an extractor finds them; they are translated
when shown (gettext domain "gravidon", catalogues under words/locale) and filled after that.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass
from typing import TypeAlias

from gravidon.plan.units import Family, show
from gravidon.translate import N_, number, tr, trn

__all__ = [
    "N_",
    "Amount",
    "Message",
    "Number",
    "Said",
    "Wording",
    "capital",
    "comes_after",
    "fill",
    "tr",
    "trn",
]


@dataclass(frozen=True)
class Amount:
    """A number with its kind of unit, in SI."""

    value: float
    kind: str


Number: TypeAlias = "Amount | float | int | str | Said"
"""What a template may be filled with: an amount, a bare number, a name, or what is said in its turn."""


@dataclass(frozen=True)
class _Shown:
    """An amount as it is written in one unit family; '%' writes a share in per cent, 'bare' leaves the unit out."""

    amount: Amount
    family: Family

    def __format__(self, spec: str) -> str:
        if spec == "%":
            return number(self.amount.value, ".0%")
        return show(self.amount.value, self.amount.kind, self.family, with_unit=spec != "bare")


def fill(template: str, numbers: Mapping[str, Number], family: Family) -> str:
    """Return a template, translated, with its numbers written in a unit family.

    Raises: KeyError if the template names a number that is not there.

    >>> fill("It gets {have}.", {"have": Amount(1e5, "kpa")}, "metric").replace(chr(0x202F), " ")
    'It gets 1.00 bar.'
    """
    shown = {
        k: _Shown(n, family) if isinstance(n, Amount) else n.text(family) if isinstance(n, Said) else n
        for k, n in numbers.items()
    }
    return tr(template).format(**shown)


def comes_after(seconds: float) -> str:
    """Return how long something takes to come, in words where it never does.

    >>> comes_after(2.25).replace(chr(0x202F), " "), comes_after(float("inf"))
    ('2.2 s', 'never')
    """
    return show(seconds, "s", "metric") if math.isfinite(seconds) else tr("never")


VERDICTS = {"holds": N_("passes"), "watch": N_("warnings"), "fails": N_("fails")}
"""What is said of a plan, a condition or a station, by the verdict's key."""
SEVERITIES = {"bad": N_("fails"), "watch": N_("warning"), "note": N_("note")}
"""What is said of a finding, by its severity."""


def verdict_said(verdict: str) -> str:
    """Return a verdict in the reader's language.

    >>> verdict_said("watch")
    'warnings'
    """
    return tr(VERDICTS[verdict])


def capital(text: str) -> str:
    """Return text with a capital first letter, the rest as it is."""
    return text[:1].upper() + text[1:]


@dataclass(frozen=True)
class Said:
    """Words to be said later: a template and its numbers."""

    template: str
    numbers: Mapping[str, Number]

    def text(self, family: Family) -> str:
        """Return it in a unit family."""
        return fill(self.template, self.numbers, family)


Wording = str | Mapping[str, str]
"""One template, or several by the variant that applies."""


@dataclass(frozen=True)
class Message:
    """What a finding says: templates with `N_` of its title (by severity where several), its
    sentence and its reason (by variant where several)."""

    title: Wording
    text: Wording
    why: Wording

    def heading(self, severity: str) -> str:
        """Return the template of the title. Raises: KeyError for a severity it does not have."""
        return self.title if isinstance(self.title, str) else self.title[severity]

    def sentence(self, variant: str) -> str:
        """Return the template of the sentence. Raises: KeyError for a variant it does not have."""
        return self.text if isinstance(self.text, str) else self.text[variant]

    def reason(self, variant: str) -> str:
        """Return the template of the reason. Raises: KeyError for a variant it does not have."""
        return self.why if isinstance(self.why, str) else self.why[variant]
