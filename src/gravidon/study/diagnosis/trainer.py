# SPDX-License-Identifier: GPL-3.0-or-later
"""Cases to learn on: a car with a hidden fault and a story, limited minutes and money, the same questions and tests; at the end the truth, and what each test was worth."""

from __future__ import annotations

import json
import math
import re
from collections.abc import Mapping, Sequence
from dataclasses import asdict, dataclass, replace
from functools import cache

import numpy as np

from gravidon.errors import InputError, PlanFileError
from gravidon.plan import demos, paths
from gravidon.plan.files import json_object
from gravidon.plan.model import Plan
from gravidon.records.recording import Recording
from gravidon.study.car.car import Scenario, simulate
from gravidon.study.car.faults import FAULTS, Faulty
from gravidon.study.car.script import script_from
from gravidon.study.car.senses import plain_senders, sensed
from gravidon.study.diagnosis.advice import TEST_BITS, Advice, advise, settled, weighed_questions
from gravidon.study.diagnosis.belief import Belief, Model, model
from gravidon.study.diagnosis.case import Case
from gravidon.study.diagnosis.sick import SickCar, complaint, draw
from gravidon.study.diagnosis.tables import MINUTES_A_COIN, tables
from gravidon.study.solve.senders import converted_recording
from gravidon.translate import N_, commas, tr

ASK_MIN = 1.0
"""[min] that a question to the owner takes; project choice."""
MOST_GUESSED = 2
"""Causes a learner may name: two are wrong at most."""
LIES = ("inlet-low", "inlet-high", "gauge-inlet", "over-fed")
"""Signs and tests that a lying sender at the inlet turns round."""


@dataclass(frozen=True)
class Level:
    """How hard a case is: number, name, how many things are wrong, whether they are mild, whether a sender lies, minutes and coins there are."""

    number: int
    name: str
    faults: int
    quiet: bool
    lies: bool
    minutes: float
    money: float


LEVELS: tuple[Level, ...] = (
    Level(1, tr("one loud fault"), 1, False, False, 180.0, 60.0),
    Level(2, tr("one quiet fault"), 1, True, False, 180.0, 60.0),
    Level(3, tr("two loud faults"), 2, False, False, 240.0, 80.0),
    Level(4, tr("two quiet ones and a sender that lies"), 2, True, True, 300.0, 100.0),
)
OWNERS = (
    tr("It was lent to a friend for a week, and came back like this."),
    tr("The owner has already bought a new turbo for it once. It did not help."),
    tr("It passed its inspection in spring; since then it got worse."),
    tr("The kit came from three boxes, and the sheet was in none of them."),
    tr("It runs well, the owner says, only the neighbours complain."),
    tr("Somebody has been at it before: there is fresh sealant here and there."),
)
"""What else there is to tell; invented, and no hint."""


@cache
def cars() -> Mapping[str, Plan]:
    """Return the plans that cases are made of, by name: sound ones, so that what is wrong is hidden in the car."""
    special = demos.demo_plan("special")
    for path, value in (
        ("breather.one_way", True),
        ("breather.hose_bore_mm", 25.0),
        ("turbos.0.scavenge.gauge_awg", 8),
        ("turbos.0.scavenge.fuse_a", 20.0),
        ("sump.fill_l", 6.2),
    ):
        special = paths.put(special, path, value)
    return {"coupe": demos.demo_plan("coupe"), "special": special}


OWN = "own"
"""Name of the car that is the plan in the window."""
_CODE = re.compile(r"(?P<car>[a-z]+)-(?P<level>[1-9])-(?P<seed>\d{1,9})")


@dataclass(frozen=True)
class Lesson:
    """One case: which car, level, seed; the same three give the same case to everybody."""

    car: str
    level: int
    seed: int

    @property
    def code(self) -> str:
        """What is told to somebody who shall have the same case."""
        return f"{self.car}-{self.level}-{self.seed}"


def lesson_from(text: str) -> Lesson:
    """Return the lesson of a code such as 'coupe-2-1234'.

    Raises: InputError if it is none.
    """
    found = _CODE.fullmatch(text.strip().lower())
    if found is None or found["car"] not in (*cars(), OWN) or int(found["level"]) > len(LEVELS):
        raise InputError(
            "case",
            text,
            tr("a code such as coupe-2-1234: one of {cars}, a level of 1 to {levels}, a number").format(
                cars=commas((*cars(), OWN)), levels=len(LEVELS)
            ),
        )
    return Lesson(found["car"], int(found["level"]), int(found["seed"]))


