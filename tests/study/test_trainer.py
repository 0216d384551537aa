# SPDX-License-Identifier: GPL-3.0-or-later
"""Cases to learn on, and drills whose answers are computed."""

from __future__ import annotations

import math
import re
from dataclasses import replace

import numpy as np
import pytest

from gravidon.errors import InputError
from gravidon.plan import paths
from gravidon.study.diagnosis.drills import DRILLS
from gravidon.study.diagnosis.sick import Ill, SickCar, plain
from gravidon.study.diagnosis.tables import tables
from gravidon.study.diagnosis.trainer import (
    ASK_MIN,
    LEVELS,
    LIES,
    OWN,
    SITUATIONS,
    Lesson,
    Mark,
    begin,
    best_path,
    cars,
    ending,
    gauges,
    lesson_from,
    marks_from,
    marks_text,
    progress,
)
from gravidon.study.judge.table import judged_of
from gravidon.study.solve.assemble import lasts_s
from gravidon.study.solve.evaluate import evaluate
from gravidon.study.verdict.trials import trial
from study.sick_cars import model_of

KNOWN = tables()


@pytest.mark.parametrize("name", cars())
def test_the_cars_of_lessons_are_sound(name: str) -> None:
    """What is wrong is hidden in the car: its plan fails nowhere, and there are cars of it that show nothing by themselves."""
    plan = cars()[name]
    assert not [f.code for f in trial(plan).findings if f.severity == "bad"]
    assert sum(plain(plan, seed) for seed in range(6)) >= 2


def test_a_code_is_one_case() -> None:
    one, other = begin(lesson_from("coupe-3-12")), begin(lesson_from("COUPE-3-12 "))
    assert one.sick.ills == other.sick.ills
    assert len(one.sick.ills) == 2
    assert one.story == other.story
    assert one.lesson.code == "coupe-3-12"
    assert begin(lesson_from("coupe-3-13")).story != one.story


@pytest.mark.parametrize("text", ["", "coupe", "coupe-9-1", "lorry-1-1", "coupe-1-x", "coupe-1-1-1"])
def test_a_code_that_is_none_is_refused(text: str) -> None:
    with pytest.raises(InputError, match="case"):
        lesson_from(text)


def test_the_own_plan_is_a_car_too() -> None:
    plan = cars()["coupe"]
    assert begin(Lesson(OWN, 1, 4), plan).plan == plan
    with pytest.raises(InputError, match="car"):
        begin(Lesson(OWN, 1, 4))


@pytest.mark.parametrize("number", [level.number for level in LEVELS])
def test_levels_are_what_they_say(number: int) -> None:
    it = LEVELS[number - 1]
    play = begin(Lesson("coupe", number, 3))
    severities = [ill.severity for ill in play.sick.ills]
    assert len(severities) == it.faults
    assert max(severities) <= 0.65 if it.quiet else min(severities) >= 0.5
    assert play.sick.lies == (frozenset(LIES) if it.lies else frozenset())
    assert all(KNOWN.signs[s].said in play.story for s in play.first)


def test_asking_and_testing_cost_and_the_budget_holds() -> None:
    play = begin(Lesson("coupe", 1, 3))
    asked = play.ask("coke")
    assert asked.minutes == ASK_MIN
    assert asked.case.answers["coke"] == play.sick.sign("coke")
    level = KNOWN.tests["drain-level"]
    tested = asked.test("drain-level")
    assert tested.minutes == ASK_MIN + level.minutes + KNOWN.apart["undertray"].minutes
    assert tested.case.results["drain-level"] == play.sick.outcome("drain-level")
    poor = replace(tested, minutes=play.level.minutes - 5.0)
    with pytest.raises(InputError, match="min"):
        poor.test("cartridge")
    with pytest.raises(InputError, match="coins"):
        replace(tested, money=play.level.money - 1.0).test("oil-change")


def test_the_end_tells_the_truth() -> None:
    """Named right away it is all found; each test's worth is by how much it raised the truth (the logarithm of belief before and after); thrift counts only for what is found."""
    play = begin(Lesson("coupe", 1, 3))
    truth = play.sick.ills[0].cause
    made = model_of("coupe")
    play = play.test("dipstick").test("intake-look")
    end = ending(play.say([truth]), made)
    assert end.truth == end.found == (truth,)
    assert not end.wrong
    assert end.points >= 70
    before = dict(made.belief(play.case.answers, {}).ranked)[truth]
    after = dict(made.belief(play.case.answers, play.case.results).ranked)[truth]
    assert sum(s.bits for s in end.steps) == pytest.approx(math.log2(after / before))
    assert end.best
    assert end.best_minutes == sum(s.minutes for s in end.best)
    other = next(c for c in made.keys if c != truth)
    lost = ending(play.say([other]), made)
    assert lost.points == 0
    assert lost.wrong == (other,)
    assert 0 < ending(play.say([truth, other]), made).points < end.points


