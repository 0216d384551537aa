# SPDX-License-Identifier: GPL-3.0-or-later
"""An answer of the planner as plain data with stable keys."""

from __future__ import annotations

from typing import Any

from gravidon.plan.units import Family
from gravidon.study.planning.compare import differences
from gravidon.study.planning.freedom import holds
from gravidon.study.planning.merit import INVASIVE
from gravidon.study.planning.names import SAFEST, called
from gravidon.study.planning.reasons import gives_up, lost_words, shared, takes_words
from gravidon.study.planning.search import Answer, Ranked
from gravidon.words.text import tr


def report(answer: Answer, family: Family) -> dict[str, Any]:
    """Return an answer: its plans with merits and reasons, what they share, what lost and why, what is held.

    Raises: GravidonError if one of its plans cannot be computed.
    """
    best = answer.named(SAFEST)
    return {
        "plan": answer.plan.name,
        "looked_at": answer.tried,
        "holds": [
            {"choice": h.choice.name, "turbo": h.turbo + 1, "state": h.state, "why": h.why}
            for h in holds(answer.plan)
        ],
        "plans": [_plan_row(answer, r, family) for r in answer.ranked],
        "shared": [s.words for s in shared(answer.ranked, family)],
        "lost": [
            {
                "choice": lost.choice,
                "turbo": lost.turbo + 1,
                "value": lost.value,
                "why": lost_words(lost, best.merit, family),
            }
            for lost in answer.lost
            if best is not None
        ],
        "takes": [takes_words(t, family) for t in answer.takes],
        "no_way": list(answer.no_way),
    }


def _plan_row(answer: Answer, ranked: Ranked, family: Family) -> dict[str, Any]:
    m = ranked.merit
    others = [r.merit for r in answer.ranked if r is not ranked]
    return {
        "names": list(ranked.names),
        "called": [tr(n) for n in called(ranked.names, ranked.merit)],
        "verdict": m.verdict,
        "least_margin": m.margin,
        "holds_share": m.sure,
        "does_not_fail_share": m.unfailing,
        "cost": m.cost,
        "work_minutes": m.minutes,
        "wait_h": m.wait_h,
        "joints": m.joints,
        "parts_to_order": m.order,
        "into_the_engine": INVASIVE[m.invasive],
        "decided_by": ranked.decides(family),
        "gives_up": list(gives_up(m, others)),
        "rests_on": ranked.rests,
        "decisions": [
            {"choice": d.words, "was": d.old, "now": d.new}
            for d in differences(answer.plan, ranked.plan, family)
        ],
    }
