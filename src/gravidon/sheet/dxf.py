# SPDX-License-Identifier: GPL-3.0-or-later
"""Template, pan wall and flange plates as DXF at true scale: millimetres, one layer for what is cut, one for what is marked, one for words."""

from __future__ import annotations

import io
from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING, Literal

from gravidon.errors import InputError
from gravidon.plan.fields import si
from gravidon.plan.files import write_atomically
from gravidon.plan.model import Plan
from gravidon.study.making.cutting import EntryTemplate, entry_template
from gravidon.study.making.plates import Plate, plates
from gravidon.study.solve import assemble
from gravidon.study.solve.wall import ACROSS, bolt_places, wall_of
from gravidon.translate import tr

if TYPE_CHECKING:
    from ezdxf.document import Drawing
    from ezdxf.layouts.layout import Modelspace

Subject = Literal["template", "wall", "plates"]
SUBJECTS: tuple[Subject, ...] = ("template", "wall", "plates")
CUT, MARK, TEXT = "CUT", "MARK", "TEXT"
COLOURS = {CUT: 1, MARK: 5, TEXT: 8}
"""Layers by their colour index: red is cut, blue is only marked; common practice, no source."""
BETWEEN_MM = 20.0


def _new() -> tuple[Drawing, Modelspace]:
    from ezdxf import units
    from ezdxf.filemanagement import new

    made = new("R2010")
    made.units = units.MM
    made.header["$MEASUREMENT"] = 1
    for name, colour in COLOURS.items():
        made.layers.add(name, color=colour)
    return made, made.modelspace()


def _words(space: Modelspace, words: str, at: tuple[float, float], height: float = 3.0) -> None:
    text = space.add_text(" ".join(words.split()), height=height, dxfattribs={"layer": TEXT})
    text.set_placement(at)


def _cross(space: Modelspace, x: float, y: float, half: float) -> None:
    for a, b in (((x - half, y), (x + half, y)), ((x, y - half), (x, y + half))):
        space.add_line(a, b, dxfattribs={"layer": MARK})


def _template(space: Modelspace, it: EntryTemplate) -> None:
    """The hole at the origin, seen from outside; the rail above it."""
    space.add_circle((0, 0), 0.5e3 * it.hole_m, dxfattribs={"layer": CUT})
    space.add_circle((0, 0), it.spanner_m * 1e3, dxfattribs={"layer": MARK})
    _cross(space, 0.0, 0.0, 12.0)
    rail = it.below_rail_m * 1e3
    space.add_line((-60, rail), (60, rail), dxfattribs={"layer": MARK})
    for beside, above in it.bolts_m:
        space.add_circle((beside * 1e3, above * 1e3), 0.5e3 * it.bolt_head_m, dxfattribs={"layer": MARK})
    _words(
        space,
        tr("{name}: pan entry from outside, rail {rail:.1f} mm above the hole").format(
            name=it.name, rail=rail
        ),
        (-60, rail + 6),
    )
    _words(
        space,
        tr("{tool}; drill {hole:.2f} mm").format(tool=it.tool, hole=it.hole_m * 1000.0),
        (-60, -it.spanner_m * 1e3 - 8),
    )


def _wall(space: Modelspace, plan: Plan, k: int) -> None:
    """The wall from outside, its rail along y = 0; every hole that enters by it, the rail's bolts."""
    it = plan.turbos[k]
    wall = wall_of(plan, it)
    sign = ACROSS[wall.name]
    left = min(sign * wall.low_m, sign * wall.high_m)

    def at(along_m: float, up_m: float) -> tuple[float, float]:
        return (sign * along_m - left) * 1e3, (up_m - wall.rail_m) * 1e3

    corners = [
        at(a, u)
        for a, u in (
            (wall.low_m, wall.floor_m),
            (wall.high_m, wall.floor_m),
            (wall.high_m, wall.rail_m),
            (wall.low_m, wall.rail_m),
        )
    ]
    space.add_lwpolyline(corners, close=True, dxfattribs={"layer": MARK})
    for along in bolt_places(plan, wall):
        space.add_circle(
            at(float(along), wall.rail_m), 0.5e3 * si(plan.sump, "bolt_head_mm"), dxfattribs={"layer": MARK}
        )
    for n, other in enumerate(plan.turbos):
        template = entry_template(plan, n)
        if template is None or wall_of(plan, other) != wall:
            continue
        entry = assemble.point(other.drain.entry)
        x, y = at(float(entry[1 - wall.axis]), float(entry[2]))
        space.add_circle((x, y), 0.5e3 * template.hole_m, dxfattribs={"layer": CUT})
        space.add_circle((x, y), template.spanner_m * 1e3, dxfattribs={"layer": MARK})
        _cross(space, x, y, 8.0)
        _words(space, other.turbo.label, (x + 10, y + 3))
    _words(
        space,
        tr("{name}: pan, {wall_name} wall from outside; the rail's lower edge is y = 0").format(
            name=plan.name, wall_name=tr(wall.name)
        ),
        (0, 8),
    )


def _plates(space: Modelspace, made: tuple[Plate, ...]) -> None:
    """The plates one under another, bores on x = 0."""
    y = 0.0
    for plate in made:
        tall = max(plate.middle_m, plate.end_m) * 1e3
        y -= tall
        outline = [(px * 1e3, py * 1e3 + y, bulge) for px, py, bulge in plate.outline()]
        space.add_lwpolyline(outline, format="xyb", close=True, dxfattribs={"layer": CUT})
        space.add_circle((0, y), 0.5e3 * plate.bore_m, dxfattribs={"layer": CUT})
        for bx, by in plate.bolts_m:
            space.add_circle((bx * 1e3, by * 1e3 + y), 0.5e3 * plate.hole_m, dxfattribs={"layer": CUT})
        _words(
            space,
            tr("{name}: {thick:g} mm plate, two {bolt}; measure your turbo before you cut").format(
                name=plate.name, thick=plate.thick_m * 1000.0, bolt=plate.bolt
            )
            + (tr("; LITTLE PLATE IS LEFT between bore and bolts") if plate.crowded else ""),
            (-0.5e3 * plate.pitch_m - plate.end_m * 1e3, y - tall - 6.0),
        )
        y -= tall + BETWEEN_MM


def write_dxf(plan: Plan, k: int, subject: Subject, target: Path) -> None:
    """Write one turbo's drawing for the workshop.

    Args:
        plan: the plan.
        k: which turbo, from 0.
        subject: "template" (the hole in the pan), "wall" (the pan's wall with it), or "plates" (both flange plates).
        target: the file.

    Raises: InputError for a subject the plan does not have; PlanFileError if the file cannot be written.
    """
    document, space = _new()
    draw: Callable[[], None]
    if subject == "plates":
        made = plates(plan, k)
        if not made:
            raise InputError("DXF of plates", "screwed ports", "a turbo with a two-bolt flange")
        draw = lambda: _plates(space, made)  # noqa: E731
    else:
        template = entry_template(plan, k)
        if template is None:
            raise InputError(
                tr("DXF of the {subject}").format(subject=subject), "no hole", "a drain that enters the pan"
            )
        draw = (
            (lambda: _template(space, template)) if subject == "template" else (lambda: _wall(space, plan, k))
        )
    draw()
    text = io.StringIO()
    document.write(text)
    write_atomically(target, text.getvalue().encode("utf-8"))
