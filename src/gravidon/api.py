# SPDX-License-Identifier: GPL-3.0-or-later
"""The Python door: open or make a plan, change it, try it, read what is found, ask for remedies, write the sheet.

These names and what they mean stay from version to version; the command line goes through them too. Plans are
frozen: a change gives a new plan. Results hold SI units; `text(...)` of findings and remedies writes them in words.

>>> from gravidon import api
>>> plan = api.put(api.demo("estate"), "turbos.0.restrictor.bore_mm", "2.2 mm")
>>> tried = api.trial(plan)
>>> tried.verdict
'fails'
>>> api.findings(plan)[0].code in {f.code for f in tried.findings}
True
"""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path
from typing import Any, Literal

from gravidon.plan import demos, paths, storage, units
from gravidon.plan.fields import Known
from gravidon.plan.model import Plan
from gravidon.plan.starter import Answers, new_plan
from gravidon.plan.units import Family
from gravidon.records.book import Book, book_path
from gravidon.records.entry import Entry
from gravidon.records.recording import Recording
from gravidon.study.car.car import Scenario, simulate
from gravidon.study.car.faults import faulty_from
from gravidon.study.car.script import script_from
from gravidon.study.car.senses import sensed
from gravidon.study.diagnosis.case import Case
from gravidon.study.diagnosis.report import diagnosis as _diagnosis
from gravidon.study.health.fit import Health
from gravidon.study.health.fit import health as _health
from gravidon.study.planning import freedom as _freedom
from gravidon.study.planning import reasons as _reasons
from gravidon.study.planning import report as _planned
from gravidon.study.planning import search as _search
from gravidon.study.planning.choices import CHOICES
from gravidon.study.planning.crew import Workers
from gravidon.study.planning.search import Answer
from gravidon.study.verdict import chance as _chance
from gravidon.study.verdict import remedies as _remedies
from gravidon.study.verdict import report as _report
from gravidon.study.verdict.certainty import Certainty
from gravidon.study.verdict.finding import Finding
from gravidon.study.verdict.remedies import Remedy
from gravidon.study.verdict.trials import Trial, trial

__all__ = [
    "Answer",
    "Answers",
    "Case",
    "Certainty",
    "Finding",
    "Plan",
    "Remedy",
    "Trial",
    "chance",
    "demo",
    "diagnosed",
    "findings",
    "health",
    "lock",
    "logbook",
    "new",
    "open",
    "planned",
    "plans",
    "put",
    "remedies",
    "report",
    "save",
    "sheet",
    "simulated",
    "trial",
    "why_not",
]


def open(path: str | Path) -> Plan:
    """Return the plan in a file; older formats are brought up.

    Raises: PlanFileError (of GravidonError) saying what is wrong with it and where.
    """
    return storage.load(Path(path))


def demo(name: str = "estate") -> Plan:
    """Return one of the plans that ship, all invented.

    Raises: KeyError for a name not in `gravidon.plan.demos.NAMES`.
    """
    return demos.demo_plan(name)


def new(name: str, answers: Answers | None = None) -> Plan:
    """Return a first plan from what is known: oil, readings, turbo, where it sits, pan, things in the way, parts owned.

    Raises: InputError for an answer out of bounds; KeyError for a grade that is not known.
    """
    return new_plan(name, answers or Answers())


def save(plan: Plan, path: str | Path) -> Path:
    """Write a plan and return the file.

    Raises: PlanFileError if it cannot be written; what was there stays.
    """
    target = Path(path)
    storage.save(plan, target)
    return target


