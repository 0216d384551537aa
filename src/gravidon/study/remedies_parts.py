"""Remedies of the parts: the shortest chain that seals, another way through the pan's wall, a longer route."""

from __future__ import annotations

from collections.abc import Iterator

from gravidon.plan import paths
from gravidon.study.evaluate import Evaluation
from gravidon.study.findings import Finding
from gravidon.study.parts_list import runs
from gravidon.study.remedies import MAKERS, Proposal, same
from gravidon.study.remedies_gravity import with_means

CODES = tuple(
    f"{what}-{key}-{k}" for what in ("gap", "joint", "short") for key in ("feed", "drain", "trunk", "scavenge") for k in range(3)
)  # fmt: skip


def _line(finding: Finding) -> tuple[str, int]:
    _, key, number = finding.code.split("-")
    return key, int(number)


def found_chain(e: Evaluation, finding: Finding) -> Iterator[Proposal | None]:
    """Take the shortest workable chain instead of the chosen parts."""
    key, k = _line(finding)
    if key in ("feed", "drain") and getattr(e.plan.turbos[k].parts, key):
        run = next(r for r in runs(e.plan) if (r.key, r.turbo) == (key, k))
        if run.others:
            names = ", ".join(link.part.name for link in run.others[0].links)
            yield Proposal(
                same(f"Take the shortest chain that seals: {names}"),
                paths.put(e.plan, f"turbos.{k}.parts.{key}", ()),
            )


def other_way_in(e: Evaluation, finding: Finding) -> Iterator[Proposal | None]:
    """Enter the pan in the way that a chain reaches."""
    key, k = _line(finding)
    if key == "drain" and e.plan.turbos[k].drain_by == "gravity" and e.plan.turbos[k].drain.joins is None:
        for name, words in (
            ("weld bung", "Weld in a bung"),
            ("tapped", "Tap the pan"),
            ("bulkhead", "Fit a bulkhead"),
        ):
            if e.plan.turbos[k].drain.fitting.means != name:
                yield Proposal(same(f"{words} in the size of the hose"), with_means(e.of(k), name))


def straight_ends(e: Evaluation, finding: Finding) -> Iterator[Proposal | None]:
    """Shorter hose ends: straight ones."""
    key, k = _line(finding)
    pieces = e.plan.turbos[k].drain.pieces
    if key == "drain" and any("°" in p.label for p in pieces):
        new = tuple(p.model_copy(update={"label": f"straight hose end at the {p.at}"}) for p in pieces)
        yield Proposal(same("Use straight hose ends"), paths.put(e.plan, f"turbos.{k}.drain.pieces", new))


MAKERS.extend(((CODES, found_chain), (CODES, other_way_in), (CODES, straight_ends)))
