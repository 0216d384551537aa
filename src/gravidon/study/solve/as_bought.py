# SPDX-License-Identifier: GPL-3.0-or-later
"""The plan with the bores of the parts that are chosen for it: what is counted is what is bought.

Where a line has no parts chosen, the plan's own figures stand: a new plan's are the usual ones of its dash size.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from typing import Any

from pydantic import BaseModel

from gravidon.parts.catalogue import Part, with_own
from gravidon.parts.chains import Link, laid
from gravidon.parts.dash import HOSE_BORE_IN, dash_of_bore, hose_bore_mm
from gravidon.parts.ends import end_from, end_of_thread
from gravidon.plan.fields import Known, spec
from gravidon.plan.model import Drain, DrainPiece, Fitting, Hose, Plan, Restrictor, ScreenPiece, TurboLine
from gravidon.plan.units import Family, show
from gravidon.study.solve.kept import Kept
from gravidon.translate import tr


def own_parts(plan: Plan) -> tuple[Part, ...]:
    """Return the user's own parts as catalogue parts."""
    return tuple(
        Part(**{**p.model_dump(exclude={"ends"}), "ends": tuple(end_from(code) for code in p.ends)})
        for p in plan.own_parts
    )


def shelf(plan: Plan) -> dict[str, Part]:
    """Return every part that this plan may use, by id."""
    return with_own(own_parts(plan))


def nearest_dash(bore_mm: float) -> int:
    """Return the dash size of a bore, or the nearest one."""
    return dash_of_bore(bore_mm) or min(HOSE_BORE_IN, key=lambda d: abs(math.log(hose_bore_mm(d) / bore_mm)))


def chosen(plan: Plan, k: int, line: str) -> tuple[Part, ...]:
    """Return the parts chosen for a turbo's feed or drain; empty where none are, or one is not known."""
    ids = getattr(plan.turbos[k].parts, line)
    known = shelf(plan) if ids else {}
    return tuple(known[i] for i in ids) if all(i in known for i in ids) else ()


def line_dash(plan: Plan, k: int, line: str) -> int:
    """Return the dash size of a turbo's feed or drain: of the hose chosen, else of the bore that the plan has."""
    hose = next((p for p in chosen(plan, k, line) if p.what.hose and p.dash), None)
    if hose is not None:
        return hose.dash
    it = plan.turbos[k]
    bore = (
        it.drain.hose_bore_mm
        if line == "drain"
        else next(p for p in it.feed.pieces if isinstance(p, Hose)).bore_mm
    )
    return nearest_dash(bore)


def as_bought(plan: Plan) -> Plan:
    """Return the plan with bores, lengths and least bend taken from the parts chosen; itself where none are.

    A line whose parts hold no hose is left as it is: there is a gap in it, and that is found elsewhere.

    Raises: nothing.
    """
    if not any(it.parts.feed or it.parts.drain for it in plan.turbos):
        return plan
    return _BOUGHT.of(plan, lambda: _made(plan))


_BOUGHT: Kept[Plan] = Kept(8)


def _made(plan: Plan) -> Plan:
    turbos = []
    for k, it in enumerate(plan.turbos):
        feed, drain = chosen(plan, k, "feed"), chosen(plan, k, "drain")
        changes: dict[str, Any] = {}
        if any(p.what.hose for p in feed):
            start = end_of_thread(plan.taps[plan.tap].fitting_thread, "female")
            changes = _fed(it, laid(feed, start, end_from(it.parts.inlet)), len(plan.turbos) > 1)
        if any(p.what.hose for p in drain):
            changes["drain"] = _drained(it, drain)
        turbos.append(it.model_copy(update=changes))
    made = plan.model_copy(update={"turbos": tuple(turbos)})
    return plan if made == plan else made


def brought(asked: Plan, made: Plan, family: Family) -> tuple[str, ...]:
    """Return what the chosen parts change in a plan as (was, is now) in words: bores, and how many pieces a feed has.

    Raises: nothing.
    """
    told = []
    for it, now in zip(asked.turbos, made.turbos, strict=True):
        pairs = (
            (tr("narrowest of the feed"), _narrowest(it), _narrowest(now)),
            (tr("restrictor"), _hole(it.restrictor), _hole(now.restrictor)),
            (tr("hole of the inlet flange"), _hole(it.flange_hole), _hole(now.flange_hole)),
            (tr("drain hose"), it.drain.hose_bore_mm, now.drain.hose_bore_mm),
            (tr("narrowest hose end"), _ends(it), _ends(now)),
            (tr("drain flange"), it.drain.flange_bore_mm, now.drain.flange_bore_mm),
            (tr("entry fitting"), it.drain.fitting.bore_mm, now.drain.fitting.bore_mm),
        )
        which = f"{it.turbo.label}, " if len(asked.turbos) > 1 else ""
        for name, old, new in pairs:
            if abs(old - new) > 5e-3:
                was, is_now = (show(x * 1e-3, "bore", family) if x else tr("none") for x in (old, new))
                told.append(f"{which}{name} {was} → {is_now}")
        if len(it.feed.pieces) != len(now.feed.pieces):
            told.append(
                tr("{which}pieces of the feed {was} → {now}").format(
                    which=which, was=len(it.feed.pieces), now=len(now.feed.pieces)
                )
            )
    return tuple(told)


def _narrowest(it: TurboLine) -> float:
    return min(p.bore_mm for p in it.feed.pieces)


