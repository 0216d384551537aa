"""From the plan's words and units to the arrays the physics takes."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from gravidon.parts import oils, turbos
from gravidon.physics import attitude, line, source, sump
from gravidon.physics import oil as oil_physics
from gravidon.physics.arrays import Array
from gravidon.physics.bearing import BearingReference
from gravidon.physics.feed import Feed
from gravidon.plan import units
from gravidon.plan.fields import si
from gravidon.plan.model import Condition, Plan, Point

PIECE_LENGTH_M = 0.012
MOST_PIECES = 48


def oil_of(plan: Plan) -> oil_physics.Oil:
    """Return the plan's oil."""
    return oil_physics.Oil(
        si(plan.oil, "v40_mm2_s"), si(plan.oil, "v100_mm2_s"), si(plan.oil, "density_15_kg_m3")
    )


def column(plan: Plan, name: str) -> Array:
    """Return one field of every condition in SI, shape (conditions,)."""
    return np.array([si(c, name) for c in plan.conditions])


def point(p: Point) -> Array:
    """Return a position [m], shape (3,)."""
    return np.array([p.x_mm, p.y_mm, p.z_mm]) * 1e-3


def source_fit(plan: Plan) -> source.SourceFit:
    """Return the gallery law fitted to the plan's gauge readings."""
    oil = oil_of(plan)
    readings = plan.engine.readings
    t = np.array([si(r, "oil_temperature_c") for r in readings])
    return source.fit_source(
        np.array([si(r, "rpm") for r in readings]),
        oil_physics.density(oil, t),
        oil_physics.dynamic_viscosity(oil, t),
        np.array([si(r, "pressure_kpa") for r in readings]),
        si(plan.engine, "relief_kpa"),
    )


def reference_oil() -> oil_physics.Oil:
    """Return the oil that reference flows are quoted on."""
    grade = oils.grades()[turbos.REFERENCE_GRADE]
    return oil_physics.Oil(grade.v40_mm2_s * 1e-6, grade.v100_mm2_s * 1e-6, grade.density_15_kg_m3)


def bearing_reference(plan: Plan) -> BearingReference:
    """Return the known point of the plan's bearing housing."""
    oil = reference_oil()
    t = turbos.REFERENCE_TEMPERATURE_C + 273.15
    return BearingReference(
        si(plan.turbo, "reference_drop_kpa"),
        si(plan.turbo, "reference_flow_l_min"),
        float(oil_physics.density(oil, t)),
        float(oil_physics.dynamic_viscosity(oil, t)),
        si(plan.turbo, "film_share"),
    )


def fittings_k(plan: Plan) -> tuple[float, float]:
    """Return the feed line's summed Hooper (K1, K∞): a tee branch at the tap and the elbows."""
    rows = [line.HOOPER_TEE_BRANCH]
    rows += [line.HOOPER_ELBOW_90] * plan.feed.elbows_90 + [line.HOOPER_ELBOW_45] * plan.feed.elbows_45
    return sum(r[0] for r in rows), sum(r[1] for r in rows)


@dataclass(frozen=True)
class Supply:
    """Gallery and tap pressure [Pa gauge] and the fit behind them, per condition."""

    fit: source.SourceFit
    gallery_pa: Array
    tap_pa: Array


def supply(plan: Plan, fit: source.SourceFit) -> Supply:
    """Return the pressure the tap offers in every condition."""
    oil = oil_of(plan)
    t = column(plan, "oil_temperature_c")
    gallery = source.gallery_pressure(
        fit, column(plan, "rpm"), oil_physics.density(oil, t), oil_physics.dynamic_viscosity(oil, t)
    )
    tap = np.where(gallery > 0.0, np.maximum(gallery + si(plan.tap, "offset_kpa"), 0.0), 0.0)
    return Supply(fit, gallery, tap)


def feed(plan: Plan, tap_pa: Array, bore_m: Array | float | str | None = "plan") -> Feed:
    """Return the feed as the solver takes it; `bore_m` may stand in for the plan's restrictor."""
    k1, k_infinity = fittings_k(plan)
    if isinstance(bore_m, str):
        bore_m = si(plan.restrictor, "bore_mm") if plan.restrictor.fitted else None
    return Feed(
        oil=oil_of(plan),
        tap_pressure_pa=tap_pa,
        temperature_k=column(plan, "oil_temperature_c"),
        heat_w=column(plan, "heat_kw"),
        line_bore_m=si(plan.feed, "hose_bore_mm"),
        line_length_m=si(plan.feed, "length_mm"),
        line_k1=k1,
        line_k_infinity=k_infinity,
        restrictor_bore_m=bore_m,
        restrictor_length_m=si(plan.restrictor, "length_mm"),
        reference=bearing_reference(plan),
    )


