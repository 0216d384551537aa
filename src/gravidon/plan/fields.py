# SPDX-License-Identifier: GPL-3.0-or-later
"""Typed fields of the plan: a number with its label, unit and bounds, held once."""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import cache
from typing import Any, Literal

from pydantic import BaseModel, ConfigDict, GetCoreSchemaHandler, GetJsonSchemaHandler
from pydantic_core import CoreSchema, PydanticCustomError, core_schema

from gravidon.errors import InputError
from gravidon.plan import units
from gravidon.translate import tr

Basis = Literal["measured", "maker", "guess"]


class Model(BaseModel):
    """Base of all parts of a plan: frozen, no unknown keys, no NaN, no silent conversion."""

    model_config = ConfigDict(frozen=True, extra="forbid", allow_inf_nan=False, strict=True)


class Known(Model):
    """A number somebody measured, read from a maker's sheet, or guessed."""

    value: float
    basis: Basis = "guess"
    tolerance: float | None = None


@dataclass(frozen=True)
class Spec:
    """What a numeric field is: label, kind of unit (a key of units.KINDS), bounds in the file's unit."""

    label: str
    kind: str
    low: float
    high: float

    @property
    def expected(self) -> str:
        """Return the accepted range in words, with its unit."""
        symbol = units.KINDS[self.kind].file.symbol
        return tr("{low:g} to {high:g} {symbol}").format(low=self.low, high=self.high, symbol=symbol).rstrip()

    def check(self, value: float) -> None:
        """Raise InputError unless `value` (file unit) is finite and inside the bounds."""
        if not (math.isfinite(value) and self.low <= value <= self.high):
            raise InputError(self.label, value, self.expected)

    def _validate(self, value: Any) -> Any:
        number = value.value if isinstance(value, Known) else value
        try:
            self.check(number)
        except InputError as error:
            raise PydanticCustomError("out_of_range", "{range}", {"range": self.expected}) from error
        if isinstance(value, Known) and value.tolerance is not None and value.tolerance < 0:
            raise PydanticCustomError("tolerance", tr("a tolerance of 0 or more"))
        return value

    def __get_pydantic_core_schema__(self, source: Any, handler: GetCoreSchemaHandler) -> CoreSchema:
        return core_schema.no_info_after_validator_function(self._validate, handler(source))

    def __get_pydantic_json_schema__(
        self, schema: CoreSchema, handler: GetJsonSchemaHandler
    ) -> dict[str, Any]:
        inner: dict[str, Any] = dict(handler(schema))
        note = f"{self.label}; {self.expected}"
        if inner.get("type") == "number":
            return {**inner, "minimum": self.low, "maximum": self.high, "description": note}
        return {
            "allOf": [inner],
            "description": note,
            "properties": {"value": {"minimum": self.low, "maximum": self.high}},
        }


def spec(model: type[BaseModel] | BaseModel, name: str) -> Spec:
    """Return the Spec of a field.

    Raises: KeyError if the field is not a specified number.
    """
    return _spec_of(model if isinstance(model, type) else type(model), name)


@cache
def _spec_of(owner: type[BaseModel], name: str) -> Spec:
    for item in owner.model_fields[name].metadata:
        if isinstance(item, Spec):
            return item
    raise KeyError(name)


def si(model: BaseModel, name: str) -> float:
    """Return a numeric field in SI units."""
    value = getattr(model, name)
    number = value.value if isinstance(value, Known) else value
    return units.file_to_si(number, spec(model, name).kind)
