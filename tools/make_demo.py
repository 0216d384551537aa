# SPDX-License-Identifier: GPL-3.0-or-later
"""Write the demo plans, all invented: an estate with honest faults, a low-mounted hill-climb special, a V6 van, a finished coupe."""

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
        "turbos.0.feed": usual_feed(1150.0).model_copy(update={"bonnet_mm": Known(value=95)}),
        "turbos.0.restrictor.fitted": True,
        "turbos.0.restrictor.bore_mm": 0.76,
        "turbos.0.restrictor.length_mm": measured(value=2.0),
        "turbos.0.drain.flange_bore_mm": 12.29,
        "turbos.0.drain.flange_length_mm": 32.0,
        "turbos.0.drain.points": (point(x_mm=-298, y_mm=-258, z_mm=48), point(x_mm=-284, y_mm=-216, z_mm=-12)),
        "turbos.0.drain.entry": point(x_mm=-270, y_mm=-128, z_mm=-42),
        "turbos.0.drain.fitting": model.EntryFitting(
            label="3/8 NPT to -10, tapped into the pan", bore_mm=10.5, length_mm=42.0, heading_deg=-90.0,
            rise_deg=12.0, port_thread="3/8 NPT", fitting_thread="3/8 NPT", means="tapped",
        ),
        "turbos.0.drain.pieces": (
            model.DrainPiece(label="straight hose end at the turbo", at="turbo", bore_mm=12.29, length_mm=38.0),
            model.DrainPiece(label="45° hose end at the pan", at="pan", bore_mm=12.29, length_mm=42.0, angle_deg=45.0),
        ),
        "turbos.0.turbo.bolts": model.HousingBolts(count=6, first_deg=12.0, circle_mm=94.0),
        "sump.boxes": (
            model.PanBox(corner=point(x_mm=-420, y_mm=-128, z_mm=-150), length_mm=230, width_mm=256, depth_mm=150),
            model.PanBox(corner=point(x_mm=-190, y_mm=-128, z_mm=-68), length_mm=190, width_mm=256, depth_mm=68),
        ),
        "sump.baffles": (model.Baffle(across="forward", at_mm=-190.0, opening_cm2=Known(value=30.0)),),
        "sump.fill_l": measured(value=5.2),
        "sump.wall_mm": measured(value=4.0),
        "sump.metal": "aluminium",
        "shapes": (
            model.Shape(label="downpipe", kind="hot", corner=point(x_mm=-452, y_mm=-330, z_mm=-190), length_mm=60, width_mm=60, height_mm=330),
            model.Shape(label="steering rack", kind="chafe", corner=point(x_mm=-560, y_mm=-420, z_mm=-120), length_mm=50, width_mm=840, height_mm=50),
            model.Shape(label="engine mount bracket", kind="solid", corner=point(x_mm=-170, y_mm=-214, z_mm=-96), length_mm=80, width_mm=80, height_mm=96),
            model.Shape(label="pickup tube", kind="inside", corner=point(x_mm=-346, y_mm=-120, z_mm=-140), length_mm=40, width_mm=34, height_mm=92),
        ),
        "breather": model.Breather(kind="catch can", blow_by_l_min=Known(value=70.0), hose_bore_mm=11.11, hose_mm=measured(value=850)),
    }  # fmt: skip
    for path, value in changes.items():
        plan = paths.put(plan, path, value)
    line = plan.turbos[0]
    hoses = tuple(
        p.model_copy(update={"length_mm": measured(value=1150)}) if isinstance(p, model.Hose) else p
        for p in line.feed.pieces
    )
    return paths.put(plan, "turbos.0.feed.pieces", hoses)