def effective_up(plan: Plan) -> tuple[Array, Array]:
    """Return (up, strength) of effective gravity, shapes (conditions, 3) and (conditions,)."""
    return attitude.effective_up(
        column(plan, "forward_g"),
        column(plan, "left_g"),
        0.0,
        column(plan, "nose_up_deg"),
        column(plan, "left_side_up_deg"),
    )


@dataclass(frozen=True)
class Route:
    """The drain's centreline: its corners and its stations, with bores and which leg each piece is on.

    Fields: corners [m] (corners, 3); stations [m] (stations, 3); piece length and bore [m]
    (pieces,); leg of each piece (pieces,): leg k joins corner k to k+1, the first is the flange
    stub, the last the entry fitting.
    """

    corners_m: Array
    stations_m: Array
    length_m: Array
    bore_m: Array
    leg: np.ndarray

    @property
    def legs(self) -> int:
        """Number of straight legs."""
        return len(self.corners_m) - 1


def fitting_axis(plan: Plan) -> Array:
    """Return the unit vector from the pan wall outward along the entry fitting."""
    heading, rise = si(plan.drain.fitting, "heading_deg"), si(plan.drain.fitting, "rise_deg")
    return np.array(
        [np.cos(heading) * np.cos(rise), np.sin(heading) * np.cos(rise), np.sin(rise)], dtype=np.float64
    )


def route(plan: Plan) -> Route:
    """Return the drain's centreline cut into pieces of about 12 mm (at most 48)."""
    drain = plan.drain
    flange, entry = point(plan.turbo.drain_flange), point(drain.entry)
    stub = flange - np.array([0.0, 0.0, si(drain, "flange_length_mm")])
    outer = entry + fitting_axis(plan) * si(drain.fitting, "length_mm")
    corners = np.array([flange, stub, *(point(p) for p in drain.points), outer, entry])
    leg_length = np.linalg.norm(np.diff(corners, axis=0), axis=1)
    keep = leg_length > 1e-4
    keep[0] = keep[-1] = True
    corners = np.concatenate([corners[:-1][keep], corners[-1:]])
    leg_length = leg_length[keep]
    piece = max(PIECE_LENGTH_M, float(leg_length.sum()) / (MOST_PIECES - len(leg_length)))
    counts = np.maximum(np.ceil(leg_length / piece).astype(int), 1)
    leg = np.repeat(np.arange(len(counts)), counts)
    share = np.concatenate([np.arange(n) / n for n in counts])
    stations = corners[leg] + share[:, None] * np.diff(corners, axis=0)[leg]
    bores = np.full(len(counts), si(drain, "hose_bore_mm"))
    bores[0], bores[-1] = si(drain, "flange_bore_mm"), si(drain.fitting, "bore_mm")
    return Route(
        corners, np.concatenate([stations, corners[-1:]]), (leg_length / counts)[leg], bores[leg], leg
    )


def pan_columns(plan: Plan) -> sump.Columns:
    """Return the pan cut into columns."""
    boxes = plan.sump.boxes
    corners = np.array([point(b.corner) for b in boxes])
    sizes = np.array([[b.length_mm, b.width_mm, b.depth_mm] for b in boxes]) * 1e-3
    return sump.columns_of_boxes(corners, sizes)


def pan_oil_m3(plan: Plan) -> Array:
    """Return the oil left in the pan in every condition [m³]."""
    return np.maximum(si(plan.sump, "fill_l") - column(plan, "oil_up_l"), 0.0)


def seal_centres(plan: Plan) -> tuple[Array, Array]:
    """Return the two seal centres [m] (2, 3) and the shaft's unit vector; turbine end first."""
    turbo = plan.turbo
    heading = si(turbo, "shaft_heading_deg")
    axis = np.array([np.cos(heading), np.sin(heading), 0.0])
    shaft = point(turbo.drain_flange) + np.array([0.0, 0.0, si(turbo, "shaft_height_mm")])
    half = 0.5 * si(turbo, "seal_spacing_mm") * axis
    return np.stack([shaft - half, shaft + half]), axis


def condition_index(plan: Plan, name: str) -> int:
    """Return a condition's place in the plan.

    Raises: KeyError if the plan has none of that name.
    """
    for index, condition in enumerate(plan.conditions):
        if condition.name == name:
            return index
    raise KeyError(name)


def window_bounds(plan: Plan, condition: Condition) -> tuple[float, float]:
    """Return the inlet pressure window [Pa gauge] of a condition; (-inf, inf) when the engine is off."""
    window = plan.turbo.window
    if condition.regime == "off":
        return -np.inf, np.inf
    low = "speed_min_kpa" if condition.regime == "speed" else "idle_min_kpa"
    high = "cold_max_kpa" if condition.regime == "cold" else "speed_max_kpa"
    return si(window, low), si(window, high)


def display(value_si: float, kind: str) -> float:
    """Return an SI value in the file's unit of a kind, for reports."""
    return units.si_to_file(value_si, kind)
