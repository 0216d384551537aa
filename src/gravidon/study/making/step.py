# SPDX-License-Identifier: GPL-3.0-or-later
"""One step of a build, and the cautions that steps carry."""

from __future__ import annotations

from dataclasses import dataclass, field

from gravidon.words.text import tr


@dataclass(frozen=True)
class Step:
    """One step: key, what to do, minutes (cp), tools, cautions, steps that must come first (where the plan has them), part kinds it needs,
    and which line's (key of a run; empty: any), hours to wait afterwards with the hands in the pockets.

    `blocked` names what is missing; a step after a blocked one waits for it.
    """

    key: str
    title: str
    text: str
    minutes: int
    tools: str = ""
    cautions: tuple[str, ...] = ()
    after: tuple[str, ...] = ()
    kinds: tuple[str, ...] = ()
    line: str = ""
    wait_h: float = 0.0
    blocked: tuple[str, ...] = field(default=())


HOT_OIL = tr("Hot oil and hot exhaust burn: let the car cool down.")
HOT_RUNNING = tr(
    "The exhaust burns within a minute of running: keep hands, sleeves and hair off it, the fan and the belts."
)
GAS = tr("Exhaust gas kills in a closed room: run it outdoors, or with extraction.")
GOGGLES = tr("Goggles: chips and braid ends fly, and what is drilled overhead falls into the eyes.")
GLOVES = tr("Cut braid pierces skin: gloves, and tape where the saw goes.")
BATTERY = tr("Battery off before spanners go near starter and alternator.")
WEIGHT = tr("Turbo and manifold are heavy and hang over fingers: two people, or a hoist.")
PHOSGENE = tr("No chlorinated cleaner on what is to be welded: heat makes a poison gas of it.")
HOT_COOLANT = tr("Never open a hot cooling system: it boils out over hands and face.")
JACK = tr("Never work under a car held by a jack alone: stands, wheels chocked.")
SWARF = tr("Swarf in the pan destroys engines.")
SOLVENT = tr("Solvents and flushing oil: ventilate, gloves and glasses, lawful disposal.")
FIRE = tr(
    "An oil leak on a manifold or downpipe is a fire: extinguisher at hand, wipe everything dry before the start."
)
ROAD = tr("Run in on a closed place, not on a public road.")
