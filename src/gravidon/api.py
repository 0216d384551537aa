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

from pathlib import Path
from typing import Any, Literal

from gravidon.plan import demos, paths, storage, units
from gravidon.plan.fields import Known
from gravidon.plan.model import Plan
from gravidon.plan.starter import Answers, new_plan
from gravidon.plan.units import Family
from gravidon.study.verdict import remedies as _remedies
from gravidon.study.verdict import report as _report
from gravidon.study.verdict.finding import Finding
from gravidon.study.verdict.remedies import Remedy
from gravidon.study.verdict.trials import Trial, trial

__all__ = [
    "Answers",
    "Finding",
    "Plan",
    "Remedy",
    "Trial",
    "demo",
    "findings",
    "new",
    "open",
    "put",
    "remedies",
    "report",
    "save",
    "sheet",
    "trial",
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
    """Return a first plan from five answers: oil grade, bearing, frame, two gauge readings, fall.

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


def report(plan: Plan) -> dict[str, Any]:
    """Return the whole report as plain data, as `gravidon check --json` prints it.

    Raises: GravidonError if the plan's numbers cannot be computed.
    """
    return _report.report(trial(plan).evaluation)


def sheet(plan: Plan, path: str | Path, family: Family | Literal["imperial", "metric"] = "metric") -> Path:
    """Write the shop sheet as PDF or HTML, by the file's ending, and return the file.

    Raises: InputError for another ending; GravidonError if it cannot be written.
    """
    from gravidon.errors import InputError
    from gravidon.sheet.shop_sheet import write_sheet

    target = Path(path)
    if target.suffix.lower() not in (".pdf", ".html"):
        raise InputError("output", target.name, "a name ending in .pdf or .html")
    write_sheet(trial(plan).evaluation, target, family)
    return target
