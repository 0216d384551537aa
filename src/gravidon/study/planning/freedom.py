# SPDX-License-Identifier: GPL-3.0-or-later
"""How free a plan is: what holds every choice by what the builder has said, and which values that leaves."""

from __future__ import annotations

import math
from collections.abc import Iterable
from dataclasses import dataclass

from gravidon.errors import InputError
from gravidon.plan import paths
from gravidon.plan.fields import Known
from gravidon.plan.model import Plan
from gravidon.plan.model_freedom import CHOICES as NAMES
from gravidon.plan.model_freedom import Hold
from gravidon.study.planning.choices import CHOICES, Choice, carries_tee, places
from gravidon.translate import commas
from gravidon.words.text import N_, tr

SAID, MEASURED, DONE, TEE = (
    N_("said"),
    N_("measured"),
    N_("that step of the build is done"),
    N_("another drain joins it"),
)
"""Why a choice is held."""


@dataclass(frozen=True)
class Held:
    """How a choice stands: the hold, and why (empty: it is open by default)."""

    choice: Choice
    turbo: int
    hold: Hold
    why: str

    @property
    def state(self) -> str:
        """Locked, limited or open."""
        return self.hold.state


def held(plan: Plan, choice: Choice, k: int) -> Held:
    """Return how one choice of a plan is held: as the builder said, else locked where he measured it or has done it."""
    k = 0 if choice.known.shared else k
    said = {h.key: h for h in plan.holds}.get((choice.name, k))
    if said is not None:
        return Held(choice, k, said, SAID)
    why = _settled(plan, choice, k)
    state = "locked" if why else "open"
    return Held(choice, k, Hold(choice=choice.name, turbo=k, state=state), why)  # type: ignore[arg-type]


def _settled(plan: Plan, choice: Choice, k: int) -> str:
    done = {log.step for log in plan.build.done}
    if any(step.format(k=k) in done for step in choice.known.steps):
        return DONE
    if choice.name in ("route", "drain-ends", "entry-place", "entry-wall") and carries_tee(plan, k):
        return TEE
    root = plan if choice.known.shared else plan.turbos[k]
    for path in choice.known.paths:
        value = paths.get(root, path.format(tap=plan.tap))
        if isinstance(value, Known) and value.basis == "measured":
            return MEASURED
    return ""


def holds(plan: Plan) -> tuple[Held, ...]:
    """Return how every choice of a plan is held, in the order of the oil's way."""
    return tuple(held(plan, choice, k) for choice, k in places(plan))


def allowed(plan: Plan, choice: Choice, k: int, values: Iterable[str] | None = None) -> tuple[str, ...]:
    """Return the values that a choice may take: all there are (or those given) that its hold lets through.

    The plan's own value is among them only if its hold lets it through too.
    """
    found = tuple(choice.values(plan, k) if values is None else values)
    hold = held(plan, choice, k).hold
    own = choice.value(plan, k)
    return tuple(v for v in found if lets(hold, v, own))


def lets(hold: Hold, value: str, own: str) -> bool:
    """Return whether a hold lets a value through, where the plan's own value is `own`."""
    if hold.state == "open":
        return True
    if hold.state == "locked":
        return value == own
    if hold.only and value not in hold.only:
        return False
    number = _number(hold.choice, value)
    if number is None:
        return hold.least is None and hold.most is None if not hold.only else True
    return (hold.least is None or number >= hold.least - 1e-9) and (
        hold.most is None or number <= hold.most + 1e-9
    )


def _number(choice: str, value: str) -> float | None:
    """Return the number that bounds hold: a value itself, or how high an entry is over the rail [mm]."""
    if choice == "entry-place":
        return float(value.split(",")[1])
    try:
        return float(value)
    except ValueError:
        return None


def broken(before: Plan, after: Plan, said: bool = False) -> tuple[str, ...]:
    """Return the names of choices in which a plan breaks what holds another; empty if it keeps to all of it.

    A choice that one of the two does not have (a pump, where none is) holds nothing.

    Args:
        before: the plan that says what holds.
        after: the plan that is looked at.
        said: only what the builder said himself holds, not what follows from what was measured or done.
    """
    found = []
    for it in holds(before):
        choice, k = it.choice, it.turbo
        if said and it.why != SAID:
            continue
        if it.state == "open" or not choice.applies(after, k):
            continue
        if not lets(it.hold, choice.value(after, k), choice.value(before, k)):
            found.append(choice.name)
    return tuple(found)


def with_hold(plan: Plan, hold: Hold) -> Plan:
    """Return the plan with one choice held another way.

    Raises: InputError for a turbo that the plan does not have.
    """
    if hold.turbo >= len(plan.turbos):
        raise InputError("turbo", hold.turbo + 1, tr("1 to {count}").format(count=len(plan.turbos)))
    rest = tuple(h for h in plan.holds if h.key != hold.key)
    return plan.model_copy(update={"holds": (*rest, hold)})


def without_hold(plan: Plan, choice: str, k: int = 0) -> Plan:
    """Return the plan with nothing said about a choice: what was measured or done holds it again."""
    key = (choice, 0 if NAMES[choice].shared else k)
    return plan.model_copy(update={"holds": tuple(h for h in plan.holds if h.key != key)})


