# SPDX-License-Identifier: GPL-3.0-or-later
"""DXF for the workshop: read back by another library, sizes held against the plan and against plane geometry."""

from __future__ import annotations

from pathlib import Path

import ezdxf
import numpy as np
import pytest
from ezdxf import path as outlines
from shapely.geometry import Point, Polygon
from shapely.ops import unary_union

from gravidon import api
from gravidon.errors import InputError
from gravidon.plan.demos import NAMES, demo_plan
from gravidon.plan.fields import si
from gravidon.study.making.cutting import entry_template
from gravidon.study.making.plates import Plate, plates


def drawn(target: Path) -> ezdxf.document.Drawing:
    made = ezdxf.readfile(target)
    audit = made.audit()
    assert not audit.errors
    assert not audit.fixes
    assert made.header["$INSUNITS"] == 4  # millimetres, by the DXF reference
    return made


@pytest.mark.parametrize("name", NAMES)
@pytest.mark.parametrize("what", ["template", "wall", "plates"])
def test_every_demo_is_drawn_whole(tmp_path: Path, name: str, what: str) -> None:
    plan, target = demo_plan(name), tmp_path / "a.dxf"
    if what != "plates" and entry_template(plan, 0) is None:
        with pytest.raises(InputError):
            api.dxf(plan, target, what)  # type: ignore[arg-type]
        return
    api.dxf(plan, target, what)  # type: ignore[arg-type]
    cut = [e for e in drawn(target).modelspace() if e.dxf.layer == "CUT"]
    assert cut


def test_the_template_is_the_plans_hole_below_the_rail(tmp_path: Path) -> None:
    plan = demo_plan("coupe")
    it = entry_template(plan, 0)
    assert it is not None
    space = drawn(api.dxf(plan, tmp_path / "t.dxf")).modelspace()
    hole = [c for c in space.query("CIRCLE") if c.dxf.layer == "CUT"]
    assert [(c.dxf.center.x, c.dxf.center.y) for c in hole] == [(0.0, 0.0)]
    assert hole[0].dxf.radius * 2 == pytest.approx(it.hole_m * 1e3)
    level = [line for line in space.query("LINE") if line.dxf.start.y == line.dxf.end.y != 0.0]
    rail = plan.sump.boxes[0].corner.z_mm + plan.sump.boxes[0].depth_mm
    assert level[0].dxf.start.y == pytest.approx(rail - plan.turbos[0].drain.entry.z_mm)


def test_the_wall_is_the_boxs_own(tmp_path: Path) -> None:
    plan = demo_plan("coupe")
    space = drawn(api.dxf(plan, tmp_path / "w.dxf", "wall")).modelspace()
    line = next(iter(space.query("LWPOLYLINE")))
    x, y = np.array([p[:2] for p in line.get_points()]).T
    box = plan.sump.boxes[0]
    assert np.ptp(x) in (pytest.approx(box.length_mm), pytest.approx(box.width_mm))
    assert np.ptp(y) == pytest.approx(box.depth_mm)
    assert y.max() == 0.0
    cut = [c for c in space.query("CIRCLE") if c.dxf.layer == "CUT"]
    assert cut[0].dxf.center.y == pytest.approx(
        plan.turbos[0].drain.entry.z_mm - box.corner.z_mm - box.depth_mm
    )


@pytest.mark.parametrize(
    ("pitch", "bore", "hole"),
    [(44.0, 14.3, 9.0), (24.0, 4.0, 6.6), (52.0, 25.0, 9.0), (38.0, 60.0, 9.0), (38.0, 2.0, 20.0)],
)
def test_a_plates_outline_is_the_hull_of_its_circles(pitch: float, bore: float, hole: float) -> None:
    """Against the convex hull of three circles by another library: same area within its own rounding, wall kept everywhere."""
    plate = Plate(
        "x", "M8", pitch * 1e-3, hole * 1e-3, bore * 1e-3, 1.25e-3 * hole, 0.5e-3 * bore + 7e-3, 0.01
    )
    space = ezdxf.new().modelspace()
    line = space.add_lwpolyline(
        [(x * 1e3, y * 1e3, b) for x, y, b in plate.outline()], format="xyb", close=True
    )
    flat = Polygon([(p.x, p.y) for p in outlines.make_path(line).flattening(0.002)])
    ends = [Point(s * 0.5 * pitch, 0).buffer(1.25 * hole, 512) for s in (-1, 1)]
    hull = unary_union([*ends, Point(0, 0).buffer(0.5 * bore + 7.0, 512)]).convex_hull
    assert flat.is_valid
    assert flat.area == pytest.approx(hull.area, rel=5e-4)
    assert flat.symmetric_difference(hull).area < 8e-4 * hull.area


def test_plates_follow_the_ports(tmp_path: Path) -> None:
    plan = demo_plan("coupe")
    feed, drain = plates(plan, 0)
    assert drain.bore_m == si(plan.turbos[0].drain, "flange_bore_mm")
    assert f"{drain.pitch_m * 1e3:g} mm" in plan.turbos[0].parts.outlet
    assert f"{feed.pitch_m * 1e3:g} mm" in plan.turbos[0].parts.inlet
    screwed = api.put(plan, "turbos.0.parts.inlet", "NPT|1/8|female")
    assert [p.bolt for p in plates(screwed, 0)] == ["M8"]


def test_what_is_not_there_is_refused_by_name(tmp_path: Path) -> None:
    plan = demo_plan("coupe")
    with pytest.raises(InputError, match="turbo"):
        api.dxf(plan, tmp_path / "a.dxf", turbo=3)
    with pytest.raises(InputError, match="what"):
        api.dxf(plan, tmp_path / "a.dxf", "engine")  # type: ignore[arg-type]
    assert not list(tmp_path.glob("*.dxf"))
