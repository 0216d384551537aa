"""Write the main demo plan: an invented five-cylinder estate with honest faults to find."""

from pathlib import Path

from gravidon.plan import model, paths
from gravidon.plan.fields import Known
from gravidon.plan.starter import Answers, new_plan
from gravidon.plan.storage import plan_to_text

TARGET = Path(__file__).parent.parent / "src/gravidon/plan/demos/estate.gravidon"


def build() -> model.Plan:
    """Return the demo plan."""
    plan = new_plan("Five-cylinder estate, first plan", Answers())
    reading = model.GaugeReading
    readings = (
        reading(rpm=850, oil_temperature_c=100, pressure_kpa=104, where="sender port, hot idle"),
        reading(rpm=2000, oil_temperature_c=98, pressure_kpa=250, where="sender port"),
        reading(rpm=3000, oil_temperature_c=102, pressure_kpa=345, where="sender port"),
        reading(rpm=5500, oil_temperature_c=112, pressure_kpa=462, where="sender port, hot road run"),
        reading(rpm=1200, oil_temperature_c=20, pressure_kpa=490, where="sender port, cold, on relief"),
    )
    point = model.Point
    changes: dict[str, object] = {
        "note": "Turbo on the hot side beside the firewall. First plan, as bought: a flange kit from a drawer, "
        "a pipe fitting for the pan, sizes copied from a friend's car.",
        "engine.readings": readings,
        "engine.relief_kpa": Known(value=490, basis="measured"),
        "turbo.label": "used turbo, medium frame, no maker's sheet",
        "turbo.drain_flange": point(x_mm=-300, y_mm=-262, z_mm=112),
        "turbo.shaft_height_mm": Known(value=46, basis="measured"),
        "tap.label": "tee in the pressure sender port",
        "tap.port_thread": "1/8 BSPT",
        "tap.fitting_thread": "1/8 NPT",
        "feed.length_mm": Known(value=1150, basis="measured"),
        "restrictor.fitted": True,
        "restrictor.bore_mm": 0.76,
        "restrictor.length_mm": Known(value=2.0, basis="measured"),
        "drain.flange_bore_mm": 17.5,
        "drain.flange_length_mm": 32.0,
        "drain.points": (point(x_mm=-298, y_mm=-258, z_mm=48), point(x_mm=-284, y_mm=-216, z_mm=-12)),
        "drain.entry": point(x_mm=-270, y_mm=-128, z_mm=-42),
        "drain.fitting": model.EntryFitting(
            label="3/8 NPT to -10, tapped into the pan", bore_mm=10.5, length_mm=42.0, heading_deg=-90.0,
            rise_deg=12.0, port_thread="3/8 NPT", fitting_thread="3/8 NPT",
        ),
        "sump.boxes": (
            model.PanBox(corner=point(x_mm=-420, y_mm=-128, z_mm=-118), length_mm=420, width_mm=256, depth_mm=118),
        ),
        "sump.fill_l": Known(value=5.2, basis="measured"),
    }  # fmt: skip
    for path, value in changes.items():
        plan = paths.put(plan, path, value)
    return plan


if __name__ == "__main__":
    TARGET.write_text(plan_to_text(build()), encoding="utf-8")
