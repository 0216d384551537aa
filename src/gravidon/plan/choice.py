# SPDX-License-Identifier: GPL-3.0-or-later
"""A choice among records kept elsewhere: validation and schema of a field that names one of them."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from typing import Any

from pydantic import GetCoreSchemaHandler, GetJsonSchemaHandler
from pydantic_core import CoreSchema, PydanticCustomError, core_schema

from gravidon.translate import either


class OneOf:
    """Annotates a text field that must be one of a table's names: `Annotated[str, OneOf(BEARINGS)]`.

    A new record is a new choice: nothing else lists the names.
    """

    def __init__(self, records: Mapping[str, object] | Iterable[str]) -> None:
        self.names = tuple(records)

    def check(self, value: str) -> str:
        """Return the value if it is one of the names.

        Raises: PydanticCustomError otherwise.
        """
        if value not in self.names:
            quoted = [f"'{name}'" for name in self.names]
            known = either(quoted)
            raise PydanticCustomError("one_of", "{known}", {"known": known})
        return value

    def __get_pydantic_core_schema__(self, source: Any, handler: GetCoreSchemaHandler) -> CoreSchema:
        return core_schema.no_info_after_validator_function(self.check, handler(source))

    def __get_pydantic_json_schema__(
        self, schema: CoreSchema, handler: GetJsonSchemaHandler
    ) -> dict[str, Any]:
        return {**handler(schema), "enum": list(self.names)}
