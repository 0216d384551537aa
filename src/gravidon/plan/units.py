# SPDX-License-Identifier: GPL-3.0-or-later
"""One table of units: for files, typed text and display. Inside the physics all is SI."""

from __future__ import annotations

import re
from dataclasses import dataclass
from functools import cache
from typing import Any, Literal, get_args

from gravidon.errors import UnitError
from gravidon.parts.dash import HOSE_BORE_IN, INCH_MM
from gravidon.translate import tr, written

Family = Literal["imperial", "metric", "psi mm C", "psi in C", "bar in C", "psi mm F", "bar mm F", "bar in F"]
"""Which units are shown: the two usual families, and their mixtures by pressure, length and temperature."""
FAMILIES: tuple[Family, ...] = get_args(Family)
_SAID = {"imperial": "psi in F", "metric": "bar mm C"}
_PRESSURE_KINDS, _HEAT_KINDS = ("kpa", "kpa_diff", "kpa_small"), ("degc",)


@cache
def parts_of(family: Family) -> tuple[str, str, str]:
    """Return a family's units of pressure, length and temperature.

    >>> parts_of("imperial")
    ('psi', 'in', 'F')
    """
    pressure, length, heat = _SAID.get(family, family).split()
    return pressure, length, heat


def family_of(pressure: str, length: str, heat: str) -> Family:
    """Return the family of three units.

    >>> family_of("psi", "mm", "C")
    'psi mm C'
    """
    said = f"{pressure} {length} {heat}"
    return next(f for f in FAMILIES if _SAID.get(f, f) == said)


def in_inches(family: Family) -> bool:
    """Return whether lengths are shown in inches."""
    return parts_of(family)[1] == "in"


def family_words(family: Family) -> str:
    """Return a family's units as shown on a button.

    >>> family_words("metric")
    'bar · mm · °C'
    """
    pressure, length, heat = parts_of(family)
    return f"{pressure} · {length} · °{heat}"


@dataclass(frozen=True)
class Unit:
    """SI value = value · factor + offset; `digits` after the point for display."""

    symbol: str
    factor: float
    offset: float = 0.0
    digits: int = 1

    def to_si(self, value: float) -> float:
        """Return `value` of this unit in SI."""
        return value * self.factor + self.offset

    def from_si(self, value: float) -> float:
        """Return an SI value in this unit."""
        return (value - self.offset) / self.factor


@dataclass(frozen=True)
class Kind:
    """A physical kind: its file unit, the units of both families, what may be typed, pint's name."""

    name: str
    file: Unit
    imperial: Unit
    metric: Unit
    aliases: dict[str, Unit]
    pint: str = ""


_PSI = 6894.757293168
_MM = Unit("mm", 1e-3)
_IN = Unit("in", INCH_MM * 1e-3, digits=3)
_KPA = Unit("kPa", 1e3)
_PSI_UNIT = Unit("psi", _PSI)
_BAR = Unit("bar", 1e5, digits=2)
_PSIA = Unit("psia", _PSI, -101_325.0)
_CELSIUS = Unit("°C", 1.0, 273.15, 0)
_FAHRENHEIT = Unit("°F", 5 / 9, 459.67 * 5 / 9, 0)
_LITRE = Unit("L", 1e-3, digits=2)
_L_MIN = Unit("L/min", 1e-3 / 60, digits=2)
_PRESSURES = {
    "psi": _PSI_UNIT, "psig": _PSI_UNIT, "bar": _BAR, "barg": _BAR, "kpa": _KPA,
    "mpa": Unit("MPa", 1e6), "mbar": Unit("mbar", 100.0), "pa": Unit("Pa", 1.0),
}  # fmt: skip
_LENGTHS = {
    "mm": _MM, "cm": Unit("cm", 1e-2), "m": Unit("m", 1.0), "in": _IN, '"': _IN, "inch": _IN,
    "inches": _IN, "″": _IN, "ft": Unit("ft", 0.3048), "thou": Unit("thou", INCH_MM * 1e-6),
}  # fmt: skip
_PLAIN = Unit("", 1.0, digits=2)
_VISCOSITY = Unit("mm²/s", 1e-6)


def _one(name: str, unit: Unit, *aliases: str, pint: str = "") -> Kind:
    return Kind(name, unit, unit, unit, dict.fromkeys((unit.symbol.lower(), *aliases), unit), pint)