@dataclass(frozen=True, eq=False)
class Play:
    """How far a case is: the lesson, its sick car, what was asked and tested, what it took. Frozen: every step makes a new one."""

    lesson: Lesson
    plan: Plan
    sick: SickCar
    first: tuple[str, ...]
    case: Case
    minutes: float = 0.0
    money: float = 0.0
    guessed: tuple[str, ...] = ()

    @property
    def level(self) -> Level:
        """The lesson's level."""
        return LEVELS[self.lesson.level - 1]

    @property
    def minutes_left(self) -> float:
        """Minutes left."""
        return self.level.minutes - self.minutes

    @property
    def money_left(self) -> float:
        """Coins left."""
        return self.level.money - self.money

    @property
    def over(self) -> bool:
        """Whether the learner has said what it is."""
        return bool(self.guessed)

    @property
    def story(self) -> str:
        """What the owner tells."""
        known = tables().signs
        said = "; ".join(known[s].said for s in self.first) or tr(
            "something is not right, but it is hard to say what"
        )
        more = OWNERS[np.random.default_rng([self.lesson.seed, 5]).integers(len(OWNERS))]
        number = tr("One thing is wrong.") if self.level.faults == 1 else tr("Two things are wrong.")
        lie = tr(" Do not trust every gauge.") if self.level.lies else ""
        return tr("The owner tells of: {said}. {more} {number}{lie}").format(
            said=said, more=more, number=number, lie=lie
        )

    def ask(self, sign: str) -> Play:
        """Return the play after a question to the owner.

        Raises: InputError for a sign that is none, where no time is left, or where all is said.
        """
        tables().sign(sign)
        self._going("question", ASK_MIN, 0.0)
        case = self.case.answered(sign, self.sick.sign(sign))
        return replace(self, case=case, minutes=self.minutes + ASK_MIN)

    def test(self, key: str) -> Play:
        """Return the play after a test.

        Raises: InputError for a test that is none, that time or money do not last for, or where all is said.
        """
        test = tables().test(key)
        minutes = self.case.minutes(test)
        self._going(test.name, minutes, test.money)
        case = self.case.tested(key, self.sick.outcome(key))
        return replace(self, case=case, minutes=self.minutes + minutes, money=self.money + test.money)

    def _going(self, what: str, minutes: float, money: float) -> None:
        if self.over:
            raise InputError(what, "the case is closed", "a case that is still open")
        if minutes > self.minutes_left or money > self.money_left:
            raise InputError(
                what, tr("{minutes:.0f} min and {money:.0f} coins").format(minutes=minutes, money=money),
                tr("at most {minutes_left:.0f} min and {money_left:.0f} coins, which are left").format(minutes_left=self.minutes_left, money_left=self.money_left),
            )  # fmt: skip

    def say(self, causes: Sequence[str]) -> Play:
        """Return the play with what the learner says it is.

        Raises: InputError for none, more than two, or one that is no cause.
        """
        known = tables().causes
        chosen = tuple(dict.fromkeys(causes))
        wrong = next((c for c in chosen if c not in known), None)
        if wrong is not None or not 1 <= len(chosen) <= MOST_GUESSED:
            raise InputError("cause", wrong or len(chosen), "one or two causes of the table")
        return replace(self, guessed=chosen)


def begin(lesson: Lesson, own: Plan | None = None) -> Play:
    """Return a case at its beginning.

    Args:
        lesson: which.
        own: the plan that the car named OWN is.

    Raises: InputError if there is no such car; GravidonError if it cannot be computed.
    """
    if lesson.car == OWN and own is not None:
        plan = own
    elif lesson.car in cars():
        plan = cars()[lesson.car]
    else:
        raise InputError("car", lesson.car, tr("one of {known}").format(known=commas(cars())))
    level = LEVELS[lesson.level - 1]
    sick = draw(plan, 7919 * lesson.level + lesson.seed, level.faults, level.quiet)
    if level.lies:
        sick = replace(sick, lies=frozenset(LIES))
    first = complaint(sick)
    case = Case(bar=3)
    for sign in first:
        case = case.answered(sign, True)
    return Play(lesson, plan, sick, first, case)


