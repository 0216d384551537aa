# SPDX-License-Identifier: GPL-3.0-or-later
"""What several parts of the plan document are made of: names, threads, places."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field
from pydantic_core import PydanticCustomError

from gravidon.parts.threads import THREADS
from gravidon.plan.fields import Model, Spec
from gravidon.translate import tr

Name = Annotated[str, Field(min_length=1, max_length=80)]
Text = Annotated[str, Field(max_length=4000)]
ThreadName = Annotated[str, Field(json_schema_extra={"enum": sorted(THREADS)})]


class Point(Model):
    """A position in vehicle axes."""

    x_mm: Annotated[float, Spec("x (forward)", "run", -6000, 6000)]
    y_mm: Annotated[float, Spec("y (left)", "run", -3000, 3000)]
    z_mm: Annotated[float, Spec("z (up from the pan rail)", "run", -1500, 2500)]


def known_threads(*names: str) -> None:
    """Raise unless every name is a known thread."""
    for name in names:
        if name not in THREADS:
            raise PydanticCustomError("thread", tr("one of {known}"), {"known": ", ".join(THREADS)})