def test_a_case_that_is_closed_stays_closed() -> None:
    play = begin(Lesson("coupe", 1, 3)).say(["guides"])
    assert play.over
    with pytest.raises(InputError, match="closed"):
        play.ask("coke")
    with pytest.raises(InputError, match="cause"):
        play.say([])
    with pytest.raises(InputError, match="cause"):
        play.say(["guides", "screen", "coked"])
    with pytest.raises(InputError, match="fog"):
        play.say(["fog"])


@pytest.mark.parametrize("name", SITUATIONS)
def test_gauges_are_the_cars_own(name: str) -> None:
    """With a weak engine pump the gallery's gauge reads less than a sound car's; a lying sender moves the inlet's alone."""
    play = begin(Lesson("coupe", 1, 3))
    sound = replace(play, sick=SickCar(play.plan, (), play.sick.seed))
    weak = replace(play, sick=SickCar(play.plan, (Ill("gallery-weak", 0.9),), play.sick.seed))
    level4 = replace(sound, lesson=replace(play.lesson, level=4))
    a, b, c = (gauges(p, name) for p in (sound, weak, level4))
    if name == "engine off":
        assert abs(float(a.channels["gallery"].mean())) < 3e4
    else:
        assert b.channels["gallery"].mean() < 0.7 * a.channels["gallery"].mean()
    assert c.channels["inlet"].mean() > a.channels["inlet"].mean() + 2e4
    assert c.channels["gallery"].mean() == pytest.approx(a.channels["gallery"].mean(), abs=2e3)
    assert set(LIES) <= {*KNOWN.signs, *KNOWN.tests}


def test_the_record_outlives_a_damaged_line() -> None:
    marks = tuple(Mark(f"2026-01-0{k}", "coupe-1-1", "level 1", 10 * k, 5.0, 1.0) for k in range(1, 8))
    text = marks_text(marks)
    assert marks_from(text) == marks
    lines = text.splitlines()
    lines[3] = lines[3][:20]
    assert marks_from("\n".join([*lines, "", "7", "{}"])) == (*marks[:3], *marks[4:])
    assert progress(marks) == {"level 1": (7, 30.0, 50.0)}


# --- drills ------------------------------------------------------------------------------------


@pytest.mark.parametrize("skill", DRILLS)
@pytest.mark.parametrize("seed", range(1, 9))
def test_a_drill_is_one_question_with_four_answers(skill: str, seed: int) -> None:
    drill = DRILLS[skill](seed, "metric")
    assert drill.skill == skill
    assert len(set(drill.answers)) == 4
    assert 0 <= drill.right < 4
    assert drill == DRILLS[skill](seed, "metric")
    assert drill.why


@pytest.mark.parametrize("skill", DRILLS)
def test_the_right_answer_is_not_always_in_one_place(skill: str) -> None:
    assert len({DRILLS[skill](seed, "metric").right for seed in range(12)}) >= 3


# Outside diameter [mm] and threads to the inch, from the standards' tables: ASME B1.20.1 (NPT), ISO 7-1 (BSPT), ISO 261 (metric, pitch in mm)
PUBLISHED = {"1/8 NPT": (10.287, 27.0), "1/4 NPT": (13.716, 18.0), "1/2 NPT": (21.336, 14.0), "1/8 BSPT": (9.728, 28.0), "1/2 BSPT": (20.955, 14.0),
             "M10x1.0": (10.0, 25.4), "M12x1.5": (12.0, 16.933), "M14x1.5": (14.0, 16.933), "M18x1.5": (18.0, 16.933)}  # fmt: skip


def test_a_thread_drill_agrees_with_the_published_table() -> None:
    seen = 0
    for seed in range(400):
        drill = DRILLS["read a thread"](seed, "metric")
        name = drill.answers[drill.right]
        if name in PUBLISHED and "over the crests" in drill.question:
            read = float(re.search(r"reads ([\d.]+)", drill.question)[1])  # type: ignore[index]
            pitch = float(re.search(r"is ([\d.]+) mm \(", drill.question)[1])  # type: ignore[index]
            major, per_inch = PUBLISHED[name]
            assert pitch == pytest.approx(25.4 / per_inch, abs=2e-3)
            assert abs(read - major) < 0.6  # a taper thread is read anywhere along it
            seen += 1
    assert seen >= 3


