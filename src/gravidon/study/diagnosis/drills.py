# SPDX-License-Identifier: GPL-3.0-or-later
"""Drills on single skills: a question with four answers, the right one computed, and why."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass

import numpy as np

from gravidon.parts.identify import identify, known_threads, measured_range, one_thread
from gravidon.plan import paths
from gravidon.plan.model import Plan
from gravidon.plan.units import Family, show
from gravidon.study.diagnosis.trainer import cars
from gravidon.study.solve.assemble import lasts_s
from gravidon.study.solve.evaluate import evaluate
from gravidon.study.supply.restrictor_choice import choose
from gravidon.translate import tr, trn

COUNT = 4


@dataclass(frozen=True)
class Drill:
    """One question: the skill, the question, four answers, which is right, why, and the figures it was made of (mm, degrees), for its drawing."""

    skill: str
    question: str
    answers: tuple[str, ...]
    right: int
    why: str
    figures: Mapping[str, float]


def thread(seed: int, family: Family) -> Drill:
    """Read a thread: which one has this diameter and pitch? The right answer is what `identify` finds; the others are its neighbours in size or pitch."""
    dice = np.random.default_rng([seed, 1])
    known = {n: t for n, t in known_threads().items() if 5.0 < t.major_mm < 30.0}
    names = list(known)
    while True:
        name = names[int(dice.integers(len(names)))]
        it = known[name]
        inside = bool(dice.random() < 0.4)
        low, high = measured_range(it, inside)
        read = round(0.5 * (low + high) + 0.04 * float(dice.uniform(-1, 1)), 2)
        found = identify(read, it.pitch_mm, inside, it.tapered)
        if found and (found[0].thread == it or one_thread(found[0].thread, it)):
            break
    near = sorted(
        (
            n
            for n in names
            if n != name
            and (known[n].major_mm, known[n].pitch_mm, known[n].tapered)
            != (it.major_mm, it.pitch_mm, it.tapered)
        ),
        key=lambda n: abs(known[n].major_mm - it.major_mm) + 4.0 * abs(known[n].pitch_mm - it.pitch_mm),
    )[: COUNT - 1]
    answers = [name, *near]
    order = dice.permutation(COUNT)
    where = tr("inside a port") if inside else tr("over the crests")
    taper = (
        tr("It gets thinner towards its end.")
        if it.tapered
        else tr("It is as thick at its end as at its root.")
    )
    other = known[near[0]]
    told = tr("has {major_mm:.2f} mm and {pitch_mm:.3f} mm").format(
        major_mm=other.major_mm, pitch_mm=other.pitch_mm
    )
    if (other.major_mm, other.pitch_mm) == (it.major_mm, it.pitch_mm):
        told = tr("measures alike, but is {form}").format(
            form=tr("taper") if other.tapered else tr("parallel")
        )
    return Drill(
        "read a thread",
        tr("The calliper reads {read} {where}; crest to crest is {pitch_mm:.3f} mm ({pitch_mm_2:.3g} to the inch). {taper} Which thread is it?").format(read=show(read * 0.001, 'bore', family), where=where, pitch_mm=it.pitch_mm, pitch_mm_2=25.4 / it.pitch_mm, taper=taper),
        tuple(answers[int(k)] for k in order),
        [int(k) for k in order].index(0),
        tr("{name}: {major_mm:.2f} mm and {pitch_mm:.3f} mm by {standard}. {near} {told}.").format(name=name, major_mm=it.major_mm, pitch_mm=it.pitch_mm, standard=it.standard, near=near[0], told=told),
        {"pitch_mm": it.pitch_mm, "diameter_mm": read, "flank_deg": it.flank_deg, "taper": float(it.tapered)},
    )  # fmt: skip


def _turned(plan: Plan, seed: int) -> Plan:
    dice = np.random.default_rng([seed, 9])
    plan = paths.put(plan, "sump.fill_l", round(plan.sump.fill_l.value * float(dice.uniform(0.95, 1.12)), 2))
    return paths.put(plan, "sump.windage_mm", round(float(dice.uniform(5.0, 14.0)), 1))


def entry(seed: int, family: Family) -> Drill:
    """Place an entry: which is the lowest of four that stands clear of the oil in every lasting condition? Computed by the pan's oil in each."""
    plan = _turned(cars()["coupe"], seed)
    e = evaluate(plan)
    lasting = np.isinf(lasts_s(plan)) & (e.feed.flow_m3_s > 0.0)
    # an entry that is raised is over the same oil: what it stands clear by moves with it
    over = float(np.max(e.drainage.submergence_m[lasting])) * 1e3
    now = plan.turbos[0].drain.entry.z_mm
    clear = now + over
    dice = np.random.default_rng([seed, 2])
    first = int(dice.integers(0, COUNT))
    heights = [round(float(clear + 11.0 * (k - first) + dice.uniform(3.0, 8.0)), 0) for k in range(COUNT)]
    answers = [
        tr("{letter}: {z} below the rail").format(letter=letter, z=show(abs(z) * 0.001, "mm", family))
        for letter, z in zip("abcd", heights, strict=True)
    ]
    right = next(k for k, z in enumerate(heights) if z > clear)
    worst = plan.conditions[
        int(np.flatnonzero(lasting)[int(np.argmax(e.drainage.submergence_m[lasting]))])
    ].name
    fill = show(plan.sump.fill_l.value * 1e-3, "l", family)
    return Drill(
        "place an entry",
        tr("{name}: {fill} of oil, windage {value}. Which is the lowest place for the drain's entry (its centre) that is not drowned in any condition that lasts?").format(name=plan.name, fill=fill, value=show(plan.sump.windage_mm.value * 0.001, 'mm', family)),
        tuple(answers),
        right,
        tr("The oil stands highest at it in {worst}: an entry of this bore breathes from {clear} below the rail upwards. Higher is safer, but it costs fall.").format(worst=worst, clear=show(abs(clear) * 0.001, 'mm', family)),
        {"clear_mm": clear, "bore_mm": plan.turbos[0].drain.fitting.bore_mm, **{f"height_{k}": z for k, z in enumerate(heights)}},
    )  # fmt: skip


