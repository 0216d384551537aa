# SPDX-License-Identifier: GPL-3.0-or-later
"""The session: history, merging, choices, refusals."""

from pathlib import Path

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from pytestqt.qtbot import QtBot

from gravidon.desk.history import MOST_UNDO, SCOPES, History
from gravidon.desk.preferences import MOST_RECENT, Preferences
from gravidon.desk.session import Session
from gravidon.plan import paths
from gravidon.plan.demos import demo_plan
from gravidon.plan.model import OnHand, StepLog
from gravidon.plan.starter import added_turbo


@pytest.fixture
def session(qtbot: QtBot) -> Session:
    made = Session(demo_plan())
    made._timer.stop()
    return made


EDITS = st.lists(
    st.tuples(
        st.sampled_from(["line.restrictor.bore_mm", "line.drain.entry.z_mm", "sump.fill_l", "tap.route_mm"]),
        st.floats(0.3, 11.0),
    ),
    max_size=6,
)


@settings(suppress_health_check=[HealthCheck.function_scoped_fixture], max_examples=15)
@given(EDITS)
def test_undo_takes_everything_back_and_redo_does_it_again(
    session: Session, edits: list[tuple[str, float]]
) -> None:
    """However many edits, taken or refused: undoing all gives the start, redoing all the end."""
    session.replace(demo_plan(), None)
    for path, value in edits:
        session.edit(path, value)
        session._timer.stop()
    end = session.plan
    while session.undo_label():
        session.undo()
    assert session.plan == demo_plan()
    while session.redo_label():
        session.redo()
    assert session.plan == end
    session._timer.stop()


def test_a_drag_is_one_step_and_the_next_drag_another(session: Session) -> None:
    for z in (-41.0, -40.0, -39.0):
        session.edit("line.drain.entry.z_mm", z, "move entry", "drag-entry")
    session.end_merge()
    session.edit("line.drain.entry.z_mm", -30.0, "move entry", "drag-entry")
    session.undo()
    assert session.line.drain.entry.z_mm == -39.0
    session.undo()
    assert session.plan == demo_plan()


def test_a_new_edit_drops_what_was_undone(session: Session) -> None:
    session.edit("line.restrictor.bore_mm", 2.0, "to 2")
    session.undo()
    session.edit("line.restrictor.bore_mm", 3.0, "to 3")
    assert session.redo_label() == ""
    assert session.undo_label() == "to 3"


def test_history_is_bounded() -> None:
    history = History(demo_plan())
    for k in range(MOST_UNDO + 20):
        history.push(history.now.model_copy(update={"name": f"step {k}"}), f"step {k}")
    assert len(history) == MOST_UNDO
    for _ in range(MOST_UNDO + 20):
        history.undo(SCOPES)
    assert history.now.name == "step 20"


def test_drawer_and_ticks_have_their_own_undo() -> None:
    """Going back to an earlier decision leaves what was typed into the drawer and ticked in the build; going back in the
    drawer leaves the decisions."""
    history = History(demo_plan())
    first = paths.put(history.now, "turbos.0.restrictor.bore_mm", 2.0)
    history.push(first, "drill")
    for count in (1.0, 2.0):
        item = OnHand(part="adapter-1-8-npt-male-to-4-flare-male", count=count)
        history.push(paths.put(history.now, "drawer", (item,)), f"drawer {count:g}")
    history.push(paths.put(history.now, "build.done", (StepLog(step="check"),)), "done: check")
    assert history.undo_label(("plan",)) == "drill"
    assert history.undo(("plan",))
    assert history.now.turbos[0].restrictor.bore_mm == demo_plan().turbos[0].restrictor.bore_mm
    assert history.now.drawer[0].count == 2.0
    assert len(history.now.build.done) == 1
    assert not history.undo(("plan",))
    assert history.undo_label(("plan", "drawer")) == "drawer 2"
    assert history.undo(("plan", "drawer"))
    assert history.now.drawer[0].count == 1.0
    assert history.redo(("plan",))
    assert history.now.turbos[0].restrictor.bore_mm == 2.0
    assert history.now.drawer[0].count == 1.0
    assert history.undo_label(SCOPES) == "done: check"


