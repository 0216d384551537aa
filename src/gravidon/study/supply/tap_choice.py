# SPDX-License-Identifier: GPL-3.0-or-later
"""Every candidate tap put through the same evaluation, side by side, ranked with reasons."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from gravidon.parts.threads import THREADS, joint
from gravidon.physics.arrays import Array
from gravidon.physics.feed import FeedResult
from gravidon.plan import paths
from gravidon.plan.fields import Known
from gravidon.plan.model import Hose, Piece, Plan, Tap
from gravidon.plan.paths import looked_at
from gravidon.study.judge.supply import window_margins
from gravidon.study.solve import assemble
from gravidon.study.solve.kept import of_plan
from gravidon.study.solve.priming import Arrival, arrival
from gravidon.study.solve.tap import open_share
from gravidon.translate import tr

KEPT_SENDER_JOINTS = {"sender tee": 2, "temperature port": 2}
"""Extra joints where a tee keeps the sender working; common practice, no source."""


@dataclass(frozen=True)
class TapCandidate:
    """One tap judged.

    Fields: its place in the plan; pressure at the bearing and before the restrictor, where a gauge can read it [Pa]
    (turbos, conditions); least margin to the
    window over all; seconds to oil, cold and hot; joints to make; share of the gallery's area left;
    reasons against it, worst first; rank, 1 best.
    """

    index: int
    tap: Tap
    inlet_pa: Array
    gauge_pa: Array
    margin: float
    arrival: Arrival
    joints: int
    open_share: float
    reasons: tuple[str, ...]
    rank: int = 0

    @property
    def score(self) -> tuple[int, float, float]:
        """Order of preference: fewest hard faults, then margin, then speed."""
        return (len(self.reasons) + 5 * (not self.tap.filtered), -min(self.margin, 0.5), self.arrival.cold_s)


def with_tap(plan: Plan, index: int) -> Plan:
    """Return the plan fed from another of its taps: the hose that starts there gets the tap's route length."""
    tap = plan.taps[index]
    plan = plan.model_copy(update={"tap": index})
    if plan.trunk:
        return plan.model_copy(update={"trunk": _rerouted(plan.trunk, tap)})
    lines = tuple(
        line.model_copy(
            update={"feed": line.feed.model_copy(update={"pieces": _rerouted(line.feed.pieces, tap)})}
        )
        for line in plan.turbos
    )
    return plan.model_copy(update={"turbos": lines})


def with_new_tap(plan: Plan) -> Plan:
    """Return the plan with one more tap, fed from it. Nothing of the others is copied: its figures are guesses, its thread the
    usual one of the trade (1/8 NPT; common practice, no source), and nobody has looked at it.

    Raises: InputError if the plan has as many taps as a plan may have.
    """

    def guess(value: float) -> Known:
        return Known(value=value, basis="guess")

    new = Tap(
        label=tr("tap {count}").format(count=len(plan.taps) + 1),
        offset_kpa=guess(0.0),
        port_thread="1/8 NPT",
        fitting_thread="1/8 NPT",
        route_mm=guess(plan.taps[plan.tap].route_mm.value),
        wrench_mm=guess(100.0),
        hot_mm=guess(150.0),
        protrusion_mm=guess(0.0),
        gallery_bore_mm=guess(12.0),
    )
    return with_tap(paths.put(plan, "taps", (*plan.taps, new)), len(plan.taps))


def without_tap(plan: Plan, index: int) -> Plan:
    """Return the plan without one of its taps; what was looked at of the others stays looked at.

    Raises: InputError if it is the only one.
    """
    left = paths.put(
        plan.model_copy(update={"tap": 0}), "taps", (*plan.taps[:index], *plan.taps[index + 1 :])
    )
    seen = plan.seen
    if seen is not None:
        seen = tuple(path for path in (_moved(path, index) for path in seen) if path)
    now = plan.tap - 1 if plan.tap > index or plan.tap == len(left.taps) else plan.tap
    return with_tap(left.model_copy(update={"seen": seen, "tap": now}), now)


