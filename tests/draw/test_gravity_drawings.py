# SPDX-License-Identifier: GPL-3.0-or-later
"""The gravity side's and the parts' drawings: labels inside their area, scales that read back, pictures that follow the state."""

import itertools

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from PyQt6.QtCore import QRectF
from PyQt6.QtGui import QImage, QPainter
from pytestqt.qtbot import QtBot

from draw.recorder import Recorder, Written, inside
from gravidon.draw import (
    breather_chart,
    chain_chart,
    elevation,
    envelope_chart,
    pan_face,
    pan_levels,
    pan_view,
    replay_chart,
    run_strip,
    scavenge_chart,
    seat_section,
)
from gravidon.draw.charts import Axes
from gravidon.draw.geometry.elevation import elevation as elevation_of
from gravidon.draw.geometry.seat_section import seat_section as section_of
from gravidon.draw.ink import Ink
from gravidon.draw.style import DARK, LIGHT
from gravidon.plan import paths
from gravidon.plan.demos import NAMES, demo_drive, demo_plan
from gravidon.plan.drive_log import guess_mapping, headings, read_log
from gravidon.plan.fields import Known
from gravidon.study.home.breather_choice import breather_choice
from gravidon.study.home.entry_map import entry_map
from gravidon.study.home.envelope import envelope
from gravidon.study.home.oil_lines import levels_at_entry
from gravidon.study.home.replay import replay
from gravidon.study.making.parts_list import runs
from gravidon.study.solve.evaluate import Evaluation, evaluate
from gravidon.study.solve.scavenging import pump_chart
from gravidon.study.solve.seating import seating
from gravidon.study.solve.wall import walls
from gravidon.study.verdict.drain_choice import both_ways

FED = evaluate(paths.put(demo_plan(), "turbos.0.restrictor.bore_mm", 2.2))
DEMOS = {name: evaluate(demo_plan(name)) for name in NAMES}
AREA = QRectF(0, 0, 754, 420)


def recorded(paint, area: QRectF = AREA) -> list[Written]:  # type: ignore[no-untyped-def]
    """Paint with a painter that writes down its text."""
    device = Recorder(int(area.width()), int(area.height()))
    painter = QPainter(device)
    paint(painter, area)
    painter.end()
    assert device.written
    return device.written


def picture(paint, width: int = 754, height: int = 420) -> np.ndarray:  # type: ignore[no-untyped-def]
    """Paint on sheet; return the pixels."""
    image = QImage(width, height, QImage.Format.Format_RGB32)
    image.fill(LIGHT.color("sheet"))
    painter = QPainter(image)
    paint(painter, QRectF(0, 0, width, height))
    painter.end()
    bits = image.constBits()
    bits.setsize(image.sizeInBytes())
    return np.frombuffer(bits, np.uint8).reshape(height, width, 4)[..., :3].copy()


def all_inside(texts: list[Written], area: QRectF = AREA) -> None:
    for w in texts:
        assert inside(w.rect, area), (w.text, w.rect)


def apart(texts: list[Written], share: float = 0.25) -> None:
    """No two labels cover each other by more than a share of the smaller one."""
    for a, b in itertools.combinations(texts, 2):
        both = a.rect.intersected(b.rect)
        small = min(a.rect.width() * a.rect.height(), b.rect.width() * b.rect.height())
        assert both.width() * both.height() <= share * small + 1.0, (a.text, b.text)


# --- labels ----------------------------------------------------------------------------------


@pytest.mark.parametrize("name", NAMES)
@pytest.mark.parametrize("family", ["imperial", "metric"])
@pytest.mark.parametrize("cut", ["across", "along"])
def test_seat_labels_stay_inside(qtbot: QtBot, name: str, family: str, cut: str) -> None:
    e = DEMOS[name]
    area = QRectF(0, 0, 330, 320)
    for i in range(len(e.names)):
        texts = recorded(
            lambda p, a, i=i: seat_section.paint(
                Ink(p, LIGHT, family), a, e, i, section_of(e, i, cut), seating(e), False
            ),
            area,
        )
        all_inside(texts, area)
        assert any("limit" in w.text for w in texts)


