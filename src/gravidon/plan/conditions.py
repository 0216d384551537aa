"""The operating conditions a new plan starts with. Speeds, heat and froth: common practice, no source."""

from __future__ import annotations

from gravidon.plan.model import Condition

_DRIVEN = {"regime": "speed", "oil_temperature_c": 105.0, "oil_up_l": 0.8}


def standard_conditions() -> tuple[Condition, ...]:
    """Return ten conditions in the order a drive meets them."""
    rows: list[dict[str, object]] = [
        {"name": "cold start", "regime": "cold", "rpm": 1200.0, "oil_temperature_c": 10.0, "heat_kw": 0.1,
         "air_fraction": 0.05, "oil_up_l": 1.0, "crankcase_kpa": 0.1},
        {"name": "hot idle", "regime": "idle", "rpm": 850.0, "oil_temperature_c": 100.0, "heat_kw": 0.15,
         "air_fraction": 0.2, "oil_up_l": 0.6, "crankcase_kpa": 0.1},
        {"name": "cruise", **_DRIVEN, "rpm": 2600.0, "oil_temperature_c": 95.0, "heat_kw": 0.5,
         "air_fraction": 0.3, "crankcase_kpa": 0.2, "wheel_side_kpa": 5.0},
        {"name": "full load", **_DRIVEN, "rpm": 5800.0, "oil_temperature_c": 112.0, "heat_kw": 2.0,
         "air_fraction": 0.4, "crankcase_kpa": 0.8, "wheel_side_kpa": 60.0},
        {"name": "launch", **_DRIVEN, "rpm": 4500.0, "heat_kw": 1.5, "air_fraction": 0.4, "forward_g": 0.5,
         "crankcase_kpa": 0.6, "wheel_side_kpa": 40.0, "duration_s": 3.0},
        {"name": "braking", **_DRIVEN, "rpm": 3000.0, "heat_kw": 0.8, "air_fraction": 0.35, "forward_g": -0.6,
         "crankcase_kpa": 0.2, "duration_s": 4.0},
        {"name": "hard left", **_DRIVEN, "rpm": 4000.0, "heat_kw": 1.2, "air_fraction": 0.4, "left_g": 0.6,
         "crankcase_kpa": 0.4, "wheel_side_kpa": 20.0, "duration_s": 6.0},
        {"name": "hard right", **_DRIVEN, "rpm": 4000.0, "heat_kw": 1.2, "air_fraction": 0.4, "left_g": -0.6,
         "crankcase_kpa": 0.4, "wheel_side_kpa": 20.0, "duration_s": 6.0},
        {"name": "nose-up", "regime": "idle", "rpm": 850.0, "oil_temperature_c": 95.0, "heat_kw": 0.15,
         "air_fraction": 0.2, "oil_up_l": 0.6, "nose_up_deg": 12.0, "crankcase_kpa": 0.1},
        {"name": "key-off", "regime": "off", "rpm": 0.0, "oil_temperature_c": 100.0, "heat_kw": 0.0,
         "air_fraction": 0.0, "oil_up_l": 0.0},
    ]  # fmt: skip
    return tuple(Condition.model_validate(row) for row in rows)
