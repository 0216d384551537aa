# SPDX-License-Identifier: GPL-3.0-or-later
"""Write the invented drive log that ships with Gravidon: six minutes of a hill road, then a sprint of bends."""

from pathlib import Path

import numpy as np

FILE = Path(__file__).parent.parent / "src/gravidon/plan/demos/hill-road.csv"
RATE = 20.0


def bend(t: np.ndarray, start: float, length: float, g: float) -> np.ndarray:
    """Return one bend: eased in, held, eased out."""
    ease = 0.22 * length
    up, down = np.clip((t - start) / ease, 0, 1), np.clip((start + length - t) / ease, 0, 1)
    return g * np.minimum(up, down)


def drive() -> np.ndarray:
    """Return the rows: time, ax, ay, rpm, oil temperature, oil pressure, distance."""
    rng = np.random.default_rng(7)
    t = np.arange(0.0, 360.0, 1.0 / RATE)
    ay, ax = np.zeros_like(t), np.zeros_like(t)
    for k, (start, length, g) in enumerate(
        [
            (30 + 14 * n, 4.0 + 3.5 * ((n * 7) % 4) / 3, (-1) ** n * (0.35 + 0.08 * ((n * 5) % 6)))
            for n in range(18)
        ]
        + [(290.0, 16.0, 0.82), (316.0, 9.0, -0.8)]
    ):
        ay += bend(t, start, length, g)
        ax += bend(t, start - 2.6, 2.4, -0.45 - 0.02 * (k % 5)) + bend(t, start + length, 3.5, 0.28)
    moving = np.clip((t - 12) / 3, 0, 1) * np.clip((352 - t) / 3, 0, 1)
    ax, ay = ax * moving, ay * moving
    speed = np.clip(np.cumsum(ax * 9.81 * 0.35) / RATE + 14.0 * moving, 0.0, 45.0)
    rpm = np.where(moving > 0, 1500 + speed * 120 + 260 * np.sin(t / 3.1), 850) + rng.normal(0, 12, len(t))
    oil = 82 + 30 * (1 - np.exp(-t / 110)) + rng.normal(0, 0.2, len(t))
    pressure = np.minimum(490.0, 95 + 0.072 * rpm * (1.25 - 0.0035 * (oil - 80))) + rng.normal(0, 3, len(t))
    distance = np.cumsum(speed) / RATE
    ax, ay = ax + rng.normal(0, 0.012, len(t)), ay + rng.normal(0, 0.012, len(t))
    return np.column_stack([t, ax, ay, rpm, oil, pressure, distance])


if __name__ == "__main__":
    lines = ["time_s,ax_g,ay_g,rpm,oil_temp_C,oil_press_kPa,distance_m"]
    lines += ["%.2f,%.3f,%.3f,%.0f,%.1f,%.0f,%.1f" % tuple(row) for row in drive()]  # noqa: UP031
    FILE.write_text("\n".join(lines) + "\n", encoding="utf-8")