@pytest.mark.parametrize("name", NAMES)
@pytest.mark.parametrize("view", ["front", "side"])
def test_elevation_labels_stay_inside_and_apart(qtbot: QtBot, name: str, view: str) -> None:
    """In every condition; the labels may touch what they name, not each other."""
    e = DEMOS[name]
    area = QRectF(0, 0, 470, 360)
    for i in range(len(e.names)):
        made = elevation_of(e, i, view)  # type: ignore[arg-type]
        frame = elevation.fit(made, area)
        texts = recorded(
            lambda p, a, i=i, m=made, f=frame: elevation.paint(Ink(p, LIGHT, "metric"), a, f, e, i, m), area
        )
        own = [w for w in texts if "freeboard" not in w.text and "seal line" not in w.text]
        all_inside([w for w in texts if w.rect.intersects(area)], area.adjusted(-60, 0, 60, 0))
        apart(
            [
                w
                for w in own
                if any(k in w.text for k in ("falls", "climbs", "narrows", "runs full", "stay lying"))
            ]
        )


@pytest.mark.parametrize("name", ["estate", "van"])
def test_wall_labels_stay_inside(qtbot: QtBot, name: str) -> None:
    e = DEMOS[name]
    sides = walls(e.plan, "right" if name == "estate" else "front")
    maps = [entry_map(e, wall, 10, 5) for wall in sides]
    for i in (0, 6, 9):
        texts = recorded(
            lambda p, a, i=i: pan_face.paint(Ink(p, DARK, "imperial"), a, e, i, sides, maps, True, True)
        )
        all_inside(texts)


@pytest.mark.parametrize("name", NAMES)
@pytest.mark.parametrize("family", ["imperial", "metric"])
def test_breather_and_scavenge_labels_stay_inside(qtbot: QtBot, name: str, family: str) -> None:
    e = DEMOS[name]
    choice, ways = breather_choice(e.plan), both_ways(e)
    half = QRectF(0, 0, 370, 400)
    for i in range(len(e.names)):
        for paint in (
            lambda p, a, i=i: breather_chart.paint_scheme(Ink(p, LIGHT, family), a, e, i),
            lambda p, a, i=i: breather_chart.paint_chart(Ink(p, LIGHT, family), a, e, choice, i),
            lambda p, a, i=i: scavenge_chart.paint_pump(
                Ink(p, LIGHT, family),
                a,
                e,
                pump_chart(e.plan, e.line, e.drainage.froth, e.scavenging.volts, i),
                i,
            ),
            lambda p, a, i=i: scavenge_chart.paint_circuit(Ink(p, LIGHT), a, e),
        ):
            all_inside(recorded(paint, half), half)
    cards = QRectF(0, 0, 754, 84)
    all_inside(
        recorded(
            lambda p, a: scavenge_chart.paint_ways(Ink(p, LIGHT, family), a, ways, "gravity", 10), cards
        ),
        cards,
    )


@pytest.mark.parametrize("name", NAMES)
def test_strip_levels_and_pan_labels_stay_inside(qtbot: QtBot, name: str) -> None:
    e = DEMOS[name]
    for i in range(len(e.names)):
        strip, glass, pan = QRectF(0, 0, 754, 112), QRectF(0, 0, 754, 180), QRectF(0, 0, 440, 240)
        texts = recorded(lambda p, a, i=i: run_strip.paint(Ink(p, LIGHT, "imperial"), a, e, i), strip)
        all_inside(texts, strip)
        apart(texts)
        all_inside(
            recorded(
                lambda p, a, i=i: pan_levels.paint(Ink(p, LIGHT, "metric"), a, e, levels_at_entry(e), i),
                glass,
            ),
            glass,
        )
        for view in ("side", "front"):
            made = elevation_of(e, i, view)  # type: ignore[arg-type]
            all_inside(
                recorded(
                    lambda p, a, m=made: pan_view.paint(Ink(p, LIGHT, "metric"), a, e, m, None, ("box", 0)),
                    pan,
                ),
                pan,
            )


