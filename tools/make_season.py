# SPDX-License-Identifier: GPL-3.0-or-later
"""Write the coupe's logbook and its two recordings, all invented: a season in which the in-line screen clogs and is found, and two first starts."""

import gzip
from dataclasses import replace
from datetime import date

from make_demo import FOLDER

from gravidon.plan.demos import demo_plan
from gravidon.records.book_csv import to_csv
from gravidon.records.entry import Entry
from gravidon.records.recording import lines_of
from gravidon.study.car.car import Scenario, simulate
from gravidon.study.car.faults import faulty_from
from gravidon.study.car.script import script_from
from gravidon.study.car.season import Wear, season
from gravidon.study.car.senses import sensed

SEED, FROM_KM, CLEANED_KM = 5, 1200.0, 4750.0
SAID = {
    0: ("first readings after the first start; everything dry", "reading"),
    4: ("early oil and filter, nothing in it but a few grey flakes", "oil change"),
    9: ("hill road, two hours. No smoke", "reading"),
    14: ("gauge at idle seems lazy when cold", "reading"),
    17: ("cold start: inlet takes its time", "reading"),
}


def entries() -> tuple[Entry, ...]:
    """Return the season's entries."""
    plan = demo_plan("coupe")
    before = tuple(
        float(k)
        for k in (
            60,
            240,
            410,
            560,
            700,
            980,
            1240,
            1500,
            1730,
            2010,
            2290,
            2520,
            2800,
            3050,
            3320,
            3610,
            3880,
            4180,
            4460,
        )
    )
    first = season(
        plan,
        SEED,
        Wear(closing=2.9, from_km=FROM_KM),
        before,
        begin=date(2026, 4, 11),
        km_a_day=38.0,
        oil_every_km=1e9,
    )
    made = list(first.entries)
    for k, (note, kind) in SAID.items():
        changed = ("oil",) if kind == "oil change" else ()
        made[k] = replace(made[k], note=note, kind=kind, changed=changed)
    made.append(
        Entry("2026-08-14", CLEANED_KM * 1e3, "work", "in-line screen taken apart: three quarters grey, fibres of a rag and sealant. Cleaned, new washers",
              (), (), ("screen",), uid="000005-clean")
    )  # fmt: skip
    after = tuple(float(k) for k in (4800, 5040, 5310, 5620, 5900))
    second = season(
        plan,
        SEED,
        Wear(closing=0.25, from_km=CLEANED_KM),
        after,
        begin=date(2026, 4, 11),
        km_a_day=38.0,
        oil_every_km=1e9,
    )
    made += [replace(e, uid=f"000005-1{k:03d}") for k, e in enumerate(second.entries)]
    made[20] = replace(made[20], note="cold idle is back where it was in spring")
    made.append(
        Entry(
            "2026-09-20",
            5960e3,
            "oil change",
            "oil and filter before the last track day",
            (),
            (),
            ("oil",),
            uid="000005-oil2",
        )
    )
    return tuple(made)


def first_start(name: str, *faults: str) -> None:
    """Write the recording of a first start of the coupe."""
    plan = demo_plan("coupe")
    scenario = Scenario(
        plan, script_from("first-start", plan), SEED, tuple(faulty_from(f) for f in faults), step_s=0.05
    )
    made = sensed(simulate(scenario), 10.0)
    text = "\n".join((f"# {plan.name}: {name}", *lines_of(made), "")).encode()
    (FOLDER / f"{name}.csv.gz").write_bytes(gzip.compress(text, mtime=0))


if __name__ == "__main__":
    (FOLDER / "coupe-season.csv").write_text(to_csv(entries()), encoding="utf-8")
    first_start("first-start-good")
    first_start("first-start-stopped", "weak-pump=0.95@75+4")