def test_refused_edits_change_nothing_and_say_why(session: Session, qtbot: QtBot) -> None:
    with qtbot.waitSignal(session.refused) as signal:
        assert not session.edit("line.restrictor.bore_mm", -3.0)
    assert "restrictor bore" in signal.args[0]
    assert session.plan == demo_plan()
    assert session.undo_label() == ""


def test_proposing_the_same_plan_is_no_step(session: Session) -> None:
    assert session.propose(demo_plan(), "nothing")
    assert session.undo_label() == ""
    assert not session.unsaved


def test_paths_follow_the_chosen_turbo_and_tap(session: Session) -> None:
    session.propose(added_turbo(session.plan), "two")
    session.choose_turbo(1)
    session.edit("line.restrictor.bore_mm", 2.0)
    assert [t.restrictor.bore_mm for t in session.plan.turbos] == [0.76, 2.0]
    session.edit("tap", 2)
    session.edit("tap.route_mm", 777.0)
    assert session.plan.taps[2].route_mm.value == 777.0
    assert session.resolve("sump.fill_l") == "sump.fill_l"
    session.choose_turbo(7)
    assert session.turbo == 1
    session.undo()
    session.undo()
    session.undo()
    session.undo()
    assert session.turbo == 0  # the second turbo is gone again


def test_conditions_wrap_around_and_survive_removal(session: Session) -> None:
    session.choose_condition(-1)
    assert session.evaluation.names[session.condition] == "key-off"
    session.edit("conditions", session.plan.conditions[:3])
    assert session.condition == 2
    session.choose_condition(3)
    assert session.condition == 0


def test_unsaved_follows_the_file(session: Session, tmp_path: Path) -> None:
    session.edit("line.restrictor.bore_mm", 2.0)
    assert session.unsaved
    session.save(tmp_path / "a.gravidon")
    assert not session.unsaved
    session.undo()
    assert session.unsaved
    session.redo()
    assert not session.unsaved


def test_starting_over_forgets_history(session: Session) -> None:
    session.edit("line.restrictor.bore_mm", 2.0)
    session.replace(demo_plan("van"), None, saved=False)
    assert session.unsaved
    assert session.undo_label() == ""
    assert len(session.evaluation.all) == 2


def test_damaged_preferences_are_forgotten(tmp_path: Path) -> None:
    path = tmp_path / "preferences.json"
    for text in ("", "{", "[1]", '{"family": 7, "recent": "x"}'):
        path.write_text(text)
        preferences = Preferences(path)
        assert preferences.get("family", "imperial") == "imperial"
        assert preferences.recent() == []


def test_recent_files_are_few_and_real(tmp_path: Path) -> None:
    preferences = Preferences(tmp_path / "preferences.json")
    files = []
    for k in range(MOST_RECENT + 3):
        file = tmp_path / f"{k}.gravidon"
        file.write_text("x")
        files.append(file)
        preferences.add_recent(file)
    files[-1].unlink()
    again = Preferences(tmp_path / "preferences.json").recent()
    assert again[0] == files[-2]
    assert len(again) == MOST_RECENT - 1


def test_unwritable_preferences_do_not_stop_anyone(tmp_path: Path) -> None:
    (tmp_path / "file").write_text("in the way")
    preferences = Preferences(tmp_path / "file" / "preferences.json")
    preferences.put("family", "metric")
    assert preferences.get("family", "imperial") == "metric"


def test_path_of_a_missing_turbo_is_an_error_not_a_crash() -> None:
    with pytest.raises((IndexError, AttributeError)):
        paths.get(demo_plan(), "turbos.4.restrictor.bore_mm")
