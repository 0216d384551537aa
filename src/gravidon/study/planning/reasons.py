# SPDX-License-Identifier: GPL-3.0-or-later
"""Why: what decides a plan, what it gives up against the others, what it rests on, what all good plans share, and why not otherwise."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from gravidon.errors import GravidonError
from gravidon.plan.model import Plan
from gravidon.plan.units import Family, show, signed
from gravidon.study.planning.choices import CHOICES, Choice, places
from gravidon.study.planning.freedom import held, lets
from gravidon.study.planning.homes import put_relaid
from gravidon.study.planning.look import Broke, look_whole
from gravidon.study.planning.merit import BY_AXIS, INVASIVE, Merit
from gravidon.study.planning.search import Alternative, Ranked, Takes
from gravidon.study.solve.assemble import point
from gravidon.translate import tr, trn

WORTH_SAYING = {
    "warned": 1.0,
    "sure": 0.08,
    "cost": 5.0,
    "hours": 20.0,
    "joints": 1.0,
    "order": 2.0,
    "invasive": 1.0,
}
"""By axis: the least difference between two plans that is worth a word; project choice."""


def gives_up(mine: Merit, others: Sequence[Merit]) -> tuple[str, ...]:
    """Return what a plan gives up against the best of the others on every axis, in words; empty if nothing worth a word."""
    found = []
    for key, least in WORTH_SAYING.items():
        axis = BY_AXIS[key]
        own = axis.value(mine)
        known = [
            (v, m) for m in others if (v := axis.value(m)) is not None and m.held.grade >= mine.held.grade
        ]
        if own is None or not known:
            continue
        best = max(known, key=lambda it: it[0] if axis.more else -it[0])[0]
        apart = (best - own) * (1.0 if axis.more else -1.0)
        if apart >= least:
            found.append(_less(key, apart, mine, len(others) > 1))
    return tuple(found)


def _less(key: str, apart: float, mine: Merit, several: bool) -> str:
    words = {
        "warned": (trn("{count} more warning", "{count} more warnings", round(apart)), ""),
        "sure": (
            tr("passes {times:.0f} times less in a hundred").format(times=apart * 100),
            tr(" than the surest"),
        ),
        "cost": (tr("{apart:.0f} dearer").format(apart=apart), tr(" than the cheapest")),
        "hours": (tr("{hours:.1f} h more work").format(hours=apart / 60.0), tr(" than the quickest")),
        "joints": (trn("{count} more joint to seal", "{count} more joints to seal", round(apart)), ""),
        "order": (tr("{apart:.0f} more parts to order").format(apart=apart), ""),
        "invasive": (INVASIVE[mine.invasive], tr(", which others spare")),
    }[key]
    return "".join(words) if several else words[0]


# --- what they share -----------------------------------------------------------------------------


@dataclass(frozen=True)
class Shared:
    """A choice that all good plans make alike: choice, turbo, and the sentence."""

    choice: str
    turbo: int
    words: str


SAID: dict[str, str] = {
    "tap": tr("oil from the {value}"),
    "feed-size": tr("a {value} feed"),
    "restrictor": tr("a hole of {value}"),
    "clock": tr("clocked to {value}"),
    "drain-size": tr("a {value} drain"),
    "drain-ends": tr("hose ends of {value}"),
    "entry-means": "{value}",
    "breather": tr("a {value} breather"),
    "drain-by": tr("drained by {value}"),
}
MEANT = {
    "weld bung": tr("welded into the pan"),
    "tapped": tr("tapped into the pan"),
    "bulkhead": tr("through the pan by a bulkhead"),
    "scavenge": tr("a pump"),
}
"""Values that are said otherwise in a sentence."""


def shared(ranked: Sequence[Ranked], family: Family) -> tuple[Shared, ...]:
    """Return what every plan shown does alike, in a few words each; entries also by how high they all are."""
    if len(ranked) < 2:
        return ()
    found: list[Shared] = []
    first = ranked[0].plan
    for choice, k in places(first):
        if not all(choice.applies(r.plan, k) for r in ranked):
            continue
        values = {choice.value(r.plan, k) for r in ranked}
        if len(values) > 1:
            continue
        value = values.pop()
        said = choice.said(value, family)
        if choice.name == "entry-wall":
            ups = [point(r.plan.turbos[k].drain.entry)[2] for r in ranked]
            low, high = max(-max(ups), 0.0), max(-min(ups), 0.0)
            apart = show(high, "run", family)
            if high - low > 1e-3:
                apart = tr("{low} to {apart}").format(
                    low=show(low, "run", family, with_unit=False), apart=apart
                )
            found.append(
                Shared(
                    choice.name,
                    k,
                    _whose(
                        first,
                        k,
                        tr("in by the {wall} wall, {apart} below the rail").format(
                            wall=tr(value), apart=apart
                        ),
                    ),
                )
            )
        elif choice.name in SAID and len(choice.values(first, k)) > 1 and value != "none":
            words = SAID[choice.name].format(value=MEANT.get(said, said))
            found.append(Shared(choice.name, k, _whose(first, k, words)))
    return tuple(found)


def _whose(plan: Plan, k: int, words: str) -> str:
    return f"{words} ({plan.turbos[k].turbo.label})" if len(plan.turbos) > 1 else words


# --- why not -------------------------------------------------------------------------------------


@dataclass(frozen=True)
class WhyNot:
    """The answer to "why not?": the value asked for, the sentence, whether it would hold as well, and the plan tried (None: it
    cannot be made)."""

    choice: str
    turbo: int
    value: str
    words: str
    holds: bool
    plan: Plan | None
    merit: Merit | None = None
    broke: Broke | None = None


def why_not(base: Plan, plan: Plan, choice: Choice, k: int, value: str, family: Family = "metric") -> WhyNot:
    """Return why a plan does not have another value of a choice: tried, with its drain laid anew where that moves its ends.

    Args:
        base: the plan that says what may change.
        plan: the plan that is asked about.
        choice: which choice.
        k: which turbo.
        value: the value asked for.
        family: units of the sentence.

    Raises: GravidonError if the plan asked about cannot be computed.
    """
    said = _named(choice, value, family)
    if not choice.applies(plan, k):
        return WhyNot(
            choice.name,
            k,
            value,
            tr("{said}: this plan has no {words}").format(said=said, words=choice.words),
            False,
            None,
        )
    if not lets(held(base, choice, k).hold, value, choice.value(base, k)):
        return WhyNot(
            choice.name, k, value, tr("{said}: you have locked it out").format(said=said), False, None
        )
    if value == choice.value(plan, k):
        return WhyNot(
            choice.name, k, value, tr("{said}: that is what this plan has").format(said=said), True, plan
        )
    made = put_relaid((base, plan, k, choice.name, value))
    found = look_whole(made) if made is not None else None
    if made is None or found is None:
        return WhyNot(choice.name, k, value, f"{said}: {_cannot(base, plan, choice, k, value)}", False, None)
    now = look_whole(plan)
    if now is None:
        raise GravidonError(tr("the plan asked about cannot be computed"))
    words = verdict_of(said, found.merit, found.broke, now.merit, family)
    return WhyNot(choice.name, k, value, words, found.grip.grade == 2, made, found.merit, found.broke)


def _cannot(base: Plan, plan: Plan, choice: Choice, k: int, value: str) -> str:
    try:
        made = choice.put(plan, k, value)
    except (GravidonError, ValueError) as error:
        return str(error)
    from gravidon.study.planning.ways import NoWay, drain_way

    way = drain_way(made, k)
    return (
        tr("no way for its hose: {why}").format(why=way.why)
        if isinstance(way, NoWay)
        else tr("it cannot be computed")
    )


def lost_words(alternative: Alternative, best: Merit, family: Family) -> str:
    """Return why a value lost, in one sentence: the first thing that broke in the best plan that was tried with it."""
    said = _named(CHOICES[alternative.choice], alternative.value, family)
    return verdict_of(said, alternative.merit, alternative.broke, best, family)


def takes_words(it: Takes, family: Family) -> str:
    """Return what it takes to pass, in one sentence: what nothing passes with, what does, and what that costs more."""
    choice = CHOICES[it.choice]
    words = tr("With {was} nothing that was tried passes; with {now} it does").format(
        was=_named(choice, it.was, family), now=_named(choice, it.now, family)
    )
    if it.without is None:
        return words
    hours = (it.merit.minutes - it.without.minutes) / 60.0
    cost = it.merit.cost - it.without.cost
    return tr("{words}: {hours} h and {cost} to pay against the best without").format(
        words=words, hours=signed(hours, 1), cost=signed(cost, 0)
    )


VALUE_OF = {
    "tap": "{said}",
    "breather": "{said}",
    "restrictor": tr("restrictor of {said}"),
    "feed-size": tr("{said} feed"),
    "feed-end": tr("{said} at the inlet"),
    "flange-hole": tr("flange drilled to {said}"),
    "drain-size": tr("{said} drain"),
    "drain-by": tr("{said} drain"),
    "entry-wall": tr("{said} wall"),
    "entry-place": tr("entry {said}"),
    "entry-thread": tr("{said} in the pan"),
    "drain-ends": tr("ends of {said}"),
}
"""A value with what it is a value of, by choice; of others the choice is named before it."""


def _named(choice: Choice, value: str, family: Family) -> str:
    """Return a value with what it is a value of: '-8 drain', 'clock angle 20°'."""
    if choice.name == "restrictor" and value == "none":
        return tr("no restrictor")
    said = choice.said(value, family)
    form = VALUE_OF.get(choice.name)
    return form.format(said=said) if form else f"{choice.words} {said}"


def verdict_of(said: str, merit: Merit, broke: Broke | None, best: Merit, family: Family) -> str:
    """Return what speaks against a value: what breaks; else what it costs; else that nothing does."""
    if broke is not None and merit.held.grade < best.held.grade:
        return f"{said}: {broke.text(family)}"
    lost = gives_up(merit, [best])
    if lost:
        return (
            f"{said}: {tr('as good, but ') if merit.held.grade == best.held.grade else ''}{', '.join(lost)}"
        )
    if broke is not None and merit.held < best.held:
        return f"{said}: {broke.text(family)}"
    return tr("{said}: as good").format(said=said)
