# SPDX-License-Identifier: GPL-3.0-or-later
"""The table of judged quantities: said once, agreed on by findings, deck, effects, limits' fields and messages."""

import ast
import string
from pathlib import Path

import numpy as np
import pytest

from gravidon.plan import paths
from gravidon.plan.demos import NAMES, demo_plan
from gravidon.plan.fields import Known
from gravidon.plan.model import Needs, Plan
from gravidon.study.judge.quantity import BAD, GRADES, HOLDS, NOTE, WATCH, Quantity
from gravidon.study.judge.supply import OVER_FED, STARVED
from gravidon.study.judge.table import BY_CODE, TABLE, judged, worst_by_condition
from gravidon.study.solve.evaluate import evaluate
from gravidon.study.verdict import facts
from gravidon.study.verdict.findings import find, verdict_by_condition
from gravidon.study.verdict.trials import trial
from gravidon.words.text import Amount, Message, fill

PLANS = {
    **{name: demo_plan(name) for name in NAMES},
    "fed": paths.put(demo_plan(), "turbos.0.restrictor.bore_mm", 2.2),
}
SOURCE = Path(__file__).parent.parent.parent / "src/gravidon"


def test_codes_are_told_apart() -> None:
    assert len(BY_CODE) == len(TABLE)


@pytest.mark.parametrize("plan", PLANS.values(), ids=PLANS)
def test_every_grade_is_a_finding_and_the_reverse(plan: Plan) -> None:
    """What is judged hard is found with that severity; what is found of a quantity is judged so."""
    e = evaluate(plan)
    found = {(f.code, f.turbo, f.severity) for f in find(e) if f.code in BY_CODE}
    hard = {
        (j.quantity.code, lens.index, GRADES[int(j.grade[i])])
        for lens in e.all
        for j in judged(lens)
        for i in j.found()
    }
    assert found == hard


@pytest.mark.parametrize("plan", PLANS.values(), ids=PLANS)
def test_the_deck_shows_the_hardest_grade_of_each_condition(plan: Plan) -> None:
    """A condition short of something never reads 'holds' because another one is worse."""
    e = evaluate(plan)
    words = verdict_by_condition(e, find(e))
    word = {BAD: "fails", WATCH: "watch"}
    for i, worst in enumerate(worst_by_condition(e)):
        grades = [j.grade[i] for lens in e.all for j in judged(lens) if j.quantity.axis == "condition"]
        # what is only noted stands beside the verdict and is passed over
        assert worst.judged.grade[worst.index] == max(HOLDS if g == NOTE else g for g in grades)
        if max(grades) > NOTE:
            assert words[i] in ("fails", word[int(max(grades))])


def test_a_close_seal_is_told_beside_a_wet_one() -> None:
    """The special stands short of 60 mm in several conditions while another is worse: those that last are to be watched."""
    plan = paths.put(demo_plan("special"), "needs.freeboard_mm", Known(value=60.0))
    e = evaluate(plan)
    free = e.drainage.freeboard_m
    words = verdict_by_condition(e, find(e))
    lasts = [c.duration_s == 0.0 for c in e.plan.conditions]
    short = [i for i in range(len(free)) if free[i] < 0.060 and lasts[i]]
    assert short
    assert all(words[i] != "holds" for i in short)


def test_a_margin_is_the_distance_to_the_limit_on_its_scale() -> None:
    """By hand: 90 kPa of 100 wanted is a tenth short; 12 mm against 10 on a scale of 20 is a tenth over."""
    assert BY_CODE["starved"].margin(90e3, 100e3) == pytest.approx(-0.1)
    assert BY_CODE["over-fed"].margin(90e3, 100e3) == pytest.approx(0.1)
    assert BY_CODE["freeboard"].margin(0.012, 0.010) == pytest.approx(0.1)
    assert np.isnan(BY_CODE["starved"].margin(90e3, -np.inf))


def test_every_limit_that_can_be_judged_is_a_field_of_the_plan_or_computed() -> None:
    """A path that a quantity names exists; every field of the needs is some quantity's, a place's on the wall, or the
    mark in the picture of the fill."""
    e = evaluate(demo_plan())
    named = set()
    for q in TABLE:
        path = q.path(e)
        if path:
            assert isinstance(paths.get(e.plan, path), Known), q.code
            named.add(path)
    of_places = {"needs.spanner_mm", "needs.drill_mm", "needs.behind_mm", "needs.fill_max"}
    assert {f"needs.{n}" for n in Needs.model_fields} - of_places <= named