@pytest.mark.parametrize("name", NAMES)
def test_chain_labels_name_every_joint(qtbot: QtBot, name: str) -> None:
    """Every part's name begins on the drawing, both ends of every joint stand under it, all inside."""
    lines = runs(demo_plan(name))
    area = QRectF(0, 0, 740, chain_chart.height_of(lines))
    texts = recorded(lambda p, a: chain_chart.paint(Ink(p, LIGHT), a, lines, (0, 0)), area)
    all_inside(texts, area)
    words = " ".join(w.text for w in texts)
    for run in lines:
        assert run.name in words
        for part in run.parts:
            assert part.name.split()[0] in words
    bad = sum(len(run.bad) for run in lines)
    assert sum(w.text == "leaks" for w in texts) == bad


def test_the_dial_names_conditions_and_directions(qtbot: QtBot) -> None:
    made = envelope(FED, 3, 24)
    texts = recorded(
        lambda p, a: envelope_chart.paint(Ink(p, LIGHT), a, FED, made, True, 3, None, None),
        QRectF(0, 0, 460, 390),
    )
    words = {w.text for w in texts}
    assert {"launch", "braking", "left turn", "right turn", "hard left, 6 s"} <= words


# --- scales ----------------------------------------------------------------------------------


@given(clock=st.floats(-175, 175), pitch=st.floats(-85, 85))
def test_a_handle_asks_for_the_angle_it_stands_at(clock: float, pitch: float) -> None:
    """Placing the handle and reading its angle are inverse, in both cuts."""
    plan = paths.put(demo_plan(), "turbos.0.turbo.clock_deg", Known(value=clock))
    plan = paths.put(plan, "turbos.0.turbo.pitch_deg", Known(value=pitch))
    e = evaluate(plan)
    for cut, angle in (("across", clock), ("along", pitch)):
        made = section_of(e, 0, cut)  # type: ignore[arg-type]
        assert seat_section.handle_angle(made, seat_section.handle_place(made)) == pytest.approx(
            angle, abs=1e-6
        )


@pytest.mark.parametrize("name", ["right", "left", "front", "rear"])
@given(along=st.floats(-0.4, 0.4), up=st.floats(-0.15, 0.0))
def test_a_place_on_the_wall_reads_back(name: str, along: float, up: float) -> None:
    frame = pan_face.frame_in(AREA, walls(demo_plan(), name))
    assert frame.back(frame.at(along, up)) == pytest.approx((along, up), abs=1e-9)


def test_walls_are_seen_from_outside() -> None:
    """Facing the car's right side its front is at the right; facing the left side, at the left; from the front,
    the car's left is at the right (ISO 8855 axes, plain looking)."""
    for name, sign in (("right", 1), ("left", -1), ("front", 1), ("rear", -1)):
        frame = pan_face.frame_in(AREA, walls(demo_plan(), name))
        step = frame.at(0.1, 0.0).x() - frame.at(0.0, 0.0).x()
        assert np.sign(step) == sign
        assert frame.at(0.0, 0.1).y() < frame.at(0.0, 0.0).y()


@given(ahead=st.floats(-1.4, 1.4), left=st.floats(-1.4, 1.4))
def test_the_dial_reads_back(ahead: float, left: float) -> None:
    dial = envelope_chart.Dial(AREA)
    assert dial.back(dial.at(ahead, left)) == pytest.approx((ahead, left), abs=1e-9)


def test_a_launch_is_up_and_a_left_turn_left_on_the_dial() -> None:
    dial = envelope_chart.Dial(AREA)
    assert dial.at(0.5, 0.0).y() < dial.centre.y()
    assert dial.at(0.0, 0.5).x() < dial.centre.x()


