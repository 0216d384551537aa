# SPDX-License-Identifier: GPL-3.0-or-later
"""Any answer of the core as lines of plain text, and two such texts held against each other."""

from __future__ import annotations

import dataclasses
import enum
import math
import re
from collections.abc import Iterator, Mapping
from datetime import date
from functools import cached_property
from typing import Any

import numpy as np
from pydantic import BaseModel

from gravidon.parts.catalogue import Part

FEW, DEEP = 12, 9
"""Longest array that is written out; deepest nesting that is followed."""
PASSED_OVER = frozenset(
    {
        "all",
        "plan",
        "line",
        "it",
        "others",
        "gravity",
        "of",
        "e",
        "evaluation",
        "route",
        "residual_pa",
        "iterations",
    }
)
"""Fields that lead back to the plan or round in a circle, and what is left over by a solver."""
NUMBER = re.compile(r"[-+]?(?:\d+\.?\d*(?:e[-+]?\d+)?|inf|nan)")


def told(value: object, name: str = "", depth: int = 0) -> Iterator[str]:
    """Yield a value's lines `place = what stands there`; dataclasses by field and by cached property, long arrays by shape,
    bounds and two weighted sums. Functions, plans and ways back are passed over."""
    line = _in_a_line(value)
    if line is not None:
        yield f"{name} = {line}"
    elif depth <= DEEP and not isinstance(value, BaseModel) and not callable(value):
        for key, inner in _inside(value):
            yield from told(inner, f"{name}.{key}", depth + 1)


def _in_a_line(value: object) -> str | None:  # noqa: PLR0911  one line a kind
    if isinstance(value, np.ndarray):
        return _array(value)
    if value is None or isinstance(value, str | int | bool | np.bool_ | date | enum.Enum):
        return str(value)
    if isinstance(value, float | np.number):
        return _number(float(value))
    if isinstance(value, Part):
        return f"part {value.id}"
    if isinstance(value, set | frozenset):
        return str(sorted(str(v) for v in value))
    if isinstance(value, tuple | list) and value and all(type(v) in (int, float) for v in value):
        return _array(np.array(value, float))
    return None


def _inside(value: object) -> Iterator[tuple[object, object]]:
    if isinstance(value, Mapping):
        yield from value.items()
    elif isinstance(value, tuple | list):
        yield from enumerate(value)
    else:
        yield from ((f, v) for f, v in _fields(value) if f not in PASSED_OVER and not f.startswith("_"))


def _fields(value: object) -> Iterator[tuple[str, Any]]:
    if dataclasses.is_dataclass(value):
        for field in dataclasses.fields(value):
            yield field.name, getattr(value, field.name)
    for name, what in vars(type(value)).items():
        if isinstance(what, cached_property | property):
            yield name, getattr(value, name)


def _number(value: float) -> str:
    return f"{0.0 if value == 0 else value:.6g}"


def _array(value: np.ndarray) -> str:
    flat = value.astype(float).ravel() if value.dtype.kind in "biuf" else None
    if flat is None:
        return str(value.tolist())
    if flat.size <= FEW:
        return " ".join(_number(float(v)) for v in flat)
    known = np.where(np.isfinite(flat), flat, 0.0)
    places = np.arange(flat.size)
    sums = [float(known @ np.cos(k * places + 1.0)) / math.sqrt(flat.size) for k in (0.37, 1.71)]
    shown = [flat.size, np.isnan(flat).sum(), np.isinf(flat).sum(), known.min(), known.max(), *sums]
    return f"{value.shape}: " + " ".join(_number(float(v)) for v in shown)


def apart(kept: str, now: str, relative: float = 1e-4, absolute: float = 1e-9) -> list[str]:
    """Return the lines that differ, as `place: kept -> now`: words to the letter, numbers to a share of themselves."""
    old, new = _lines(kept), _lines(now)
    found = [
        f"{place}: {old.get(place, 'nothing')} -> {new.get(place, 'nothing')}"
        for place in sorted(old.keys() ^ new.keys())
    ]
    for place in old.keys() & new.keys():
        a, b = old[place], new[place]
        if a != b and not _alike(a, b, relative, absolute):
            found.append(f"{place}: {a} -> {b}")
    return found


def _lines(text: str) -> dict[str, str]:
    return dict(line.split(" = ", 1) for line in text.splitlines() if " = " in line)


def _alike(a: str, b: str, relative: float, absolute: float) -> bool:
    if NUMBER.sub("#", a) != NUMBER.sub("#", b):
        return False
    size = max((abs(float(x)) for x in NUMBER.findall(a) if math.isfinite(float(x))), default=0.0)
    for x, y in zip(NUMBER.findall(a), NUMBER.findall(b), strict=True):
        u, v = float(x), float(y)
        if not (
            u == v
            or (math.isnan(u) and math.isnan(v))
            or abs(u - v) <= absolute + relative * max(abs(u), 1e-3 * size)
        ):
            return False
    return True