@pytest.mark.parametrize(
    "q",
    [q for q in TABLE if q.path(evaluate(demo_plan())) and q not in (STARVED, OVER_FED)],
    ids=lambda q: q.code,
)
def test_a_limit_that_is_moved_moves_what_is_judged(q: Quantity) -> None:
    """Put to either bound of its field, the limit judged against follows."""
    plan = demo_plan("special")
    path = q.path(evaluate(plan))
    bounds = paths.spec_at(plan, path)
    limits = [
        q.judge(evaluate(paths.put(plan, path, Known(value=value)))).limit
        for value in (bounds.low + 0.1 * (bounds.high - bounds.low), bounds.high * 0.5)
    ]
    if not np.isnan(limits[0]).all():
        assert not np.array_equal(*limits, equal_nan=True)


# --- words -------------------------------------------------------------------------------------


def _messages() -> dict[str, Message]:
    own = {name: m for name, m in vars(facts).items() if isinstance(m, Message)}
    return {**{q.code: q.message for q in TABLE}, **own}


def test_every_sentence_is_a_plain_literal_an_extractor_can_read() -> None:
    """Whatever is marked for translation is a literal: no f-string, no sum of names."""
    for file in SOURCE.rglob("*.py"):
        for node in ast.walk(ast.parse(file.read_text(encoding="utf-8"))):
            if isinstance(node, ast.Call) and isinstance(node.func, ast.Name) and node.func.id == "N_":
                if file.name == "text.py":
                    continue
                (argument,) = node.args
                conditional = argument.body if isinstance(argument, ast.IfExp) else argument
                assert isinstance(conditional, ast.Constant), f"{file.name}:{node.lineno}"


def test_no_sentence_is_made_inside_a_calculation() -> None:
    """Neither a quantity nor a fact nor a remedy holds an f-string with a full sentence in it."""
    folders = (SOURCE / "study/judge", SOURCE / "study/verdict")
    for file in (p for folder in folders for p in folder.glob("*.py") if p.name != "report.py"):
        for node in ast.walk(ast.parse(file.read_text(encoding="utf-8"))):
            if isinstance(node, ast.JoinedStr):
                text = "".join(v.value for v in node.values if isinstance(v, ast.Constant))
                assert text.count(" ") < 6, f"{file.name}:{node.lineno}: {text}"


@pytest.mark.parametrize("plan", PLANS.values(), ids=PLANS)
def test_every_finding_can_be_said_in_both_families(plan: Plan) -> None:
    for f in trial(plan).findings:
        for family in ("imperial", "metric"):
            text = f.text(family)
            assert text.endswith(".")
            assert "{" not in text
        assert f.why.endswith(".")
        assert f.title


def test_templates_hold_only_named_places() -> None:
    for message in _messages().values():
        for wording in (message.title, message.text, message.why):
            for template in [wording] if isinstance(wording, str) else wording.values():
                names = [name for _, name, _, _ in string.Formatter().parse(template) if name is not None]
                assert all(names), template


def test_filling_writes_amounts_in_their_family() -> None:
    """45 psi is 3.10 bar (NIST SP 811: 6894.757 Pa)."""
    numbers = {"p": Amount(45 * 6894.757, "kpa"), "s": Amount(0.25, "share"), "n": 3}
    assert fill("{p}, {s:%}, {n}", numbers, "metric") == "3.10\u202fbar, 25%, 3"
    assert fill("{p:bare}", numbers, "imperial") == "45.0"


# --- the memo ----------------------------------------------------------------------------------


def test_what_is_kept_is_safe_between_threads() -> None:
    """Eight threads, three keys, room for two: every answer is its key's own, and nothing is raised."""
    import sys
    import threading

    from gravidon.study.solve.kept import Kept

    kept: Kept[int] = Kept(2)
    wrong: list[object] = []

    def work(seed: int) -> None:
        for k in range(2000):
            key = (k + seed) % 3
            try:
                if kept.of(key, lambda key=key: 10 * key) != 10 * key:  # type: ignore[misc]
                    wrong.append(key)
            except Exception as error:  # noqa: BLE001  whatever is raised is what the test is about
                wrong.append(error)

    before = sys.getswitchinterval()
    sys.setswitchinterval(1e-6)
    threads = [threading.Thread(target=work, args=(n,)) for n in range(8)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    sys.setswitchinterval(before)
    assert wrong == []
    assert len(kept) == 2


def test_no_cache_of_a_module_is_without_a_lock() -> None:
    """No module-level dict is written to from inside a function of its module; lru_cache and Kept lock themselves."""
    for file in SOURCE.rglob("*.py"):
        tree = ast.parse(file.read_text(encoding="utf-8"))
        tables = set()
        for node in tree.body:
            value = getattr(node, "value", None)
            if (
                isinstance(node, (ast.Assign, ast.AnnAssign))
                and isinstance(value, ast.Dict)
                and not value.keys
            ):
                target = node.target if isinstance(node, ast.AnnAssign) else node.targets[0]
                tables.add(getattr(target, "id", ""))
        assert tables == set(), f"{file}: {tables}"