KINDS: dict[str, Kind] = {
    "bore": Kind(tr("length"), _MM, _IN, Unit("mm", 1e-3, digits=2), _LENGTHS, "millimeter"),
    "mm": Kind(tr("length"), _MM, Unit("in", INCH_MM * 1e-3, digits=2), Unit("mm", 1e-3, digits=0), _LENGTHS, "millimeter"),
    "run": Kind(tr("length"), _MM, Unit("in", INCH_MM * 1e-3, digits=1), Unit("mm", 1e-3, digits=0), _LENGTHS, "millimeter"),
    "kpa": Kind(tr("gauge pressure"), _KPA, _PSI_UNIT, _BAR, {**_PRESSURES, "psia": _PSIA}, "kilopascal"),
    "kpa_diff": Kind(tr("pressure difference"), _KPA, _PSI_UNIT, _BAR, _PRESSURES, "kilopascal"),
    "kpa_small": Kind(tr("gauge pressure"), _KPA, Unit("psi", _PSI, digits=2), Unit("mbar", 100.0, digits=0), _PRESSURES, "kilopascal"),
    "degc": Kind(
        "temperature", _CELSIUS, _FAHRENHEIT, _CELSIUS,
        {"c": _CELSIUS, "°c": _CELSIUS, "degc": _CELSIUS, "f": _FAHRENHEIT, "°f": _FAHRENHEIT,
         "degf": _FAHRENHEIT, "k": Unit("K", 1.0)},
    ),
    "l": Kind(
        "volume", _LITRE, Unit("qt", 0.946352946e-3, digits=2), _LITRE,
        {"l": _LITRE, "litre": _LITRE, "liter": _LITRE, "qt": Unit("qt", 0.946352946e-3),
         "ml": Unit("mL", 1e-6)},
        "liter",
    ),
    "ml": _one(tr("volume"), Unit("mL", 1e-6, digits=0), "cc", "cm3", pint="milliliter"),
    "l_min": Kind(
        "flow", _L_MIN, _L_MIN, _L_MIN,
        {"l/min": _L_MIN, "lpm": _L_MIN, "gpm": Unit("gal/min", 3.785411784e-3 / 60), "ml/s": Unit("mL/s", 1e-6)},
        "liter/minute",
    ),
    "deg": _one(tr("angle"), Unit("°", 0.017453292519943295), "deg", "degree", "degrees"),
    "rpm": _one(tr("engine speed"), Unit("rpm", 1 / 60, digits=0), "1/min", "r/min"),
    "kw": _one(tr("heat"), Unit("kW", 1e3, digits=2), pint="kilowatt"),
    "g": _one(tr("acceleration"), Unit("g", 1.0, digits=2)),
    "s": _one(tr("time"), Unit("s", 1.0, digits=1), "sec", pint="second"),
    "mm2_s": _one(tr("kinematic viscosity"), _VISCOSITY, "cst", "mm2/s", pint="mm**2/s"),
    "kg_m3": _one(tr("density"), Unit("kg/m³", 1.0, digits=0), "kg/m3", pint="kg/m**3"),
    "cc_rev": _one(tr("pump delivery"), Unit("cm³/rev", 1e-6, digits=1), "cc", "cc/rev", "cm3/rev"),
    "share": _one(tr("share"), _PLAIN),
    "times": _one(tr("times"), Unit("×", 1.0, digits=1), "x"),
    "v": _one(tr("voltage"), Unit("V", 1.0), "volt", "volts", pint="volt"),
    "v_fine": _one(tr("voltage"), Unit("V", 1.0, digits=3), "volt", "volts", pint="volt"),
    "a": _one(tr("current"), Unit("A", 1.0), "amp", "amps", pint="ampere"),
    "mm2": _one(tr("area"), Unit("mm²", 1e-6), "mm2", pint="millimeter**2"),
    "cm2": _one(tr("area"), Unit("cm²", 1e-4), "cm2", pint="centimeter**2"),
    "count": _one(tr("count"), Unit("", 1.0, digits=0)),
}  # fmt: skip
"""Kinds by the name that fields use. `kpa` is gauge; absolute pressure is only ever typed."""

_NUMBER = re.compile(
    r"^\s*(?P<sign>[-+−]?)\s*(?:(?P<whole>\d+)[\s-]+)?(?P<top>\d+)\s*/\s*(?P<bottom>\d+)\s*(?P<unit>.*)$"
    r"|^\s*(?P<decimal>[-+−]?(?:\d+(?:[.,]\d*)?|[.,]\d+)(?:[eE][-+]?\d+)?)\s*(?P<unit2>.*)$"
)