@pytest.mark.parametrize("seed", range(1, 7))
def test_an_entry_drill_is_right_by_trying_all_four(seed: int) -> None:
    """Each height is put into the plan: those under the right one drown in a condition that lasts, the right one does not."""
    drill = DRILLS["place an entry"](seed, "metric")
    from gravidon.study.diagnosis.drills import _turned

    plan = _turned(cars()["coupe"], seed)
    drowned = []
    for words in drill.answers:
        below = float(re.search(r": ([\d.]+)", words)[1])  # type: ignore[index]
        tried = evaluate(paths.put(plan, "turbos.0.drain.entry.z_mm", -below))
        lasting = np.isinf(lasts_s(plan)) & (tried.feed.flow_m3_s > 0.0)
        drowned.append(bool((tried.drainage.submergence_m[lasting] > 0.0).any()))
    assert drowned == [k < drill.right for k in range(4)]


@pytest.mark.parametrize("seed", range(1, 5))
def test_a_hole_drill_is_right_by_trying_all_four(seed: int) -> None:
    """Each bore is put into the plan: exactly the right one is neither starved nor over-fed."""
    drill = DRILLS["choose a hole"](seed, "metric")
    peak = float(re.search(r"reads ([\d.]+)", drill.question)[1])  # type: ignore[index]
    plan = cars()["coupe"]
    share = peak / max(r.pressure_kpa / 100.0 for r in plan.engine.readings)
    readings = tuple(
        r.model_copy(update={"pressure_kpa": r.pressure_kpa * share}) for r in plan.engine.readings
    )
    plan = paths.put(plan, "engine.readings", readings)
    it = plan.turbos[0]
    plan = plan.model_copy(
        update={"turbos": (it.model_copy(update={"parts": it.parts.model_copy(update={"feed": ()})}),)}
    )
    holds = []
    for words in drill.answers:
        bore = float(re.search(r"([\d.]+)", words)[1])  # type: ignore[index]
        e = evaluate(paths.put(plan, "turbos.0.restrictor.bore_mm", bore))
        codes = ("starved", "starved-flow", "over-fed", "cooked")
        holds.append(all((judged_of(e, c).grade < 3).all() for c in codes))
    assert holds[drill.right]
    assert sum(holds) == 1


@pytest.mark.parametrize("seed", range(1, 9))
def test_a_clocking_drill_is_right_by_turning_it(seed: int) -> None:
    """The drain as an arrow, turned hole by hole with a rotation matrix: the right answer points lowest of the four."""
    drill = DRILLS["clock a housing"](seed, "metric")
    degrees, way, count = re.search(
        r"points (\d+)° (clockwise|anticlockwise).*?down\. (\d+) bolts", drill.question
    ).groups()  # type: ignore[union-attr]
    angle = math.radians(float(degrees)) * (1.0 if way == "clockwise" else -1.0)
    arrow = np.array([-math.sin(angle), -math.cos(angle)])
    lows = []
    for words in drill.answers:
        found = re.match(r"(\d+) holes? (clockwise|anticlockwise)", words)
        n = 0 if found is None else int(found[1]) * (1 if found[2] == "clockwise" else -1)
        turn = -2.0 * math.pi * n / int(count)
        matrix = np.array([[math.cos(turn), -math.sin(turn)], [math.sin(turn), math.cos(turn)]])
        lows.append(float((matrix @ arrow)[1]))
    assert int(np.argmin(lows)) == drill.right


@pytest.mark.parametrize("seed", range(4))
@pytest.mark.parametrize("level", [1, 2, 3, 4])
def test_the_best_path_keeps_the_levels_budget_and_is_walked_as_it_is_told(level: int, seed: int) -> None:
    """Walked by the same questions and tests it costs what it says and gives the same answers, within the minutes and coins there are; it
    asks before it undoes anything."""
    play = begin(Lesson("coupe", level, 20 + seed))
    made = model_of("coupe")
    path = best_path(play, made, [i.cause for i in play.sick.ills])
    assert sum(s.minutes for s in path) <= play.level.minutes
    assert sum(s.money for s in path) <= play.level.money
    walked = play
    for s in path:
        walked = walked.ask(s.key) if s.asked else walked.test(s.key)
        seen = walked.case.answers[s.key] if s.asked else walked.case.results[s.key]
        assert int(seen) == s.outcome
    assert walked.minutes == pytest.approx(sum(s.minutes for s in path))
    assert any(s.asked for s in path) or not path
