# SPDX-License-Identifier: GPL-3.0-or-later
"""What the logbook tells of itself: signs in what was written down, and in what its readings were fitted to."""

from __future__ import annotations

import re
from collections.abc import Sequence

import numpy as np

from gravidon.plan.model import Plan
from gravidon.records.entry import Entry, Reading
from gravidon.study.diagnosis.prior import ZERO_CHANGED_PA
from gravidon.study.diagnosis.showing import situations
from gravidon.study.health import fit
from gravidon.study.health.fit import Health
from gravidon.study.health.model import feed_model

FELL, STAYED = 0.88, 0.94
"""Share of what it was, under which a pressure has fallen, and over which it has stayed; project choices."""
RECENT = 6
"""Entries back to which what was written down still counts; project choice."""

_WORDS: tuple[tuple[str, str], ...] = (
    (r"smoke.*(start|standing)|(start|standing).*smoke", "smoke-start"),
    (r"smoke.*(left)|left.*smoke|puff.*left", "smoke-left"),
    (r"smoke.*(right)|right.*smoke|puff.*right", "smoke-right"),
    (r"smoke.*(boost|full load)|boost.*smoke", "smoke-boost"),
    (r"smoke.*(overrun|lift)|overrun.*smoke", "smoke-overrun"),
    (r"smoke.*idle|idle.*smoke", "smoke-idle"),
    (r"whine|howl", "whine"),
    (r"rumble|scrape|bearing noise", "rumble"),
    (r"wet.*drain|drain.*(wet|leak)", "wet-drain"),
    (r"wet.*(sender|tap)|(sender|tap).*(wet|leak)", "wet-sender"),
    (r"wet.*feed|feed.*(wet|leak)", "wet-feed"),
    (r"glitter|swarf", "glitter"),
    (r"worse.*(lamps|fan)", "pump-load"),
)


def from_words(entries: Sequence[Entry]) -> dict[str, bool]:
    """Return the signs that the last entries' symptoms and notes tell of, as answers."""
    found: dict[str, bool] = {}
    for entry in entries[-RECENT:]:
        for text in (*entry.symptoms, entry.note):
            for pattern, sign in _WORDS:
                if re.search(pattern, text.lower()):
                    found[sign] = True
    return found


def from_health(plan: Plan, health: Health | None) -> dict[str, bool]:
    """Return the signs that the fitted health tells of, as answers: pressures now against those of the first entry, at the same speed and heat, and zeros.

    Raises: GravidonError if a state cannot be computed.
    """
    if health is None or len(health.entries) < 2:
        return {}
    cruise = next(c for c in situations(plan).conditions if c.name == "cruise")
    model = feed_model(plan, health.turbo, (Reading(cruise.rpm, cruise.oil_temperature_c + 273.15),))
    states = np.stack([health.mean[0, :5], health.now[:5]], axis=1)[:, :, None]
    states[fit.ZERO :] = 0.0
    gallery, inlet = model.shown(states)
    gallery_share, inlet_share = (float(p[1, 0] / max(p[0, 0], 1.0)) for p in (gallery, inlet))
    found: dict[str, bool] = {}
    if inlet_share < FELL:
        found["inlet-low"] = True
    elif inlet_share > STAYED:
        found["inlet-low"] = False
    if gallery_share < FELL:
        found["gallery-low"] = True
    if gallery_share < FELL or gallery_share > STAYED:
        found["gallery-same"] = gallery_share > STAYED
    zero, sd = health.now[fit.ZERO], health.sd[-1, fit.ZERO]
    if abs(zero) - 2.0 * sd > ZERO_CHANGED_PA:
        found["zero-off"] = True
    return found