def parse(text: str, kind: str, field: str, default: Unit | None = None) -> float:
    """Return the SI value of typed text such as '3/8 in', '9,5mm', '.035', '45 psi'.

    Args:
        text: what was typed.
        kind: a key of KINDS.
        field: the field's name, for the message.
        default: unit taken when none is typed; the file unit if None.

    Raises: UnitError if it is not a finite number with a unit of this kind.
    """
    what = KINDS[kind]
    unit_hint = tr("a {name} such as {example}").format(name=what.name, example=_example(what, default))
    match = _NUMBER.match(text.strip().replace("\u00a0", " "))
    if match is None:
        raise UnitError(field, text, unit_hint)
    if match["decimal"] is not None:
        number = float(match["decimal"].replace(",", ".").replace("−", "-"))
        unit_text = match["unit2"].strip()
    else:
        if int(match["bottom"]) == 0:
            raise UnitError(field, text, unit_hint)
        number = int(match["whole"] or 0) + int(match["top"]) / int(match["bottom"])
        number = -number if match["sign"] in "-−" and match["sign"] else number
        unit_text = match["unit"].strip()
    if not unit_text:
        unit = default or what.file
    else:
        found = what.aliases.get(unit_text.lower())
        if found is None:
            return _parse_with_pint(number, unit_text, what, field, text, unit_hint)
        unit = found
    result = unit.to_si(number)
    if abs(result) > 1e12:
        raise UnitError(field, text, unit_hint)
    return result


def parse_with_tolerance(
    text: str, kind: str, field: str, default: Unit | None = None
) -> tuple[float, float | None]:
    """Return the SI value and, where one is typed after '±' or '+-', its half width in SI (a difference).

    A unit may stand after either number or after both: '2.2 ± 0.1 L/min'.

    Raises: UnitError as `parse`, or for a negative tolerance.
    """
    value_text, sign, width_text = text.replace("+/-", "±").replace("+-", "±").partition("±")
    if not sign:
        return parse(text, kind, field, default), None
    numbers = [_NUMBER.match(part.strip()) for part in (value_text, width_text)]
    units_typed = [(m["unit2"] or m["unit"] or "").strip() if m else "" for m in numbers]
    shared = units_typed[0] or units_typed[1]
    value = parse(value_text if units_typed[0] else f"{value_text} {shared}", kind, field, default)
    width_text = width_text if units_typed[1] else f"{width_text} {shared}"
    zero = parse(f"0 {units_typed[1] or shared}", kind, field, default)
    width = parse(width_text, kind, field, default) - zero
    if width < 0:
        raise UnitError(field, text, "a tolerance of 0 or more after the ± sign")
    return value, width


def parse_dash_or_length(text: str, field: str, default: Unit) -> float:
    """Return a bore [m] from a dash size ('-10') or a length ('9/16 in').

    Raises: UnitError if it is neither.
    """
    match = re.fullmatch(r"\s*[-−](\d{1,2})\s*(?:an)?\s*", text, re.IGNORECASE)
    if match:
        dash = int(match[1])
        if dash not in HOSE_BORE_IN:
            known = ", ".join(f"-{d}" for d in HOSE_BORE_IN)
            raise UnitError(field, text, tr("one of {known}, or a bore with its unit").format(known=known))
        return HOSE_BORE_IN[dash] * INCH_MM * 1e-3
    return parse(text, "bore", field, default)


def _example(what: Kind, default: Unit | None) -> str:
    unit = default or what.file
    sample = {"length": "12", "gauge pressure": "45", "temperature": "110", "volume": "4.5"}.get(
        what.name, "2"
    )
    return f"'{sample} {unit.symbol}'".replace(" '", "'")


_UNIT_TEXT_ERRORS = (
    ArithmeticError, AssertionError, AttributeError, LookupError, RecursionError, SyntaxError, TypeError, ValueError,
)  # fmt: skip
"""What pint lets through when a unit is nonsense."""

_UNIT_TEXT = re.compile(r"[A-Za-zµ°/*^. \d-]{1,24}")
"""What a unit may be made of; anything else is not worth asking pint."""


