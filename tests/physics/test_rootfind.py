# SPDX-License-Identifier: GPL-3.0-or-later
"""The array root finder against scipy's brentq."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.optimize import brentq

from gravidon.physics.rootfind import solve_falling

shapes = st.lists(
    st.tuples(st.floats(0.01, 50.0), st.one_of(st.just(0.0), st.floats(1e-9, 50.0)), st.floats(1.0, 3.5)),
    min_size=1,
    max_size=20,
)


@given(shapes)
def test_roots_agree_with_brentq(rows: list[tuple[float, float, float]]) -> None:
    """Falling functions p - a x - b x^n of many stiffnesses at once, to 1e-6 of the residual scale."""
    a, b, n = (np.array(v) for v in zip(*rows, strict=True))
    p = np.full(len(rows), 10.0)
    root = solve_falling(lambda x: p - a * x - b * x**n, np.zeros(len(rows)), p / a, p)
    assert root.converged
    for k in range(len(rows)):
        expected = brentq(lambda x, k=k: 10.0 - a[k] * x - b[k] * x ** n[k], 0.0, 10.01 / a[k], xtol=1e-14)
        assert root.value[k] == pytest.approx(expected, rel=1e-5, abs=1e-9)


def test_few_evaluations_on_a_plain_quadratic() -> None:
    """Superlinear: a hundred quadratics together need at most a dozen evaluations."""
    c = np.linspace(0.1, 100.0, 100)
    root = solve_falling(lambda x: c - x * x, np.zeros(100), c + 1.0, c)
    assert root.converged
    assert root.iterations <= 20
    assert root.value == pytest.approx(np.sqrt(c), rel=1e-6)


def test_it_tells_when_there_is_no_root() -> None:
    """A function that never falls to zero inside the bracket is reported, not returned as solved."""
    one = np.ones(3)
    assert not solve_falling(lambda x: 5.0 + 0 * x, 0 * one, one, one).converged


def test_what_it_is_given_stays_as_it_was() -> None:
    low, high = np.zeros(4), np.full(4, 3.0)
    solve_falling(lambda x: 2.0 - x, low, high, np.ones(4))
    assert (low == 0).all()
    assert (high == 3).all()


def test_a_balance_that_is_infinite_at_an_end_is_halved_there() -> None:
    """1/x - 2 on [0, 1]: infinite at 0, root 1/2 (exact); false position has nothing to divide there, and said so with a warning and a nan."""
    with np.errstate(divide="ignore"):
        root = solve_falling(lambda x: 1.0 / x - 2.0, np.zeros(2), np.array([1.0, 3.0]), np.ones(2))
    assert root.converged
    assert root.value == pytest.approx(np.array([0.5, 0.5]), abs=1e-7)
