# SPDX-License-Identifier: GPL-3.0-or-later
"""Validation errors in the words of the trade."""

from __future__ import annotations

from pydantic import ValidationError

_WORDS = {
    "missing": "a value; it is missing",
    "extra_forbidden": "no such key; it is not part of a plan",
    "float_type": "a number",
    "int_type": "a whole number",
    "bool_type": "true or false",
    "string_type": "text",
    "tuple_type": "a list",
    "model_type": "an object with keys",
    "model_attributes_type": "an object with keys",
    "finite_number": "a finite number",
    "dict_type": "an object with keys",
}


LONGEST = 220
"""Letters of an expectation that are told: a list of every thread helps nobody."""


def first_problem(error: ValidationError) -> tuple[str, str]:
    """Return (path, what was expected) of the first problem found."""
    item = error.errors(include_url=False)[0]
    path = ".".join(str(step) for step in item["loc"])
    message = _WORDS.get(item["type"])
    if message is None:
        message = item["msg"].removeprefix("expected ").removeprefix("Value error, ")
        message = message.replace("Input should be ", "").replace("should have", "to have")
    if len(message) > LONGEST:
        count = message.count(", ") + 1
        message = f"{message[:LONGEST].rpartition(', ')[0]}, … ({count} in all)"
    return path, message
