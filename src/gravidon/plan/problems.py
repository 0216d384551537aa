# SPDX-License-Identifier: GPL-3.0-or-later
"""Validation errors in the words of the trade."""

from __future__ import annotations

from pydantic import ValidationError

from gravidon.translate import tr

_WORDS = {
    "missing": tr("a value; it is missing"),
    "extra_forbidden": tr("no such key; it is not part of a plan"),
    "float_type": tr("a number"),
    "int_type": tr("a whole number"),
    "bool_type": tr("true or false"),
    "string_type": tr("text"),
    "tuple_type": tr("a list"),
    "model_type": tr("an object with keys"),
    "model_attributes_type": tr("an object with keys"),
    "finite_number": tr("a finite number"),
    "dict_type": tr("an object with keys"),
}


LONGEST = 220
"""Letters of an expectation that are told: a list of every thread helps nobody."""


def first_problem(error: ValidationError) -> tuple[str, str]:
    """Return (path, what was expected) of the first problem found."""
    item = error.errors(include_url=False)[0]
    path = ".".join(str(step) for step in item["loc"])
    message = _WORDS.get(item["type"])
    if message is None:
        message = item["msg"].removeprefix("Value error, ")
        message = message.replace("Input should be ", "").replace("should have", "to have")
    if len(message) > LONGEST:
        count = message.count(", ") + 1
        message = tr("{some}, … ({count} in all)").format(
            some=message[:LONGEST].rpartition(", ")[0], count=count
        )
    return path, message
