# SPDX-License-Identifier: GPL-3.0-or-later
"""Laminar flow in a part-full round pipe, solved from scratch: the second method beside the
product's table, and what makes it (`gravidon.physics.part_full_table`).

The wetted segment and its mirror image over the free surface form a lens between two arcs.
In bipolar coordinates about the lens tips the lens is a strip, so a plain rectangle of finite
differences resolves the corners. Run as a module to print the table.
"""

from __future__ import annotations

import numpy as np

from gravidon.physics.arrays import array

_STRIP_END = 9.0


def flow_ratio_by_solution(fill: float, cells: int = 160) -> float:
    """Return Q/Q_full [-] at one fill by solving the Poisson problem on the segment.

    Equation: laplacian(u) = -1, u = 0 on the wall, du/dn = 0 on the free surface;
    Q = integral of u; Q_full = pi D⁴/128.

    Args:
        fill: depth over bore h/D [-], strictly between 0 and 1.
        cells: cells over the depth; error falls with its square.

    Raises: PhysicsError for a fill at or outside 0-1.
    Source: Poisson problem in bipolar coordinates (Moon and Spencer, Field Theory Handbook).

    >>> round(flow_ratio_by_solution(0.5, 40), 2)
    0.5
    """
    from scipy.sparse import diags, identity, kron
    from scipy.sparse.linalg import spsolve

    array("fill", fill, 1e-3, 1.0 - 1e-3, "")
    # unit radius; chord between the tips lies at height 2 fill - 1 above the centre
    height = 2.0 * fill - 1.0
    a = np.sqrt(1.0 - height * height)
    # sigma = pi on the chord; on the wall sigma = pi + beta, beta the angle from chord to arc
    beta = np.pi - np.arccos(height)
    n_s, n_t = cells, 2 * cells
    d_s, d_t = beta / n_s, _STRIP_END / n_t
    sigma = np.pi + d_s * (np.arange(n_s) + 0.5)
    tau = d_t * (np.arange(n_t) + 0.5)
    jacobian = (a / (np.cosh(tau)[None, :] - np.cos(sigma)[:, None])) ** 2
    main_s = np.full(n_s, -2.0)
    main_s[0] = -1.0  # free surface: no stress
    main_s[-1] = -3.0  # wall half a cell away: no slip
    main_t = np.full(n_t, -2.0)
    main_t[0] = -1.0  # symmetry
    main_t[-1] = -3.0  # lens tip: no flow
    second_s = diags([np.ones(n_s - 1), main_s, np.ones(n_s - 1)], [-1, 0, 1]) / d_s**2
    second_t = diags([np.ones(n_t - 1), main_t, np.ones(n_t - 1)], [-1, 0, 1]) / d_t**2
    laplacian = kron(second_s, identity(n_t)) + kron(identity(n_s), second_t)
    u = spsolve(laplacian.tocsc(), -jacobian.ravel()).reshape(n_s, n_t)
    total = 2.0 * float(np.sum(u * jacobian)) * d_s * d_t
    return float(total / (np.pi / 8.0))


def main(cells: int = 80) -> None:
    """Print the table as Python source, Richardson-extrapolated from a grid and one twice as fine."""
    fills = [k / 40 for k in range(41)]
    rows = []
    for fill in fills:
        if fill in (0.0, 1.0):
            rows.append(fill)
            continue
        coarse, fine = (flow_ratio_by_solution(fill, n) for n in (cells, 2 * cells))
        rows.append(fine + (fine - coarse) / 3.0)
    print("FLOW_RATIO = (\n    " + ",\n    ".join(f"{r:.6g}" for r in rows) + ",\n)")


if __name__ == "__main__":
    main()
