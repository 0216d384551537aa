# SPDX-License-Identifier: GPL-3.0-or-later
"""Changes of bore against tables and a reference library, and that nothing jumps where two bores are equal."""

import fluids
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from gravidon.physics import bore_change, drain

G = 9.80665


@pytest.mark.parametrize(
    ("share", "jet"), [(0.2, 0.632), (0.4, 0.659), (0.6, 0.712), (0.8, 0.813), (1.0, 1.0)]
)
def test_the_jet_narrows_as_weisbach_measured(share: float, jet: float) -> None:
    """Weisbach's table (from memory, as handbooks of hydraulics give it); within 0.01."""
    assert float(bore_change.jet_share(share)) == pytest.approx(jet, abs=0.01)


@pytest.mark.parametrize("share", [0.05, 0.3, 0.5, 0.7, 0.9])
def test_losses_against_a_reference_library(share: float) -> None:
    """Borda and Carnot exactly; a sharp contraction in fast flow within 0.09 heads of Rennels' and of Hooper's (`fluids`)."""
    d = share**0.5
    assert float(bore_change.enlargement_loss(share)) == pytest.approx(
        fluids.diffuser_sharp(d, 1.0), abs=1e-12
    )
    mine = float(bore_change.contraction_loss(share, 1e8))
    assert mine == pytest.approx(fluids.contraction_sharp(1.0, d), abs=0.09)
    hooper = fluids.contraction_sharp(1.0, d, fd=0.01, Re=1e8, method="Hooper")
    assert mine == pytest.approx(hooper, abs=0.13)


def test_slow_oil_pays_more_than_creeping_flow_alone() -> None:
    """Half of Sampson's hole (exact, creeping): 6 pi/Re; the fitting's law lies over it and falls with speed."""
    slow = bore_change.contraction_loss(0.0, np.array([2.0, 20.0, 200.0]))
    assert (slow > 6 * np.pi / np.array([2.0, 20.0, 200.0])).all()
    assert (np.diff(slow) < 0).all()


def stepped(first: float, second: float, fall: float, pieces: int = 24) -> drain.Run:
    """A run whose upper half has one bore and whose lower half another."""
    heights = np.linspace(fall, 0.0, pieces + 1)[:, None]
    return drain.Run(
        heights, np.full(pieces, 0.012), np.r_[np.full(pieces // 2, first), np.full(pieces // 2, second)]
    )


@settings(deadline=None, max_examples=150)
@given(
    q=st.floats(5e-6, 2e-4),
    nu=st.floats(1.2e-5, 2e-4),
    fall=st.floats(0.01, 0.25),
    sump=st.floats(-0.1, 0.15),
    bore=st.floats(0.010, 0.018),
)
def test_equal_bores_never_jump(q: float, nu: float, fall: float, sump: float, bore: float) -> None:
    """A hair more or less of bore, at the shoulder of a run, moves its housing by a hair: as much as in a run without one."""
    hair = bore * 2e-5
    levels = [
        float(drain.march(stepped(bore, bore + step, fall), [q], [nu], [G], [sump]).housing_level_m[0])
        for step in (-hair, 0.0, hair)
    ]
    assert max(levels) - min(levels) < 5e-4 + 1e-3 * abs(levels[1])


@settings(deadline=None, max_examples=60)
@given(q=st.floats(1e-5, 1.5e-4), fall=st.floats(0.02, 0.2), nu=st.floats(1.5e-5, 1e-4))
def test_a_tighter_end_never_helps(q: float, fall: float, nu: float) -> None:
    """The housing stands the higher the tighter the lower half, without a step of more than its own share."""
    bores = np.linspace(0.016, 0.009, 71)
    levels = np.array(
        [
            float(drain.march(stepped(0.016, b, fall), [q], [nu], [G], [-0.05]).housing_level_m[0])
            for b in bores
        ]
    )
    assert (np.diff(levels) > -5e-4).all()
