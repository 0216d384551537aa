"""Write the demo plans, all invented: a five-cylinder estate with honest faults, a V6 van with two turbos."""

from functools import partial
from pathlib import Path

from gravidon.plan import model, paths
from gravidon.plan.fields import Known
from gravidon.plan.starter import Answers, added_turbo, new_plan, usual_drain, usual_feed
from gravidon.plan.storage import plan_to_text

FOLDER = Path(__file__).parent.parent / "src/gravidon/plan/demos"


def build() -> model.Plan:
    """Return the main demo: a five-cylinder estate with honest faults to find."""
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
    measured = partial(Known, basis="measured")
    taps = (
        model.Tap(
            label="tee at the pressure sender", kind="sender tee", offset_kpa=Known(value=0.0), port_thread="1/8 BSPT",
            fitting_thread="1/8 NPT", route_mm=measured(value=1150), wrench_mm=Known(value=75),
            hot_mm=Known(value=140), gallery_bore_mm=Known(value=12.0), protrusion_mm=Known(value=1.0),
        ),
        model.Tap(
            label="gallery plug under the intake", kind="gallery plug", offset_kpa=Known(value=6.0), port_thread="M14x1.5",
            fitting_thread="M14x1.5", route_mm=measured(value=1420), wrench_mm=Known(value=45),
            hot_mm=Known(value=260), gallery_bore_mm=Known(value=12.0), protrusion_mm=measured(value=7.0),
        ),
        model.Tap(
            label="plate under the filter", kind="sandwich plate", offset_kpa=Known(value=-10.0), port_thread="1/8 NPT",
            fitting_thread="1/8 NPT", route_mm=measured(value=1560), wrench_mm=Known(value=90),
            hot_mm=Known(value=210), gallery_bore_mm=Known(value=18.0),
        ),
        model.Tap(
            label="pump side of the filter head", kind="filter block", offset_kpa=Known(value=25.0), filtered=False,
            port_thread="1/8 NPT", fitting_thread="1/8 NPT", route_mm=measured(value=1280), wrench_mm=Known(value=80),
            hot_mm=Known(value=180), gallery_bore_mm=Known(value=18.0),
        ),
    )  # fmt: skip
    changes: dict[str, object] = {
        "note": "Turbo on the hot side beside the firewall. First plan, as bought: a flange kit from a drawer, "
        "a pipe fitting for the pan, sizes copied from a friend's car.",
        "engine.readings": readings,
        "engine.relief_kpa": Known(value=490, basis="measured"),
        "engine.pump_cc_rev": Known(value=11.0, basis="guess"),
        "taps": taps,
        "turbos.0.turbo.label": "used turbo, medium frame, no maker's sheet",
        "turbos.0.turbo.drain_flange": point(x_mm=-300, y_mm=-262, z_mm=112),
        "turbos.0.turbo.shaft_height_mm": measured(value=46),
        "turbos.0.feed": usual_feed(1150).model_copy(update={"bonnet_mm": Known(value=95)}),
        "turbos.0.restrictor.fitted": True,
        "turbos.0.restrictor.bore_mm": 0.76,
        "turbos.0.restrictor.length_mm": measured(value=2.0),
        "turbos.0.drain.flange_bore_mm": 17.5,
        "turbos.0.drain.flange_length_mm": 32.0,
        "turbos.0.drain.points": (point(x_mm=-298, y_mm=-258, z_mm=48), point(x_mm=-284, y_mm=-216, z_mm=-12)),
        "turbos.0.drain.entry": point(x_mm=-270, y_mm=-128, z_mm=-42),
        "turbos.0.drain.fitting": model.EntryFitting(
            label="3/8 NPT to -10, tapped into the pan", bore_mm=10.5, length_mm=42.0, heading_deg=-90.0,
            rise_deg=12.0, port_thread="3/8 NPT", fitting_thread="3/8 NPT",
        ),
        "sump.boxes": (
            model.PanBox(corner=point(x_mm=-420, y_mm=-128, z_mm=-118), length_mm=420, width_mm=256, depth_mm=118),
        ),
        "sump.fill_l": measured(value=5.2),
    }  # fmt: skip
    for path, value in changes.items():
        plan = paths.put(plan, path, value)
    line = plan.turbos[0]
    hoses = tuple(
        p.model_copy(update={"length_mm": measured(value=1150)}) if isinstance(p, model.Hose) else p
        for p in line.feed.pieces
    )
    return paths.put(plan, "turbos.0.feed.pieces", hoses)


def build_van() -> model.Plan:
    """Return the third demo: a V6 van with two small turbos on one trunk, one screen half clogged."""
    plan = new_plan("V6 van, two small turbos", Answers("5W-40", "journal", "small", 140.0, 400.0, 180.0))
    point = model.Point
    bore = 5.56
    plan = paths.put(plan, "turbos.0.turbo.label", "left turbo")
    plan = paths.put(plan, "turbos.0.turbo.drain_flange", point(x_mm=-220, y_mm=250, z_mm=190))
    plan = paths.put(
        plan,
        "turbos.0.drain",
        usual_drain(point(x_mm=-220, y_mm=250, z_mm=190), point(x_mm=-200, y_mm=130, z_mm=-22)),
    )
    plan = added_turbo(plan)
    plan = paths.put(plan, "turbos.1.turbo.label", "right turbo")
    plan = paths.put(plan, "trunk", (
        model.Fitting(shape="tee, branch", bore_mm=bore), model.Hose(bore_mm=bore, length_mm=Known(value=700.0)),
    ))  # fmt: skip
    screen = model.ScreenPiece(
        bore_mm=5.0, height_mm=0.0, rated_drop_kpa=Known(value=5.0), rated_flow_l_min=Known(value=3.0)
    )
    for k, (length, clogged) in enumerate(((350.0, 0.0), (1150.0, 0.96))):
        pieces = (
            model.Fitting(shape="tee, through" if k == 0 else "tee, branch", bore_mm=bore),
            screen.model_copy(update={"clogged": clogged}),
            model.Hose(bore_mm=bore, length_mm=Known(value=length)),
            model.Fitting(shape="90°", bore_mm=bore, height_mm=28.0),
        )
        plan = paths.put(plan, f"turbos.{k}.feed.pieces", pieces)
        plan = paths.put(plan, f"turbos.{k}.restrictor.fitted", False)
    plan = paths.put(plan, "engine.pump_cc_rev", Known(value=12.0, basis="guess"))
    plan = paths.put(plan, "sump.fill_l", Known(value=5.6, basis="measured"))
    return paths.put(
        plan,
        "note",
        "Two small turbos fed from one tee. The right branch is longer, and its screen has seen swarf.",
    )


if __name__ == "__main__":
    for name, make in (("estate", build), ("van", build_van)):
        (FOLDER / f"{name}.gravidon").write_text(plan_to_text(make()), encoding="utf-8")