def _ends(it: TurboLine) -> float:
    return min((p.bore_mm for p in it.drain.pieces), default=0.0)


def _hole(hole: Restrictor) -> float:
    return hole.bore_mm if hole.fitted else 0.0


def _within(model: type[BaseModel], name: str, value: float) -> float:
    """Return a figure inside the bounds of its field."""
    bounds = spec(model, name)
    return round(min(max(value, bounds.low), bounds.high), 3)


def _bore(parts: Iterable[Part], otherwise: float) -> float:
    return min((p.bore_mm for p in parts if p.bore_mm > 0.0), default=otherwise)


def _drained(it: TurboLine, parts: Sequence[Part]) -> Drain:
    old = it.drain
    at = next(k for k, p in enumerate(parts) if p.what.hose)
    hose, changes = parts[at], dict[str, Any]()
    top = [p for p in parts[:at] if not p.what.hose_end]
    low = [p for p in parts[at + 1 :] if not p.what.hose_end]
    if hose.bore_mm:
        changes["hose_bore_mm"] = _within(Drain, "hose_bore_mm", hose.bore_mm)
    if hose.min_bend_mm:
        bend = _within(Drain, "min_bend_mm", hose.min_bend_mm)
        if old.min_bend_mm.value != bend:
            changes["min_bend_mm"] = Known(value=bend, basis="maker", tolerance=old.min_bend_mm.tolerance)
    if top:
        changes["flange_bore_mm"] = _within(Drain, "flange_bore_mm", _bore(top, old.flange_bore_mm))
        length = sum(p.stack_mm for p in top) or old.flange_length_mm
        changes["flange_length_mm"] = _within(Drain, "flange_length_mm", length)
    ended = it.drain_by != "scavenge" and old.joins is None
    pieces = [(p, "turbo") for p in parts[:at] if p.what.hose_end]
    pieces += [(p, "pan") for p in reversed(parts[at + 1 :]) if p.what.hose_end]
    if low and ended:
        fitting = {
            "bore_mm": _within(type(old.fitting), "bore_mm", _bore(low, old.fitting.bore_mm)),
            "length_mm": _within(
                type(old.fitting), "length_mm", sum(p.stack_mm for p in low) or old.fitting.length_mm
            ),
        }
        changes["fitting"] = old.fitting.model_copy(update=fitting)
    changes["pieces"] = tuple(
        DrainPiece(
            label=p.name[:80],
            at="turbo" if where == "turbo" else "pan",
            bore_mm=_within(DrainPiece, "bore_mm", p.bore_mm or old.hose_bore_mm),
            length_mm=_within(DrainPiece, "length_mm", max(p.stack_mm, p.takeoff_mm)),
            angle_deg=min(p.angle_deg, 180.0),
        )
        for p, where in pieces[:6]
    )
    return old.model_copy(update=changes)


_TURNS: tuple[tuple[float, tuple[str, ...]], ...] = (
    (10.0, ("straight",)),
    (50.0, ("45°",)),
    (100.0, ("90°",)),
    (140.0, ("90°", "45°")),
    (361.0, ("90°", "90°")),
)
"""Up to which angle [°] a fitting counts as which of the shapes whose losses are known."""


def _fed(it: TurboLine, links: Sequence[Link], teed: bool) -> dict[str, Any]:
    """Return what the parts of a feed change in a line; lengths of hose and the screen's state stay the plan's."""
    old = it.feed.pieces
    hoses = [p for p in old if isinstance(p, Hose)]
    screens = [p for p in old if isinstance(p, ScreenPiece)]
    has_tee = any(link.part.kind == "tee" for link in links)
    pieces: list[Fitting | Hose | ScreenPiece] = (
        [p for p in old[:1] if isinstance(p, Fitting) and p.shape.startswith("tee")]
        if teed and not has_tee
        else []
    )
    changes: dict[str, Any] = {}
    for link in links:
        part = link.part
        bore = _within(Fitting, "bore_mm", part.bore_mm or hoses[0].bore_mm)
        if part.meters:
            name = "restrictor" if part.what.narrow else "flange_hole"
            hole = getattr(it, name)
            drilled = max(part.bore_mm, hole.bore_mm) if hole.fitted else part.bore_mm
            changes[name] = hole.model_copy(
                update={"fitted": True, "bore_mm": _within(type(hole), "bore_mm", drilled)}
            )
        elif part.what.hose:
            kept = hoses.pop(0) if len(hoses) > 1 else hoses[0]
            pieces.append(kept.model_copy(update={"bore_mm": bore}))
        elif part.kind == "screen" and screens:
            pieces.append(screens[0].model_copy(update={"bore_mm": bore, "height_mm": part.stack_mm}))
        elif part.kind == "tee":
            through = 1 not in (link.inlet, link.outlet)
            pieces.append(Fitting(shape="tee, through" if through else "tee, branch", bore_mm=bore))
        elif part.angle_deg or part.what.hose_end:
            shapes = next(names for most, names in _TURNS if part.angle_deg <= most)
            height = _within(Fitting, "height_mm", part.stack_mm)
            pieces += [
                Fitting(shape=shape, bore_mm=bore, height_mm=height if n == 0 else 0.0)
                for n, shape in enumerate(shapes)
            ]
        else:
            height = _within(Fitting, "height_mm", part.stack_mm)
            pieces.append(Fitting(shape="straight", bore_mm=bore, height_mm=height))
    changes["feed"] = it.feed.model_copy(update={"pieces": tuple(pieces[:20])})
    return changes