def _parse_with_pint(number: float, unit_text: str, what: Kind, field: str, text: str, hint: str) -> float:
    """Anything the table has no alias for, through pint's registry (loaded on first need)."""
    if (
        not what.pint
        or not _UNIT_TEXT.fullmatch(unit_text)
        or re.search(r"\d\d|\*\*.*\*\*|\^.*\^", unit_text)
    ):
        raise UnitError(field, text, hint)
    from tokenize import TokenError

    import pint

    registry = _registry()
    try:
        value = registry.Quantity(number, unit_text).to(what.pint).magnitude
    except (pint.errors.PintError, TokenError, *_UNIT_TEXT_ERRORS) as error:
        raise UnitError(field, text, hint) from error
    return what.file.to_si(float(value))


@cache
def _registry() -> Any:
    import pint

    return pint.UnitRegistry()


def display_unit(kind: str, family: Family) -> Unit:
    """Return the unit a family shows a kind in."""
    what = KINDS[kind]
    pressure, length, heat = parts_of(family)
    if kind in _PRESSURE_KINDS:
        return what.imperial if pressure == "psi" else what.metric
    if kind in _HEAT_KINDS:
        return what.imperial if heat == "F" else what.metric
    return what.imperial if length == "in" else what.metric


def plain_number(value: float, digits: int) -> str:
    """Return a number as it is printed: the language's decimal sign, a true minus, and none before a nought.

    >>> plain_number(-0.004, 2), plain_number(-1.5, 1)
    ('0.00', '−1.5')
    """
    number = f"{value:.{digits}f}"
    return written(number.lstrip("-") if float(number) == 0.0 else number)


def signed(value: float, digits: int = 2) -> str:
    """Return a number with its sign, as margins and accelerations are told.

    >>> signed(0.5), signed(-0.5), signed(-0.001)
    ('+0.50', '−0.50', '0.00')
    """
    number = plain_number(value, digits)
    return f"+{number}" if float(f"{value:.{digits}f}") > 0.0 else number


def show(value_si: float, kind: str, family: Family, with_unit: bool = True) -> str:
    """Return an SI value as display text with its unit; '–' when it is not finite."""
    unit = display_unit(kind, family)
    if not abs(value_si) < 1e15:
        return "–"
    number = plain_number(unit.from_si(value_si), unit.digits)
    if not with_unit or not unit.symbol:
        return number
    return f"{number}°" if unit.symbol == "°" else f"{number}\u202f{unit.symbol}"


def both_lengths(length_m: float, digits: int = 1) -> str:
    """Return a length in millimetres and inches, for paper and steps that a shop with either kind of rule reads.

    >>> both_lengths(0.0148, 2)
    '14.80 mm (0.583 in)'
    """
    mm = length_m * 1e3
    return f"{plain_number(mm, digits)} mm ({plain_number(mm / INCH_MM, 3 if mm < 50.0 else 2)} in)"


_MILLIMETRES = re.compile(r"(?<![\w.,/(])(\d+(?:[.,]\d+)?)[ \u202f]mm\b(?! \()")


def in_rule(text: str, family: Family) -> str:
    """Return a text with its millimetres as the family's rule has them: a hole's size is told in one unit on a page.

    >>> in_rule("-4 in-line restrictor, 0.9 mm hole", "imperial")
    '-4 in-line restrictor, 0.035 in hole'
    """
    if not in_inches(family):
        return text

    def inches(found: re.Match[str]) -> str:
        mm = float(found[1].replace(",", "."))
        return f"{plain_number(mm / INCH_MM, 3 if mm < 5.0 else 2)} in"

    return _MILLIMETRES.sub(inches, text)


def show_difference(value_si: float, kind: str, family: Family) -> str:
    """Return a difference (no offset) as display text: temperature and gauge kinds included; '–' when it is not finite."""
    unit = display_unit(kind, family)
    if not abs(value_si) < 1e15:
        return "–"
    plain = Unit(unit.symbol, unit.factor, 0.0, unit.digits)
    number = plain_number(plain.from_si(value_si), unit.digits)
    return f"{number}\u202f{unit.symbol}".rstrip()


def file_to_si(value: float, kind: str) -> float:
    """Return a value as the file holds it, in SI."""
    return KINDS[kind].file.to_si(value)


def si_to_file(value: float, kind: str) -> float:
    """Return an SI value as the file holds it, rounded to twelve significant digits."""
    return float(f"{KINDS[kind].file.from_si(value):.12g}")