def put(plan: Plan, path: str, value: Any) -> Plan:
    """Return the plan with another value at a path such as 'turbos.0.drain.entry.z_mm'.

    A number is taken in the unit of the path's name; text is read as a builder types it ('3/8 in', '45 psi',
    '2.2 ± 0.1 L/min'). Either counts as measured. Anything else is put as it is.

    Raises: InputError naming the field, the value and what was expected.
    """
    if isinstance(value, str):
        try:
            spec = paths.spec_at(plan, path)
        except KeyError:
            return paths.put(plan, path, value)
        number, width = units.parse_with_tolerance(value, spec.kind, spec.label)
        plain = units.si_to_file(number, spec.kind)
        if width is None or not isinstance(paths.get(plan, path), Known):
            return paths.put(plan, path, plain)
        zero = units.KINDS[spec.kind].file
        return paths.put(plan, path, Known(value=plain, basis="measured", tolerance=width / zero.factor))
    return paths.put(plan, path, value)


def findings(plan: Plan) -> tuple[Finding, ...]:
    """Return everything found in a plan, worst first.

    Raises: GravidonError if the plan's numbers cannot be computed.
    """
    return trial(plan).findings


def remedies(plan: Plan, finding: Finding) -> tuple[Remedy, ...]:
    """Return the best remedies of one of a plan's findings, each tried: what to ask for, its effect, the plan after it.

    Raises: GravidonError if the plan's numbers cannot be computed.
    """
    return _remedies.remedies(trial(plan).evaluation, finding)


def chance(plan: Plan, samples: int = 100) -> Certainty:
    """Return how often a plan passes, has warnings and fails within what is not measured; report and sheet of it then say so.

    Args:
        plan: the plan.
        samples: cars tried within the tolerances; the shares are known to about half over the root of it.

    Raises: GravidonError if the plan's numbers cannot be computed.
    """
    *_, known = _chance.chance(plan, samples)
    return known


def report(plan: Plan) -> dict[str, Any]:
    """Return the whole report as plain data, as `gravidon check --json` prints it.

    Raises: GravidonError if the plan's numbers cannot be computed.
    """
    return _report.report(trial(plan).evaluation)


def sheet(
    plan: Plan,
    path: str | Path,
    family: Family | Literal["imperial", "metric"] = "metric",
    paper: str = "",
) -> Path:
    """Write the shop sheet as PDF or HTML, by the file's ending, and return the file.

    Args:
        plan: the plan.
        path: a name ending in .pdf or .html.
        family: units.
        paper: of a PDF: "A4" or "Letter"; empty: the usual one of the session's country.

    Raises: InputError for another ending; GravidonError if it cannot be written.
    """
    from gravidon.errors import InputError
    from gravidon.sheet.paper import paper_named
    from gravidon.sheet.shop_sheet import write_sheet

    target = Path(path)
    if target.suffix.lower() not in (".pdf", ".html"):
        raise InputError("output", target.name, "a name ending in .pdf or .html")
    write_sheet(trial(plan).evaluation, target, family, paper_named(paper))
    return target


def dxf(
    plan: Plan, path: str | Path, what: Literal["template", "wall", "plates"] = "template", turbo: int = 1
) -> Path:
    """Write a drawing for the workshop as DXF, millimetres at true scale, and return the file.

    Args:
        plan: the plan.
        path: the file.
        what: the hole in the pan, the pan's wall with it, or the turbo's flange plates.
        turbo: which turbo, from 1.

    Raises: InputError for a turbo or a thing the plan does not have; GravidonError if it cannot be written.
    """
    from gravidon.errors import InputError
    from gravidon.sheet.dxf import SUBJECTS, write_dxf

    if what not in SUBJECTS:
        raise InputError("what", what, f"one of {', '.join(SUBJECTS)}")
    if not 1 <= turbo <= len(plan.turbos):
        raise InputError("turbo", turbo, f"1 to {len(plan.turbos)}")
    write_dxf(plan, turbo - 1, what, Path(path))
    return Path(path)