def hole(seed: int, family: Family) -> Drill:
    """Choose a hole: which of four bores keeps the bearing in its window in every condition? Computed by the pressure side; of the four exactly one holds."""
    dice = np.random.default_rng([seed, 3])
    plan = cars()["coupe"]
    share = float(dice.uniform(0.85, 1.25))
    readings = tuple(
        r.model_copy(update={"pressure_kpa": round(r.pressure_kpa * share, 1)}) for r in plan.engine.readings
    )
    plan = paths.put(plan, "engine.readings", readings)
    found = choose(plan)
    if found.range_m is None:
        return hole(seed + 1000, family)
    low, high = found.range_m
    middle = (low * high) ** 0.5
    bores = [0.55 * low, 0.8 * low, middle, 1.35 * high]
    order = dice.permutation(COUNT)
    pressure = show(max(r.pressure_kpa for r in readings) * 1e3, "kpa", family)
    below = (
        tr("Smaller and {quantity} is {condition}. ").format(
            quantity=found.breaks_below[0], condition=found.breaks_below[1]
        )
        if found.breaks_below
        else ""
    )
    above = (
        tr("Larger and {quantity} is {condition}.").format(
            quantity=found.breaks_above[0], condition=found.breaks_above[1]
        )
        if found.breaks_above
        else ""
    )
    return Drill(
        "choose a hole",
        tr("{name}: {bearing} bearing, the engine's gauge reads {pressure} at most. Which hole keeps the bearing in its window in every condition?").format(name=plan.name, bearing=tr(plan.turbos[0].turbo.bearing), pressure=pressure),
        tuple(show(bores[int(k)], "bore", family) for k in order),
        [int(k) for k in order].index(2),
        tr("What passes is {low} to {high}. {below}{above}").format(low=show(low, 'bore', family), high=show(high, 'bore', family), below=below, above=above),
        {f"bore_{n}": bores[int(k)] * 1e3 for n, k in enumerate(order)},
    )  # fmt: skip


def clocking(seed: int, family: Family) -> Drill:
    """Clock a housing: by how many bolt holes, and which way, must the centre be turned to bring its drain nearest to straight down? Computed round the bolt circle."""
    dice = np.random.default_rng([seed, 4])
    count = int(dice.choice([5, 6, 8, 10]))
    step = 360.0 / count
    while True:
        now = round(float(dice.uniform(-170.0, 170.0)))
        turns = range(-(count // 2), count // 2 + 1)
        left = [abs((now + n * step + 180.0) % 360.0 - 180.0) for n in turns]
        best = turns[int(np.argmin(left))]
        if sorted(left)[1] - min(left) > 8.0 and best != 0:
            break
    options = [best, best + (1 if best < 0 else -1), -best, best + (-1 if best < 0 else 1)]
    order = dice.permutation(COUNT)

    def words(n: int) -> str:
        if n == 0:
            return tr("leave it")
        if n > 0:
            return trn("{count} hole clockwise", "{count} holes clockwise", n)
        return trn("{count} hole anticlockwise", "{count} holes anticlockwise", -n)

    after = (now + best * step + 180.0) % 360.0 - 180.0
    return Drill(
        "clock a housing",
        tr("Seen from the turbine's end the drain points {now:.0f}° {way} from straight down. {count} bolts hold the centre, evenly round; turning it by one hole moves it {step:.0f}°. How far, and which way, do you turn it?").format(now=abs(now), way=tr('clockwise') if now > 0 else tr('anticlockwise'), count=count, step=step),
        tuple(words(options[int(k)]) for k in order),
        [int(k) for k in order].index(0),
        tr("{best} leaves {after:.0f}° from straight down; the usual limit is 30° (common practice, no source). Scribe a mark first.").format(best=words(best).capitalize(), after=abs(after)),
        {"now_deg": float(now), "after_deg": after, "count": float(count)},
    )  # fmt: skip


DRILLS: Mapping[str, Callable[[int, Family], Drill]] = {
    "read a thread": thread,
    "place an entry": entry,
    "choose a hole": hole,
    "clock a housing": clocking,
}
"""Drills by skill: from a seed and a family of units to a question; same seed, same question."""