@given(values=st.lists(st.floats(-1, 1), min_size=40, max_size=200), step=st.integers(2, 9))
def test_a_thinned_curve_keeps_its_peaks(values: list[float], step: int) -> None:
    """Lowest and highest of the kept blocks are on the curve that is drawn."""
    data = np.array(values)
    axes = Axes(QRectF(0, 0, 500, 100), 0.0, float(len(data)), -1.0, 1.0)
    curve = replay_chart._curve(axes, np.arange(0, len(data), step, dtype=float), data, step)
    ys = [curve.at(k).y() for k in range(curve.count())]
    kept = data[: len(data) // step * step]
    assert min(ys) == pytest.approx(axes.y(float(kept.max())), abs=1e-6)
    assert max(ys) == pytest.approx(axes.y(float(kept.min())), abs=1e-6)


def test_glasses_and_cards_do_not_overlap() -> None:
    for count in (1, 10, 17):
        cells = [pan_levels.column_rect(AREA, k, count) for k in range(count)]
        inner = [c.adjusted(0.01, 0, -0.01, 0) for c in cells]
        assert all(not a.intersects(b) for a, b in itertools.combinations(inner, 2))
        assert all(AREA.contains(c) for c in inner)
    assert not scavenge_chart.card_rect(AREA, 0).intersects(scavenge_chart.card_rect(AREA, 1))


@pytest.mark.parametrize("name", NAMES)
def test_joints_are_evenly_spaced_in_order(name: str) -> None:
    for row, run in enumerate(runs(demo_plan(name))):
        xs = [p.x() for p in chain_chart.joint_spots(AREA, run, row)]
        assert xs == sorted(xs)
        assert np.ptp(np.diff(xs)) < 1e-6 if len(xs) > 2 else True


# --- pictures that show what they claim ------------------------------------------------------


def amber(pixels: np.ndarray) -> int:
    """How many pixels are of oil's hue (blue channel far below red; Qt's order is BGR)."""
    b, g, r = (pixels[..., k].astype(int) for k in range(3))
    return int(((r - b > 60) & (g > b + 20) & (r > g)).sum())


def test_a_fuller_strip_has_more_oil(qtbot: QtBot) -> None:
    """Condition by condition, the strip's amber follows the mean fill that was computed."""
    order = np.argsort([float(np.mean(FED.drainage.backwater.fill[:, i])) for i in range(len(FED.names))])
    counts = [
        amber(picture(lambda p, a, i=i: run_strip.paint(Ink(p, LIGHT, "metric"), a, FED, i), 754, 112))
        for i in (order[0], order[-1])
    ]
    assert counts[0] < counts[1]


def test_bores_on_the_strip_are_to_scale(qtbot: QtBot) -> None:
    """Height of the drawn pipe at the flange against the entry fitting: 12.29 mm to 10.5 mm, within 6 %."""
    e = DEMOS["estate"]
    pixels = picture(lambda p, a: run_strip.paint(Ink(p, LIGHT, "metric"), a, e, 9), 754, 160)
    dark = (pixels.astype(int).sum(axis=2) < 400)[26:126]
    tall = [np.ptp(np.flatnonzero(dark[:, x])) for x in (40, 715)]
    assert tall[0] / tall[1] == pytest.approx(12.29 / 10.5, rel=0.06)


def test_a_wet_seal_is_said_and_drawn(qtbot: QtBot) -> None:
    """'wet' beside the seal exactly where the computation says so."""
    for i in range(len(FED.names)):
        texts = recorded(
            lambda p, a, i=i: seat_section.paint(
                Ink(p, LIGHT, "metric"), a, FED, i, section_of(FED, i, "along"), seating(FED), False
            ),
            QRectF(0, 0, 400, 320),
        )
        wet = sum(w.text.startswith("wet") for w in texts)
        assert wet == int(seating(FED).seal_wet[:, i].sum())


def test_things_are_drawn_where_they_stand(qtbot: QtBot) -> None:
    """The downpipe's wash is at its projected place, and gone when the plan has no downpipe."""

    def at_middle(e: Evaluation) -> np.ndarray:
        made = elevation_of(e, 0, "front")
        frame = elevation.fit(elevation_of(FED, 0, "front"), QRectF(0, 0, 754, 420))
        low = np.array([-330.0, -190.0])
        spot = frame.at(low + np.array([8.0, 20.0]))
        pixels = picture(
            lambda p, a: elevation.paint(Ink(p, LIGHT, "metric"), a, frame, e, 0, made, handles=False)
        )
        return pixels[int(spot.y()), int(spot.x())]

    bare = evaluate(paths.put(FED.plan, "shapes", ()))
    with_pipe, without = at_middle(FED), at_middle(bare)
    sheet = LIGHT.color("sheet")
    assert np.abs(with_pipe.astype(int) - without).max() > 5
    assert without.tolist() == pytest.approx([sheet.blue(), sheet.green(), sheet.red()], abs=2)


def test_a_stale_wall_map_is_paler(qtbot: QtBot) -> None:
    """While the shading is being worked out again it is drawn pale, and a line says so."""
    sides = walls(FED.plan, "right")
    maps = [entry_map(FED, wall, 10, 5) for wall in sides]
    texts = recorded(
        lambda p, a: pan_face.paint(Ink(p, LIGHT, "metric"), a, FED, 0, sides, maps, False, False)
    )
    assert any("worked out again" in w.text for w in texts)
    fresh, stale = (
        picture(lambda p, a, f=f: pan_face.paint(Ink(p, LIGHT, "metric"), a, FED, 9, sides, maps, f, False))
        for f in (True, False)
    )
    assert (fresh != stale).any()


def test_wet_spells_are_shaded_on_the_drive(qtbot: QtBot) -> None:
    """A column in the middle of a spell differs from one in a dry stretch over the whole track's height."""
    text = demo_drive()
    *_, drive = replay(FED, read_log(text, guess_mapping(headings(text))))
    pixels = picture(lambda p, a: replay_chart.paint(Ink(p, LIGHT, "metric"), a, drive, 0.01, None), 754, 200)
    axes = replay_chart.time_axes(QRectF(0, 0, 754, 200), drive)
    spell = max(drive.spells, key=lambda s: s.end_s - s.start_s)
    wet = pixels[60:170, round(axes.x(0.5 * (spell.start_s + spell.end_s)))].astype(int)
    dry = pixels[60:170, round(axes.x(345.0))].astype(int)
    assert np.median(dry.sum(axis=1)) - np.median(wet.sum(axis=1)) > 15


def test_painting_leaves_the_painter_as_it_was(qtbot: QtBot) -> None:
    """Pen, clip and transform after every drawing are those from before it."""
    e = FED
    made = elevation_of(e, 0, "front")
    image = QImage(754, 420, QImage.Format.Format_RGB32)
    painter = QPainter(image)
    before = painter.transform()
    for paint in (
        lambda: elevation.paint(Ink(painter, LIGHT, "metric"), AREA, elevation.fit(made, AREA), e, 0, made),
        lambda: seat_section.paint(
            Ink(painter, LIGHT, "metric"), AREA, e, 0, section_of(e, 0, "along"), seating(e), False
        ),
        lambda: run_strip.paint(Ink(painter, LIGHT, "metric"), AREA, e, 0),
        lambda: chain_chart.paint(Ink(painter, LIGHT), AREA, runs(e.plan), None),
        lambda: breather_chart.paint_scheme(Ink(painter, LIGHT, "metric"), AREA, e, 0),
    ):
        paint()
        assert painter.transform() == before
        assert not painter.hasClipping()
        assert painter.opacity() == 1.0
    painter.end()