SITUATIONS: Mapping[str, str] = {
    N_("engine off"): "off 20 oil=95",
    N_("hot idle"): "idle 20 oil=98",
    N_("3000 rpm, hot"): "3000 rpm 20 load=0.3 oil=98",
    N_("cold idle"): "1200 rpm 20 load=0.05 oil=15",
}
"""What the learner may let the car do with the gauges in sight."""
LIE_SEVERITY = 0.9
"""How far the lying sender is off, of the fault's worst; project choice."""
GAUGE_HZ = 10.0
"""[1/s] rows of what the gauges show."""


def gauges(play: Play, situation: str) -> Recording:
    """Return what the car's gauges show in a situation, twenty seconds of it, in SI by channel: with its hidden faults, and with the sender that lies.

    Raises: KeyError for a situation that is none; GravidonError if the car cannot be computed.
    """
    faults = [
        Faulty(FAULTS[f], ill.severity) for ill in play.sick.ills if (f := tables().causes[ill.cause].fault)
    ]
    if play.level.lies:
        faults.append(Faulty(FAULTS["sender-inlet"], LIE_SEVERITY))
    plan = play.plan.model_copy(update={"senders": plain_senders(play.plan)})
    scenario = Scenario(
        plan,
        script_from(SITUATIONS[situation], plan),
        play.sick.seed % 100_000,
        tuple(faults),
        step_s=0.1,
        full=True,
    )
    return converted_recording(plan, sensed(simulate(scenario), GAUGE_HZ))


@dataclass(frozen=True)
class Step:
    """One step of a path: key of a test, or of a sign that was asked, its outcome's number (of a sign: 1 for yes), what it was worth
    [bit]: how much likelier it made what is wrong; its minutes and coins."""

    key: str
    outcome: int
    bits: float
    minutes: float
    money: float
    asked: bool = False

    @property
    def words(self) -> str:
        """How it reads in a list."""
        known = tables()
        if self.asked:
            return tr("asked: {said}").format(said=known.signs[self.key].words(self.outcome == 1))
        return known.tests[self.key].told(self.outcome)


@dataclass(frozen=True)
class Ending:
    """The truth of a case: what is wrong; which of it the learner named, and what was named wrongly; what each of the learner's tests was worth; the path that the best plan of
    questions and tests would have taken within the level's minutes and coins, with its cost; points of 100."""

    truth: tuple[str, ...]
    found: tuple[str, ...]
    wrong: tuple[str, ...]
    steps: tuple[Step, ...]
    best: tuple[Step, ...]
    points: int

    @property
    def best_minutes(self) -> float:
        """Minutes of the best path."""
        return sum(s.minutes for s in self.best)

    @property
    def best_money(self) -> float:
        """Coins of the best path."""
        return sum(s.money for s in self.best)


MOST_BEST, MOST_ASKED = 8, 8
"""Tests and questions that the best plan may take."""
ASK_OVERHEAD_MIN = 8.0
"""[min] that a question counts beside its own when it is weighed against a test; project choice."""
FOUND_POINTS, THRIFT_POINTS = 70, 30
"""Points for finding what is wrong, and for finding it cheaply; project choice."""
NAMED_WRONG = 0.6
"""[-] of the points that are left where something was named that is not wrong; project choice."""
LEAST_COST_MIN = 20.0
"""[min] that the best plan counts as at least, so that a case that is plain at once is not lost by one look; project choice."""


def ending(play: Play, made: Model | None = None) -> Ending:
    """Return the truth of a case that was said to the end.

    Args:
        play: the case.
        made: the model of its plan, where it is known already.

    Raises: GravidonError if the plan cannot be computed.
    """
    made = made or model(play.plan)
    truth = tuple(ill.cause for ill in play.sick.ills)
    named = tuple(c for c in play.guessed if c in truth)
    wrong = tuple(c for c in play.guessed if c not in truth)
    steps = _steps(made, play.case.answers, tuple(play.case.results.items()), truth)
    best = best_path(play, made, truth)
    best_cost = sum(s.minutes + MINUTES_A_COIN * s.money for s in best)
    cost = play.minutes + MINUTES_A_COIN * play.money
    share = len(named) / len(truth) * (1.0 if not wrong else NAMED_WRONG)
    thrift = min(max(best_cost, LEAST_COST_MIN) / max(cost, 1.0), 1.0) if named else 0.0
    return Ending(
        truth, named, wrong, steps, best, round(FOUND_POINTS * share + THRIFT_POINTS * share * thrift)
    )


def _bits(
    made: Model, answers: Mapping[str, bool], results: Mapping[str, int], truth: Sequence[str]
) -> float:
    """Return the logarithm (base 2) of the belief in what is wrong, the mean over its parts."""
    causes = dict(made.belief(answers, results).ranked)
    return sum(math.log2(max(causes.get(c, 1e-9), 1e-9)) for c in truth) / len(truth)


