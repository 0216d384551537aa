# SPDX-License-Identifier: GPL-3.0-or-later
"""Typed numbers and display."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from gravidon.errors import UnitError
from gravidon.plan import units

MM, IN = units.KINDS["mm"].file, units.KINDS["mm"].imperial


@pytest.mark.parametrize(
    ("text", "kind", "si"),
    [
        ("3/8 in", "bore", 0.009525),
        ("1 1/2 in", "mm", 0.0381),
        ('9/16"', "bore", 0.0142875),
        ("9,5mm", "mm", 0.0095),
        (".035 in", "bore", 0.000889),
        ("45 psi", "kpa", 310264.08),
        ("3 bar", "kpa", 3e5),
        ("14.696 psia", "kpa", 0.0),
        ("110 degC", "degc", 383.15),
        ("230 °F", "degc", 383.15),
        ("−5 mm", "mm", -0.005),
        ("2 l/min", "l_min", 2e-3 / 60),
        ("1 ft", "run", 0.3048),
        ("1 furlong", "run", 201.168),
        ("2 kgf/cm**2", "kpa", 196133.0),
    ],
)
def test_what_builders_type(text: str, kind: str, si: float) -> None:
    """Conversion factors by NIST SP 811; the last two go through pint. 0.03 % or 20 Pa for the atmosphere."""
    assert units.parse(text, kind, "field") == pytest.approx(si, rel=3e-4, abs=20 if kind == "kpa" else 1e-9)


@pytest.mark.parametrize(
    "text", ["", "mm", "twelve", "3/0 in", "5 psi", "nan", "inf", "1e400 mm", "1.2.3 mm", "5 mm in"]
)
def test_what_is_refused_names_the_field(text: str) -> None:
    with pytest.raises(UnitError, match="entry height"):
        units.parse(text, "mm", "entry height")


@pytest.mark.parametrize(
    ("text", "kind", "value", "width"),
    [
        ("2.2 ± 0.1 L/min", "l_min", 2.2e-3 / 60, 0.1e-3 / 60),
        ("46 mm +- 2", "mm", 0.046, 0.002),
        ("212 °F ± 9 °F", "degc", 373.15, 5.0),
        ("45 psi +/- 0.1 bar", "kpa", 310264.08, 1e4),
    ],
)
def test_tolerances_are_differences(text: str, kind: str, value: float, width: float) -> None:
    """A tolerance has no offset: 9 °F are 5 K; the unit may stand after either number (0.1 %)."""
    assert units.parse_with_tolerance(text, kind, "field") == pytest.approx((value, width), rel=1e-3)


def test_a_negative_tolerance_is_refused() -> None:
    with pytest.raises(UnitError, match="tolerance"):
        units.parse_with_tolerance("45 psi ± -2 psi", "kpa", "relief")


def test_absolute_pressure_is_refused_for_a_difference() -> None:
    """Gauge and absolute are kinds of their own: a drop has no atmosphere in it."""
    with pytest.raises(UnitError):
        units.parse("30 psia", "kpa_diff", "drop")


def test_dash_sizes() -> None:
    """-10 is sixteenths of an inch of tube OD; its usual hose bore is 9/16 in (from memory)."""
    assert units.parse_dash_or_length("-10", "bore", MM) == pytest.approx(0.0142875)
    assert units.parse_dash_or_length(".5 in", "bore", MM) == pytest.approx(0.0127)
    with pytest.raises(UnitError, match="-10"):
        units.parse_dash_or_length("-11", "bore", MM)


@given(st.sampled_from(sorted(units.KINDS)), st.floats(-1e5, 1e5), st.sampled_from(["imperial", "metric"]))
def test_display_units_round_trip(kind: str, value: float, family: units.Family) -> None:
    """Every unit of the one table converts back to where it came from."""
    unit = units.display_unit(kind, family)
    assert unit.to_si(unit.from_si(value)) == pytest.approx(value, rel=1e-9, abs=1e-6)
    assert units.file_to_si(units.si_to_file(value, kind), kind) == pytest.approx(value, rel=1e-9, abs=1e-6)


@given(st.sampled_from(sorted(units.KINDS)), st.floats(-1e3, 1e3), st.sampled_from(["imperial", "metric"]))
def test_what_is_shown_can_be_typed_back(kind: str, value: float, family: units.Family) -> None:
    """A shown number, pasted into the field, means the same to its last shown digit."""
    unit = units.display_unit(kind, family)
    shown = units.show(unit.to_si(value), kind, family)
    back = unit.from_si(units.parse(shown, kind, "field", unit))
    assert back == pytest.approx(value, abs=0.5001 * 10.0**-unit.digits)


@given(st.text(max_size=30))
def test_any_text_is_a_number_or_a_unit_error(text: str) -> None:
    outcome: object
    try:
        outcome = units.parse(text, "kpa", "field")
    except UnitError as error:
        outcome = str(error)
    assert "field" in outcome if isinstance(outcome, str) else abs(float(str(outcome))) < 1e13
