# SPDX-License-Identifier: GPL-3.0-or-later
"""The operating conditions a new plan starts with. Speeds, loads, froth and lengths: common practice, no source."""

from __future__ import annotations

from gravidon.plan.model import Condition

_DRIVEN = {"regime": "speed", "oil_temperature_c": 105.0, "oil_up_l": 0.8}


_PARKED = {"regime": "off", "rpm": 0.0, "oil_temperature_c": 100.0, "load": 0.0, "air_fraction": 0.0,
           "oil_up_l": 0.0, "blow_by_share": 0.0}  # fmt: skip


def more_conditions() -> tuple[Condition, ...]:
    """Return further conditions that a builder may add: overrun, grades, parking on slopes and banks."""
    idle = {"regime": "idle", "rpm": 850.0, "oil_temperature_c": 95.0, "load": 0.075, "air_fraction": 0.2,
            "oil_up_l": 0.6, "blow_by_share": 0.25, "intake_kpa": -62.0}  # fmt: skip
    rows: list[dict[str, object]] = [
        {"name": "overrun", **_DRIVEN, "rpm": 3500.0, "load": 0.2, "air_fraction": 0.3, "forward_g": -0.15,
         "blow_by_share": 0.2, "intake_kpa": -78.0, "wheel_side_kpa": -1.0, "duration_s": 20.0},
        {"name": "long climb", **_DRIVEN, "rpm": 3200.0, "load": 0.75, "air_fraction": 0.35, "nose_up_deg": 9.0,
         "blow_by_share": 0.7, "intake_kpa": 40.0, "wheel_side_kpa": 25.0},
        {"name": "nose-down idle", **idle, "nose_up_deg": -12.0},
        {"name": "parked nose-up", **_PARKED, "nose_up_deg": 12.0},
        {"name": "parked nose-down", **_PARKED, "nose_up_deg": -12.0},
        {"name": "bank, left up", **idle, "left_side_up_deg": 10.0},
        {"name": "bank, right up", **idle, "left_side_up_deg": -10.0},
    ]  # fmt: skip
    return tuple(Condition.model_validate(row) for row in rows)


def standard_conditions() -> tuple[Condition, ...]:
    """Return ten conditions in the order a drive meets them."""
    rows: list[dict[str, object]] = [
        {"name": "cold start", "regime": "cold", "rpm": 1200.0, "oil_temperature_c": 10.0, "load": 0.05,
         "air_fraction": 0.05, "oil_up_l": 1.0, "crankcase_kpa": 0.1, "blow_by_share": 0.3, "intake_kpa": -55.0},
        {"name": "hot idle", "regime": "idle", "rpm": 850.0, "oil_temperature_c": 100.0, "load": 0.075,
         "air_fraction": 0.2, "oil_up_l": 0.6, "crankcase_kpa": 0.1, "blow_by_share": 0.25, "intake_kpa": -62.0},
        {"name": "cruise", **_DRIVEN, "rpm": 2600.0, "oil_temperature_c": 95.0, "load": 0.25,
         "air_fraction": 0.3, "crankcase_kpa": 0.2, "wheel_side_kpa": 5.0, "blow_by_share": 0.35, "intake_kpa": -35.0},
        {"name": "full load", **_DRIVEN, "rpm": 5800.0, "oil_temperature_c": 112.0, "load": 1,
         "air_fraction": 0.4, "crankcase_kpa": 0.8, "wheel_side_kpa": 60.0, "blow_by_share": 1.0, "intake_kpa": 90.0,
         "duration_s": 30.0},
        {"name": "launch", **_DRIVEN, "rpm": 4500.0, "load": 0.75, "air_fraction": 0.4, "forward_g": 0.5,
         "crankcase_kpa": 0.6, "wheel_side_kpa": 40.0, "duration_s": 3.0, "blow_by_share": 0.9, "intake_kpa": 70.0},
        {"name": "braking", **_DRIVEN, "rpm": 3000.0, "load": 0.4, "air_fraction": 0.35, "forward_g": -0.6,
         "crankcase_kpa": 0.2, "duration_s": 4.0, "blow_by_share": 0.2, "intake_kpa": -68.0},
        {"name": "hard left", **_DRIVEN, "rpm": 4000.0, "load": 0.6, "air_fraction": 0.4, "left_g": 0.6,
         "crankcase_kpa": 0.4, "wheel_side_kpa": 20.0, "duration_s": 6.0, "blow_by_share": 0.6, "intake_kpa": 20.0},
        {"name": "hard right", **_DRIVEN, "rpm": 4000.0, "load": 0.6, "air_fraction": 0.4, "left_g": -0.6,
         "crankcase_kpa": 0.4, "wheel_side_kpa": 20.0, "duration_s": 6.0, "blow_by_share": 0.6, "intake_kpa": 20.0},
        {"name": "nose-up", "regime": "idle", "rpm": 850.0, "oil_temperature_c": 95.0, "load": 0.075,
         "air_fraction": 0.2, "oil_up_l": 0.6, "nose_up_deg": 12.0, "crankcase_kpa": 0.1, "blow_by_share": 0.25, "intake_kpa": -62.0},
        {"name": "key-off", "regime": "off", "rpm": 0.0, "oil_temperature_c": 100.0, "load": 0.0,
         "air_fraction": 0.0, "oil_up_l": 0.0, "blow_by_share": 0.0, "intake_kpa": 0.0},
    ]  # fmt: skip
    return tuple(Condition.model_validate(row) for row in rows)
