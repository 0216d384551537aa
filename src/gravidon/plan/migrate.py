# SPDX-License-Identifier: GPL-3.0-or-later
"""Older plan files brought up to the present format, one version at a time, as plain data."""

from __future__ import annotations

import re
from collections.abc import Callable
from typing import Any

Data = dict[str, Any]


def _from_1(data: Data) -> Data:
    """Version 1 had one turbo, one tap, and a feed of one hose with counted elbows."""
    old = dict(data)
    turbo, feed, restrictor, drain, tap = (
        old.pop(k) for k in ("turbo", "feed", "restrictor", "drain", "tap")
    )
    bore = feed["hose_bore_mm"]
    pieces: list[Data] = [{"kind": "fitting", "shape": "tee, branch", "bore_mm": bore}]
    pieces.append({"kind": "hose", "bore_mm": bore, "length_mm": feed["length_mm"]})
    for key, shape in (("elbows_90", "90°"), ("elbows_45", "45°")):
        pieces += [{"kind": "fitting", "shape": shape, "bore_mm": bore}] * int(feed.get(key, 0))
    old["taps"] = [{**tap, "route_mm": feed["length_mm"]}]
    old["tap"] = 0
    old["turbos"] = [{"turbo": turbo, "feed": {"pieces": pieces}, "restrictor": restrictor, "drain": drain}]
    old["format_version"] = 2
    return old


def _from_2(data: Data) -> Data:
    """Version 2 knew no breather: each condition's typed crankcase pressure stays what counts."""
    return {**data, "breather": {"kind": "typed"}, "format_version": 3}


def _from_3(data: Data) -> Data:
    """Version 3 said a hose end's angle, and a push-on make, in the free label alone."""
    turbos = [
        {
            **it,
            "drain": {
                **it["drain"],
                "pieces": [{**p, "angle_deg": _angle_in(p["label"])} for p in it["drain"].get("pieces", [])],
            },
        }
        for it in data["turbos"]
    ]
    own = [
        {**p, "role": "push-on"} if "push-on" in p.get("name", "") else p for p in data.get("own_parts", [])
    ]
    # version 3 gave every condition its own heat: it stays an own figure, and the load it stands for is that of a turbo on oil alone
    conditions = [{**c, "load": min(c.get("heat_kw", 0.0) / 2.0, 2.0)} for c in data["conditions"]]
    return {
        **data,
        "turbos": turbos,
        "own_parts": own,
        "conditions": conditions,
        "format_version": 4,
    }


def _from_4(data: Data) -> Data:
    """Version 4 knew no holds, no ideas, no place of a tap and no way of the feed: all of them may be left out."""
    return {**data, "format_version": 5}


def _from_5(data: Data) -> Data:
    """Version 5 knew no senders: they may be left out."""
    return {**data, "format_version": 6}


def _angle_in(label: str) -> float:
    found = re.search(r"(\d+)\s*°", label)
    return min(float(found[1]), 180.0) if found else 0.0


STEPS: dict[int, Callable[[Data], Data]] = {1: _from_1, 2: _from_2, 3: _from_3, 4: _from_4, 5: _from_5}
"""From each older version to the next."""


def migrate(data: Data, present: int) -> Data:
    """Return the data in the present format.

    Raises: KeyError, TypeError or ValueError if it is not what its version says.
    """
    while data["format_version"] < present:
        data = STEPS[data["format_version"]](data)
    if data.get("ideas"):
        ideas = [{**idea, "state": migrate(idea["state"], present)} for idea in data["ideas"]]
        data = {**data, "ideas": ideas}
    return data