def _steps(
    made: Model,
    answers: Mapping[str, bool],
    results: Sequence[tuple[str, int]],
    truth: Sequence[str],
) -> tuple[Step, ...]:
    """Return what each result was worth, one after the other."""
    known = made.tables.tests
    so_far = Case(bar=3)
    before = _bits(made, answers, {}, truth)
    steps = []
    for key, outcome in results:
        minutes = so_far.minutes(known[key])
        so_far = so_far.tested(key, outcome)
        after = _bits(made, answers, so_far.results, truth)
        steps.append(Step(key, outcome, after - before, minutes, known[key].money))
        before = after
    return tuple(steps)


def best_path(play: Play, made: Model, truth: Sequence[str]) -> tuple[Step, ...]:
    """Return the questions and tests that the best plan would have taken from what the owner told first, with this car's answers, until
    it was sure or the level's minutes and coins were spent: always what tells most for its cost."""
    now = replace(play, case=Case(dict.fromkeys(play.first, True), bar=3), minutes=0.0, money=0.0, guessed=())
    before = _bits(made, now.case.answers, {}, truth)
    steps: list[Step] = []
    while len(now.case.results) < MOST_BEST:
        belief = made.belief(now.case.answers, now.case.results)
        if settled(belief):
            break
        test = next((a for a in advise(made, belief, now.case) if _within(now, a)), None)
        worth = test.worth if test is not None and test.gain_bits >= TEST_BITS else 0.0
        sign = _question(now, made, belief, worth)
        if sign:
            then = now.ask(sign)
            key, outcome = sign, int(then.case.answers[sign])
        elif worth and test is not None:
            then = now.test(test.test.key)
            key, outcome = test.test.key, then.case.results[test.test.key]
        else:
            break
        after = _bits(made, then.case.answers, then.case.results, truth)
        took = then.minutes - now.minutes, then.money - now.money
        steps.append(Step(key, outcome, after - before, *took, bool(sign)))
        now, before = then, after
    return tuple(steps)


def _within(play: Play, advice: Advice) -> bool:
    """Whether a test can still be paid for, in minutes and coins."""
    return advice.minutes <= play.minutes_left and advice.money <= play.money_left


def _question(play: Play, made: Model, belief: Belief, worth: float) -> str:
    """Return the sign that is best asked now; empty where a test of this worth tells more for its cost, or enough was asked."""
    asked = len(play.case.answers) - len(play.first)
    wanted = weighed_questions(made, belief, play.case)
    if not wanted or asked >= MOST_ASKED or play.minutes_left < ASK_MIN:
        return ""
    sign, bits = wanted[0]
    return sign if bits / (ASK_MIN + ASK_OVERHEAD_MIN) > worth else ""


# --- the record --------------------------------------------------------------------------------


@dataclass(frozen=True)
class Mark:
    """One line of the record: when (ISO), what (a case's code, or a drill), its level or skill, points of 100, minutes and coins it took."""

    when: str
    what: str
    skill: str
    points: int
    minutes: float = 0.0
    money: float = 0.0


def marks_text(marks: Sequence[Mark]) -> str:
    """Return a record as JSON lines."""
    return "".join(json.dumps(asdict(m), ensure_ascii=False) + "\n" for m in marks)


def marks_from(text: str) -> tuple[Mark, ...]:
    """Return the record that JSON lines hold; a damaged line is passed over, the others count."""
    found = []
    for line in text.splitlines():
        try:
            raw = json_object(line)
            found.append(
                Mark(
                    str(raw["when"]),
                    str(raw["what"]),
                    str(raw["skill"]),
                    int(raw["points"]),
                    float(raw.get("minutes", 0.0)),
                    float(raw.get("money", 0.0)),
                )
            )
        except (ValueError, KeyError, TypeError, OverflowError, PlanFileError):
            continue
    return tuple(found)


def progress(marks: Sequence[Mark]) -> dict[str, tuple[int, float, float]]:
    """Return by skill how many marks there are, the mean points of the first five and of the last five."""
    by_skill: dict[str, list[int]] = {}
    for m in marks:
        by_skill.setdefault(m.skill, []).append(m.points)
    return {k: (len(v), sum(v[:5]) / len(v[:5]), sum(v[-5:]) / len(v[-5:])) for k, v in by_skill.items()}