def build_special() -> model.Plan:
    """Return the second demo: a mid-engined hill-climb special, its ball-bearing turbo below the oil, pumped home."""
    plan = new_plan("Hill-climb special, low turbo", Answers("5W-40", "ball", "medium", 150.0, 430.0, 60.0))
    point, measured, maker = model.Point, partial(Known, basis="measured"), partial(Known, basis="maker")
    fast = {"hard left": {"left_g": 1.0, "duration_s": 5.0}, "hard right": {"left_g": -1.0, "duration_s": 5.0},
            "launch": {"forward_g": 0.8}, "braking": {"forward_g": -0.9, "duration_s": 3.0}}  # fmt: skip
    conditions = tuple(c.model_copy(update=fast.get(c.name, {})) for c in plan.conditions)
    changes: dict[str, object] = {
        "note": "Turbo low behind the gearbox, its flange below the oil in the pan. Gravity cannot bring this oil home.",
        "use": "circuit",
        "conditions": conditions,
        "engine.pump_cc_rev": Known(value=14.0, basis="guess"),
        "turbos.0.turbo.label": "ball-bearing turbo, twin rings",
        "turbos.0.turbo.rings": "twin",
        "turbos.0.turbo.tilt_max_deg": maker(value=13.0),
        "turbos.0.turbo.drain_flange": point(x_mm=-520, y_mm=-150, z_mm=-62),
        "turbos.0.turbo.shaft_heading_deg": 90.0,
        "turbos.0.turbo.pitch_deg": measured(value=3.0),
        "turbos.0.restrictor.bore_mm": 1.2,
        "turbos.0.drain": usual_drain(point(x_mm=-520, y_mm=-150, z_mm=-62), point(x_mm=-400, y_mm=-60, z_mm=-30)).model_copy(
            update={
                "points": (point(x_mm=-500, y_mm=-120, z_mm=-104),),
                "fitting": model.EntryFitting(label="weld bung in the rear wall", bore_mm=12.29, length_mm=30.0, heading_deg=180.0,
                                              rise_deg=10.0, port_thread="-10 flare 7/8-14", fitting_thread="-10 flare 7/8-14"),
            }
        ),
        "turbos.0.drain_by": "scavenge",
        "turbos.0.scavenge": model.Scavenge(
            pot=point(x_mm=-528, y_mm=-128, z_mm=-185), pot_ml=measured(value=300), free_l_min=maker(value=8.0),
            stall_kpa=maker(value=180.0), current_a=maker(value=9.0), pump_above_pot_mm=60.0, hose_mm=measured(value=1500),
            return_z_mm=40.0, gauge_awg=18, wire_mm=measured(value=4800), fuse_a=15.0, relay=True,
        ),
        "sump.boxes": (
            model.PanBox(corner=point(x_mm=-400, y_mm=-150, z_mm=-98), length_mm=400, width_mm=300, depth_mm=98),
        ),
        "sump.baffles": (model.Baffle(across="left", at_mm=0.0, opening_cm2=Known(value=18.0)),),
        "sump.fill_l": measured(value=5.5),
        "breather": model.Breather(kind="can and valve", blow_by_l_min=Known(value=85.0), hose_bore_mm=11.11,
                                   hose_mm=measured(value=1200), one_way=False, valve_bore_mm=3.0),
        "shapes": (
            model.Shape(label="exhaust collector", kind="hot", corner=point(x_mm=-760, y_mm=-230, z_mm=-60), length_mm=120, width_mm=160, height_mm=120),
            model.Shape(label="floor pan", kind="solid", corner=point(x_mm=-900, y_mm=-400, z_mm=-214), length_mm=1000, width_mm=800, height_mm=8),
        ),
    }  # fmt: skip
    for path, value in changes.items():
        plan = paths.put(plan, path, value)
    return plan


def build_van() -> model.Plan:
    """Return the third demo: a V6 van with two small turbos on one trunk and one drain, one screen half clogged."""
    plan = new_plan("V6 van, two small turbos", Answers("5W-40", "journal", "small", 140.0, 400.0, 180.0))
    point = model.Point
    bore = 5.56
    plan = paths.put(plan, "turbos.0.turbo.label", "left turbo")
    flange = point(x_mm=-60, y_mm=150, z_mm=330)
    plan = paths.put(plan, "turbos.0.turbo.drain_flange", flange)
    drain = usual_drain(flange, point(x_mm=0, y_mm=10, z_mm=-40)).model_copy(
        update={"points": (point(x_mm=20, y_mm=112, z_mm=236), point(x_mm=44, y_mm=30, z_mm=104))}
    )
    plan = paths.put(plan, "turbos.0.drain", drain)
    front = {"heading_deg": 0.0, "rise_deg": 40.0, "label": "weld bung in the front wall", "length_mm": 34.0}
    plan = paths.put(plan, "turbos.0.drain.fitting", plan.turbos[0].drain.fitting.model_copy(update=front))
    plan = added_turbo(plan)
    plan = paths.put(plan, "turbos.1.turbo.label", "right turbo")
    plan = paths.put(plan, "turbos.1.turbo.drain_flange", point(x_mm=-60, y_mm=-170, z_mm=330))
    plan = paths.put(plan, "turbos.1.drain.points", (point(x_mm=20, y_mm=-118, z_mm=250),))
    plan = paths.put(plan, "turbos.1.drain.joins", model.Joining(turbo=0, bend=1))
    plan = paths.put(plan, "trunk", (
        model.Fitting(shape="tee, branch", bore_mm=4.37), model.Hose(bore_mm=bore, length_mm=Known(value=700.0)),
    ))  # fmt: skip
    screen = model.ScreenPiece(
        bore_mm=4.37, height_mm=0.0, rated_drop_kpa=Known(value=5.0), rated_flow_l_min=Known(value=3.0)
    )
    for k, (length, clogged) in enumerate(((350.0, 0.0), (1150.0, 0.98))):
        pieces = (
            model.Fitting(shape="tee, through" if k == 0 else "tee, branch", bore_mm=4.37),
            screen.model_copy(update={"clogged": clogged}),
            model.Hose(bore_mm=bore, length_mm=Known(value=length)),
            model.Fitting(shape="90°", bore_mm=4.37, height_mm=28.0),
        )
        plan = paths.put(plan, f"turbos.{k}.feed.pieces", pieces)
        plan = paths.put(plan, f"turbos.{k}.restrictor.fitted", False)
    plan = paths.put(plan, "engine.pump_cc_rev", Known(value=12.0, basis="guess"))
    plan = paths.put(plan, "sump.fill_l", Known(value=5.6, basis="measured"))
    return paths.put(
        plan,
        "note",
        "Two small turbos fed from one tee, their drains joined in front of the engine. The right feed branch is longer, and its screen has seen swarf.",
    )