def read_hold(plan: Plan, text: str) -> Hold:
    """Return what a builder's words hold: 'clock' locks it, 'clock=open' opens it, 'entry-means=tapped,bulkhead' lists what may
    be, 'restrictor=0.9..2.2' and 'entry-place=-60..-20' (above the rail) give bounds; 'drain-size@2=-10' is the second turbo's.

    Raises: InputError naming the choice and what was expected.
    """
    name, equals, wanted = text.partition("=")
    name, at, number = name.strip().partition("@")
    if name not in CHOICES:
        raise InputError("lock", name, tr("one of {known}").format(known=commas(CHOICES)))
    k = int(number) - 1 if number.isdigit() else (0 if not at else -1)
    if not 0 <= k < len(plan.turbos):
        raise InputError(
            "lock", text, tr("a turbo from 1 to {count} after '@'").format(count=len(plan.turbos))
        )
    choice = CHOICES[name]
    if not equals or wanted == "locked":
        return Hold(choice=name, turbo=k, state="locked")
    if wanted == "open":
        return Hold(choice=name, turbo=k, state="open")
    low, dots, high = wanted.partition("..")
    if dots and (choice.known.numeric or name == "entry-place"):
        try:
            least, most = (float(v) if v.strip() else None for v in (low, high))
        except ValueError:
            raise InputError(choice.words, wanted, "bounds such as 0.9..2.2") from None
        if least is None and most is None:
            raise InputError(choice.words, wanted, "at least one bound, such as 0.9.. or ..2.2")
        if not all(v is None or math.isfinite(v) for v in (least, most)):
            raise InputError(choice.words, wanted, "finite bounds such as 0.9..2.2")
        if least is not None and most is not None and least > most:
            raise InputError(choice.words, wanted, "the least before the most")
        return Hold(choice=name, turbo=k, state="limited", least=least, most=most)
    if name == "entry-place":
        return Hold(choice=name, turbo=k, state="limited", only=(choice.read(wanted, plan, k),))
    only = tuple(choice.read(v, plan, k) for v in wanted.split(";" if ";" in wanted else ",") if v.strip())
    return Hold(choice=name, turbo=k, state="limited", only=only)


@dataclass(frozen=True)
class Wont:
    """Something a builder says: its words, and the holds it means for a turbo of a plan."""

    key: str
    words: str
    means: tuple[tuple[str, str], ...]

    def holds(self, plan: Plan, k: int) -> tuple[Hold, ...]:
        """Return the holds it means, for those choices that the plan has."""
        return tuple(
            read_hold(plan, f"{name}@{k + 1}{f'={value}' if value else ''}")
            for name, value in self.means
            if CHOICES[name].applies(plan, k)
        )

    def said(self, plan: Plan, k: int) -> bool:
        """Return whether a plan says it."""
        asked = self.holds(plan, k)
        return bool(asked) and all(h in plan.holds for h in asked)


def with_wont(plan: Plan, k: int, wont: Wont, on: bool) -> Plan:
    """Return the plan with something that its builder won't do said, or no longer said; who leaves the pan on builds so.

    Raises: InputError for a turbo that the plan does not have.
    """
    for hold in wont.holds(plan, k):
        plan = with_hold(plan, hold) if on else without_hold(plan, hold.choice, hold.turbo)
    if wont.key == PAN_STAYS:
        build = plan.build.model_copy(update={"pan": "pan on, grease and a stop" if on else "pan off"})
        plan = plan.model_copy(update={"build": build})
    return plan


def choice_of(plan: Plan, path: str) -> tuple[Choice, int] | None:
    """Return the choice that decides what stands at a plan path, and for which turbo; None if none does."""
    steps = path.split(".")
    k = int(steps[1]) if steps[0] == "turbos" and len(steps) > 2 else 0
    below = ".".join(steps[2:]) if steps[0] == "turbos" else path
    for choice in CHOICES.values():
        if choice.known.shared != (steps[0] != "turbos"):
            continue
        for own in (p.format(tap=plan.tap) for p in choice.known.paths):
            if below == own or below.startswith(f"{own}."):
                return (choice, k) if choice.applies(plan, k) else None
    return None


PAN_STAYS = "pan-off"
WONTS: tuple[Wont, ...] = (
    Wont("weld", N_("No welding"), (("entry-means", "tapped,bulkhead"),)),
    Wont(PAN_STAYS, N_("Pan stays on"), (("entry-means", "tapped"),)),
    Wont("hole", N_("No new hole"), (("entry-wall", ""), ("entry-place", ""), ("entry-means", ""), ("entry-thread", ""))),
    Wont("hose", N_("Drain hose stays"), (("drain-size", ""), ("drain-ends", ""))),
    Wont("feed", N_("Feed hose stays"), (("feed-size", ""), ("feed-end", ""))),
    Wont("turn", N_("Housing stays"), (("clock", ""), ("tilt", ""))),
    Wont("pump", N_("No pump"), (("drain-by", "gravity"),)),
    Wont("tap", N_("Tap stays"), (("tap", ""),)),
)  # fmt: skip
"""What builders say they won't do."""