def _moved(path: str, gone: int) -> str:
    """Return what a path into the taps is called when one of them is gone; empty if it was in that one."""
    head, _, rest = path.removeprefix("taps.").partition(".")
    if not path.startswith("taps.") or not head.isdigit() or int(head) < gone:
        return path
    return "" if int(head) == gone else f"taps.{int(head) - 1}" + (f".{rest}" if rest else "")


def _rerouted(pieces: tuple[Piece, ...], tap: Tap) -> tuple[Piece, ...]:
    """Give the longest hose of a chain the tap's route length."""
    hoses = [k for k, p in enumerate(pieces) if isinstance(p, Hose)]
    if not hoses:
        return pieces
    longest = max(hoses, key=lambda k: pieces[k].length_mm.value)  # type: ignore[union-attr]
    new = pieces[longest].model_copy(update={"length_mm": tap.route_mm})
    return (*pieces[:longest], new, *pieces[longest + 1 :])


def joints_needed(tap: Tap) -> int:
    """Return how many joints a tap asks for: port, hose end, kept sender, adapter between threads."""
    adapter = joint(THREADS[tap.fitting_thread], THREADS[tap.port_thread]).verdict != "seals"
    kept = KEPT_SENDER_JOINTS.get(tap.kind, 0) if tap.keeps_sender else 0
    return 2 + int(adapter) + kept


def _reasons(plan: Plan, tap: Tap, margin: float, share: float, arrives: Arrival) -> tuple[str, ...]:
    needs = plan.needs
    found = []
    if not looked_at(plan, f"taps.{plan.taps.index(tap)}.port_thread"):
        found.append(tr("nobody looked at its thread"))
    if not tap.filtered:
        found.append(tr("unfiltered: taken before the filter"))
    if margin < 0.0:
        found.append(tr("outside the window in some condition"))
    if joint(THREADS[tap.fitting_thread], THREADS[tap.port_thread]).verdict != "seals":
        found.append(tr("threads do not match: needs an adapter"))
    if tap.kind in KEPT_SENDER_JOINTS and not tap.keeps_sender:
        found.append(tr("the sender would be lost"))
    if share < needs.gallery_open.value:
        found.append(tr("the fitting sticks into the gallery"))
    if tap.wrench_mm.value < needs.wrench_mm.value:
        found.append(tr("no room to swing a wrench"))
    if tap.hot_mm.value < needs.hot_mm.value:
        found.append(tr("too near hot parts"))
    if arrives.cold_s > needs.prime_s.value:
        found.append(tr("slow to bring oil on a cold start"))
    return tuple(found)


@of_plan
def compare_taps(plan: Plan) -> tuple[TapCandidate, ...]:
    """Return every tap of the plan judged, in the plan's order, with its rank."""
    fit = assemble.source_fit(plan)
    made = []
    for index, tap in enumerate(plan.taps):
        there = with_tap(plan, index)
        supply, network = assemble.solve_supply(there, fit)
        inlet = np.array([b.inlet_pressure_pa for b in network.branches])
        gauge = np.array(
            [assemble.gauge_pressure(it, b) for it, b in zip(plan.turbos, network.branches, strict=True)]
        )
        margin = _least_margin(there, network.branches)
        arrives = arrival(there, supply)
        share = open_share(tap)
        made.append(
            TapCandidate(
                index,
                tap,
                inlet,
                gauge,
                margin,
                arrives,
                joints_needed(tap),
                share,
                _reasons(plan, tap, margin, share, arrives),
            )
        )
    order = sorted(range(len(made)), key=lambda k: made[k].score)
    ranks = {k: place + 1 for place, k in enumerate(order)}
    return tuple(TapCandidate(**{**c.__dict__, "rank": ranks[k]}) for k, c in enumerate(made))


def _least_margin(plan: Plan, feeds: Sequence[FeedResult]) -> float:
    """Return the least margin to the window over all turbos and conditions."""
    margins = [
        margin
        for line, feed in zip(plan.turbos, feeds, strict=True)
        for margin in window_margins(line, plan.conditions, feed)[:2]
    ]
    return float(np.nanmin(margins)) if np.isfinite(margins).any() else float("inf")