def build_coupe() -> model.Plan:
    """Return the finished demo: a two-litre coupe's ball-bearing turbo, measured through, that holds."""
    plan = new_plan("Two-litre coupe, finished", Answers("10W-40", "ball", "medium", 120.0, 410.0, 275.0))
    reading, point, measured, maker = (
        model.GaugeReading,
        model.Point,
        partial(Known, basis="measured"),
        partial(Known, basis="maker"),
    )
    flange, entry = point(x_mm=-300, y_mm=-318, z_mm=222), point(x_mm=-200, y_mm=-125, z_mm=-46)
    readings = tuple(
        reading(rpm=rpm, oil_temperature_c=c, pressure_kpa=kpa, where=where, basis="measured")
        for rpm, c, kpa, where in (
            (900, 98, 120, "filter head, hot idle"),
            (2500, 98, 310, "filter head"),
            (4000, 100, 410, "filter head"),
            (6200, 104, 455, "filter head, after a hard run"),
        )
    )
    changes: dict[str, object] = {
        "note": "Built, run and measured: the plan that the first one turned into. Nothing of it is bad, and nothing has to be watched.",
        "engine.readings": readings,
        "engine.relief_kpa": measured(value=480),
        "engine.front_up_deg": measured(value=0.0),
        "engine.left_side_up_deg": measured(value=0.0),
        "taps.0.label": "plate under the filter",
        "taps.0.kind": "sandwich plate",
        "taps.0.offset_kpa": measured(value=-4.0),
        "taps.0.route_mm": measured(value=900),
        "turbos.0.turbo.label": "ball-bearing turbo, water lines in use",
        "turbos.0.turbo.drain_flange": flange,
        "turbos.0.turbo.shaft_heading_deg": 0.0,
        "turbos.0.turbo.shaft_height_mm": measured(value=46),
        "turbos.0.turbo.seal_spacing_mm": measured(value=62),
        "turbos.0.turbo.seal_diameter_mm": measured(value=17),
        "turbos.0.turbo.clock_deg": measured(value=0.0),
        "turbos.0.turbo.pitch_deg": measured(value=0.0),
        "turbos.0.turbo.reference_flow_l_min": maker(value=1.1),
        "turbos.0.restrictor.bore_mm": 0.95,
        "turbos.0.restrictor.length_mm": measured(value=2.0),
        "turbos.0.drain.flange_bore_mm": 12.29,
        "turbos.0.drain.flange_length_mm": 32.0,
        "turbos.0.drain.points": (point(x_mm=-262, y_mm=-252, z_mm=84),),
        "turbos.0.drain.entry": entry,
        "turbos.0.drain.fitting": model.EntryFitting(
            label="weld bung with -10 flare", bore_mm=12.29, length_mm=36.0, heading_deg=-90.0,
            rise_deg=20.0, port_thread="-10 flare 7/8-14", fitting_thread="-10 flare 7/8-14",
        ),
        "sump.boxes": (
            model.PanBox(corner=point(x_mm=-340, y_mm=-125, z_mm=-150), length_mm=340, width_mm=250, depth_mm=150),
        ),
        "sump.fill_l": measured(value=5.0),
        "sump.windage_mm": measured(value=8.0),
        "sump.pickup": point(x_mm=-190, y_mm=0, z_mm=-140),
        "shapes": (
            model.Shape(label="downpipe", kind="hot", corner=point(x_mm=-470, y_mm=-430, z_mm=-150), length_mm=60, width_mm=60, height_mm=280),
        ),
    }  # fmt: skip
    for path, value in changes.items():
        plan = paths.put(plan, path, value)
    pieces = plan.turbos[0].feed.pieces
    screen = model.ScreenPiece(rated_drop_kpa=maker(value=3.0), rated_flow_l_min=maker(value=4.0))
    plan = paths.put(plan, "turbos.0.feed.pieces", (*pieces[:-1], screen, pieces[-1]))
    zero = (model.CalPoint(pressure_kpa=0.0, volts=0.508),)
    beside = tuple(
        model.CalPoint(pressure_kpa=p, volts=v, supply_v=5.01)
        for p, v in ((0.0, 0.532), (150.0, 1.138), (300.0, 1.739), (450.0, 2.334), (600.0, 2.949))
    )
    senders = (
        model.Sender(label="sender at the gallery", at="gallery", points=beside),
        model.Sender(label="sender at the turbo's inlet", at="inlet", points=zero),
    )
    return paths.put(plan, "senders", senders).model_copy(update={"seen": None})


if __name__ == "__main__":
    makers = (("estate", build), ("special", build_special), ("van", build_van), ("coupe", build_coupe))
    for name, make in makers:
        (FOLDER / f"{name}.gravidon").write_text(plan_to_text(make()), encoding="utf-8")
