# SPDX-License-Identifier: GPL-3.0-or-later
"""Plans over all that a field may hold, and files that something has gone through."""

from __future__ import annotations

import json
import random
from collections.abc import Iterator
from typing import Any

from pydantic import BaseModel

from gravidon.errors import GravidonError
from gravidon.plan import demos, paths
from gravidon.plan.fields import Spec
from gravidon.plan.model import Plan
from gravidon.plan.storage import plan_to_text

NOT_FIGURES = ("ideas", "photos", "holds", "build", "drawer", "own_parts")
"""Parts of a plan that are no figures of the oil path."""
HOSTILE = (
    "<b>bold</b><img src=x onerror=alert(1)>",
    "=1+1",
    "{{ 7*7 }} {name}",
    "../../etc/passwd",
    "a\u202eb\u0000c",
    "“ü” 油 🛢 " * 9,
    "%s %d \\ ' \" ;--",
)
"""Names as no builder gives them, each against one kind of output."""


def numbers(node: BaseModel, prefix: str = "") -> Iterator[tuple[str, Spec]]:
    """Yield every figure of a plan with its bounds."""
    for name, info in type(node).model_fields.items():
        if name in NOT_FIGURES:
            continue
        value, path = getattr(node, name), prefix + name
        spec = next((m for m in info.metadata if isinstance(m, Spec)), None)
        if spec is not None:
            yield path, spec
        elif isinstance(value, BaseModel):
            yield from numbers(value, f"{path}.")
        elif isinstance(value, tuple):
            for k, item in enumerate(value):
                if isinstance(item, BaseModel):
                    yield from numbers(item, f"{path}.{k}.")


def random_plan(rnd: random.Random) -> Plan:
    """Return a demo with some figures anywhere within their bounds, often at the very end."""
    plan = demos.demo_plan(rnd.choice(demos.NAMES)).model_copy(update={"ideas": ()})
    places = list(numbers(plan))
    for path, spec in rnd.sample(places, rnd.choice((3, 12, min(60, len(places))))):
        value = rnd.choice((spec.low, spec.high, rnd.uniform(spec.low, spec.high)))
        try:
            plan = paths.put(plan, path, value)
        except GravidonError:
            continue
    if rnd.random() < 0.2:
        plan = plan.model_copy(update={"conditions": plan.conditions[:1]})
    return plan


def _places(node: Any, at: tuple[Any, ...] = ()) -> Iterator[tuple[Any, ...]]:
    yield at
    if isinstance(node, dict):
        for key, value in node.items():
            yield from _places(value, (*at, key))
    elif isinstance(node, list):
        for k, value in enumerate(node):
            yield from _places(value, (*at, k))


def _odd(rnd: random.Random) -> Any:
    return rnd.choice(
        (
            None,
            True,
            0,
            -1,
            1e308,
            -1e-308,
            10**400,
            "",
            "NaN",
            rnd.choice(HOSTILE),
            [],
            {},
            [[[]]],
            {"value": None},
            rnd.uniform(-1e3, 1e3),
        )
    )


def mutated_plan(rnd: random.Random) -> bytes:
    """Return a plan file with one to three places changed, taken out, doubled, or its bytes damaged."""
    whole = plan_to_text(demos.demo_plan(rnd.choice(demos.NAMES)))
    if rnd.random() < 0.3:
        return damaged(whole.encode("utf-8"), rnd)
    data = json.loads(whole)
    for _ in range(rnd.randint(1, 3)):
        place = rnd.choice([p for p in _places(data) if p])
        node = data
        for step in place[:-1]:
            node = node[step]
        act = rnd.random()
        if act < 0.5:
            node[place[-1]] = _odd(rnd)
        elif act < 0.75:
            del node[place[-1]]
        elif isinstance(node, list):
            node.append(node[place[-1]])
        else:
            node[rnd.choice(("value", "x_mm", "kind", rnd.choice(HOSTILE)))] = _odd(rnd)
    return json.dumps(data, ensure_ascii=rnd.random() < 0.5).encode("utf-8", "surrogatepass")


def damaged(data: bytes, rnd: random.Random) -> bytes:
    """Return bytes cut off, flipped, doubled in part, or with something strange between."""
    act, k = rnd.randrange(5), rnd.randrange(len(data))
    if act == 0:
        return data[:k]
    if act == 1:
        return data[:k] + bytes([data[k] ^ (1 << rnd.randrange(8))]) + data[k + 1 :]
    if act == 2:
        return data[:k] + data[max(0, k - 400) :]
    if act == 3:
        return data[:k] + rnd.randbytes(rnd.randint(1, 40)) + data[k:]
    return data.decode("utf-8", "replace").encode(rnd.choice(("utf-16", "utf-32", "utf-8-sig")))