def lock(plan: Plan, *texts: str) -> Plan:
    """Return the plan with choices held as a builder says: 'clock', 'clock=open', 'entry-means=tapped,bulkhead',
    'restrictor=0.9..2.2', 'entry-place=-60..-20' (above the rail [mm]), 'drain-size@2=-10' (the second turbo's).

    Raises: InputError naming the choice and what was expected.
    """
    for text in texts:
        plan = _freedom.with_hold(plan, _freedom.read_hold(plan, text))
    return plan


def plans(plan: Plan, seed: int = 1, workers: int = 0) -> Answer:
    """Return whole plans within what may change in one, ranked; `planned` writes them as plain data.

    Args:
        plan: the plan to begin with; `lock` says what stays.
        seed: same seed, same answer.
        workers: worker processes (0: this thread does the work). A script that asks for some needs
            `if __name__ == "__main__":` round what it runs.

    Raises: GravidonError if the plan's numbers cannot be computed.
    """
    crew = Workers(workers) if workers else None
    try:
        *_, answer = _search.search(plan, seed, crew)
    finally:
        if crew is not None:
            crew.close()
    return answer


def planned(answer: Answer, family: Family | Literal["imperial", "metric"] = "metric") -> dict[str, Any]:
    """Return an answer as plain data, as `gravidon plan --json` prints it.

    Raises: GravidonError if one of its plans cannot be computed.
    """
    return _planned.report(answer, family)


def why_not(
    plan: Plan,
    choice: str,
    value: str,
    turbo: int = 0,
    family: Family | Literal["imperial", "metric"] = "metric",
) -> str:
    """Return in one sentence why a plan does not have another value of a choice: by trying it.

    Raises: InputError for a choice, a turbo or a value that is none.
    """
    from gravidon.errors import InputError

    if choice not in CHOICES:
        raise InputError("choice", choice, f"one of {', '.join(CHOICES)}")
    if not 0 <= turbo < len(plan.turbos):
        raise InputError("turbo", turbo, f"0 to {len(plan.turbos) - 1}")
    known = CHOICES[choice]
    return _reasons.why_not(plan, plan, known, turbo, known.read(value, plan, turbo), family).words


def simulated(
    plan: Plan, script: str = "first-start", seed: int = 1, faults: Sequence[str] = ()
) -> Recording:
    """Return what the senders of a simulated car show, as a recording (channels in SI, by the row).

    Args:
        plan: the plan.
        script: a script's name, or stretches such as "crank 12, idle 60, 2500 rpm 2 min load=0.3".
        seed: which car: its hidden values and its noise.
        faults: such as "screen=0.7" or "weak-pump=0.9@70+5".

    Raises: GravidonError naming what cannot be used.
    """
    scenario = Scenario(plan, script_from(script, plan), seed, tuple(faulty_from(f) for f in faults))
    return sensed(simulate(scenario))


def logbook(path: str | Path) -> tuple[Entry, ...]:
    """Return the entries of the logbook beside a plan file, by day; none where it has none.

    Raises: GravidonError if it cannot be read.
    """
    place = book_path(Path(path))
    if not place.is_file():
        return ()
    book = Book(place)
    try:
        return book.entries()
    finally:
        book.close()


def health(plan: Plan, entries: Sequence[Entry], turbo: int = 1) -> Health | None:
    """Return what a logbook's entries say of a turbo's feed (counted from 1): means and standard deviations per entry; None where nothing was read.

    Raises: GravidonError if a reading cannot be computed.
    """
    return _health(plan, entries, turbo - 1)


def diagnosed(plan: Plan, case: Case, entries: Sequence[Entry] = ()) -> dict[str, Any]:
    """Return why a plan's car may smoke, as plain data: causes with belief, what to ask, what to test next and what that splits; as `gravidon diagnose --json` prints it.

    Args:
        plan: the plan.
        case: what was told and tested: `Case().answered("smoke-idle", True).tested("dipstick", 0)`.
        entries: the logbook's.

    Raises: GravidonError if the plan or a reading cannot be computed.
    """
    return _diagnosis(plan, case, entries)
