# SPDX-License-Identifier: GPL-3.0-or-later
"""Part-full laminar flow: exact points, a second method, and the derived controls."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from gravidon.physics import part_full
from gravidon.physics.part_full_table import FILL_STEP, FLOW_RATIO
from physics.part_full_solver import flow_ratio_by_solution, main


def test_half_and_full_are_exact() -> None:
    """Half full carries half (symmetry about the free surface); full carries all (Hagen-Poiseuille)."""
    assert part_full.flow_ratio(0.5) == pytest.approx(0.5, abs=2e-5)
    assert part_full.flow_ratio(1.0) == pytest.approx(1.0, abs=1e-9)


@pytest.mark.parametrize(("fill", "expected", "within"), [(0.4, 0.274, 5e-4), (0.2, 0.0332, 5e-5)])
def test_known_shallow_values(fill: float, expected: float, within: float) -> None:
    """Known values of laminar flow in a circular segment (rounded as given, from memory)."""
    assert part_full.flow_ratio(fill) == pytest.approx(expected, abs=within)


def test_peak_is_near_0_86() -> None:
    """The peak of about 1.27 lies near h/D = 0.86 (from memory)."""
    fills = np.linspace(0.7, 1.0, 301)
    ratio = part_full.flow_ratio(fills)
    assert ratio.max() == pytest.approx(1.27, abs=0.005)
    assert fills[ratio.argmax()] == pytest.approx(0.86, abs=0.01)


@pytest.mark.parametrize("entry", [4, 16, 30, 38])
def test_table_matches_a_fresh_solution(entry: int) -> None:
    """The shipped table against its solver on a coarser grid: second-order in a strip that
    widens with fill, so within 0.5 % up to 0.75 and 1.5 % at 0.95."""
    within = 5e-3 if entry <= 30 else 15e-3
    assert flow_ratio_by_solution(entry * FILL_STEP, 60) == pytest.approx(FLOW_RATIO[entry], rel=within)


def relaxation(fill: float, n: int) -> float:
    """Second method: plain finite differences on a square grid of the segment, direct solve."""
    from scipy.sparse import lil_matrix
    from scipy.sparse.linalg import spsolve

    h = 2.0 / n
    top = 2.0 * fill - 1.0
    cells = {}
    for j in range(int(fill * n)):
        for i in range(n):
            x, y = -1 + (i + 0.5) * h, top - (j + 0.5) * h
            if x * x + y * y < 1.0:
                cells[i, j] = len(cells)
    matrix = lil_matrix((len(cells), len(cells)))
    for (i, j), k in cells.items():
        for di, dj in ((1, 0), (-1, 0), (0, 1), (0, -1)):
            if j + dj < 0:
                continue  # free surface: no stress
            matrix[k, k] -= 1.0
            if (i + di, j + dj) in cells:
                matrix[k, cells[i + di, j + dj]] += 1.0
    u = spsolve(matrix.tocsc(), -h * h * np.ones(len(cells)))
    return float(u.sum() * h * h / (np.pi / 8.0))


@pytest.mark.parametrize("fill", [0.3, 0.5, 0.7])
def test_second_method_agrees(fill: float) -> None:
    """A staircase finite-difference solution; its wall is first-order, so within 4 %."""
    assert relaxation(fill, 160) == pytest.approx(float(part_full.flow_ratio(fill)), rel=0.04)


@given(st.floats(0.02, 0.85), st.floats(0.005, 0.03), st.floats(0.05, 1.0))
def test_normal_depth_carries_its_own_flow(fill: float, bore: float, sine: float) -> None:
    """Normal depth is the inverse of the flow ratio for laminar flow (interpolation: 1 %)."""
    nu = 2e-4  # thick enough to stay laminar
    q = part_full.flow_ratio(fill) * part_full.full_flow(bore, sine, nu)
    assert part_full.normal_fill(q, bore, sine, nu) == pytest.approx(fill, rel=0.01, abs=0.002)


@pytest.mark.parametrize("fill", [0.2, 0.5, 0.8])
def test_critical_depth_has_unit_froude_number(fill: float) -> None:
    """At critical depth Q² T = g A³ (Chow 1959), by hand from the segment's width and area."""
    d = 0.02
    area = d * d / 4 * (np.arccos(1 - 2 * fill) - (1 - 2 * fill) * 2 * np.sqrt(fill - fill**2))
    width = 2 * d * np.sqrt(fill - fill**2)
    q = np.sqrt(9.80665 * area**3 / width)
    assert part_full.critical_fill(q, d) == pytest.approx(fill, abs=0.005)


def test_turbulent_flow_needs_more_slope_than_laminar() -> None:
    """Above Re 2100 the Darcy slope rules: f(Churchill) V²/2gD, computed with 0.3164/Re^0.25 (Blasius)."""
    q, d, nu = 2e-3, 0.02, 1e-6
    v = q / (np.pi / 4 * d * d)
    blasius = 0.3164 / (v * d / nu) ** 0.25 * v * v / (2 * 9.80665 * d)
    assert part_full.full_friction_slope(q, d, nu, 9.80665) == pytest.approx(blasius, rel=0.05)


def test_the_table_can_be_printed_anew(capsys: pytest.CaptureFixture[str]) -> None:
    """What the solver prints is Python source of the table that ships: on a grid three times coarser to 1.5 per cent of a full pipe's flow."""
    main(24)
    table: dict[str, tuple[float, ...]] = {}
    exec(capsys.readouterr().out, table)  # noqa: S102  our own print
    made = table["FLOW_RATIO"]
    assert len(made) == len(FLOW_RATIO)
    assert made == pytest.approx(FLOW_RATIO, abs=0.015)
    assert (made[0], made[-1]) == (0.0, 1.0)
