# SPDX-License-Identifier: GPL-3.0-or-later
"""The line format, the serial link and the stand-in: what arrived whole is kept, whatever else comes."""

import gzip
import os
import threading
import time
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from gravidon.errors import InputError, PlanFileError
from gravidon.plan import demos
from gravidon.plan.drive_log import guess_mapping, headings
from gravidon.records import recording as recordings
from gravidon.records.channels import CHANNELS, channel_of, heading
from gravidon.records.lines import (
    MOST_LINE,
    Bad,
    Heading,
    LineReader,
    Row,
    checksum,
    heading_line,
    row_line,
)
from gravidon.records.link import Lost, Opened, SerialLink, Silent
from gravidon.records.recording import Recording, Tape
from gravidon.records.stand_in import PseudoPort, StandIn, Timed, play
from gravidon.study.car.car import Scenario, simulate
from gravidon.study.car.script import script_from
from gravidon.study.car.senses import sensed, timed_lines

HEAD = b"time[s],rpm[rpm],oil[degC],inlet[psi]\n"


def rows(events):
    return [e for e in events if isinstance(e, Row)]


def test_a_line_is_read_in_si() -> None:
    """45 psi are 310 264 Pa (1 psi = 6894.757 Pa, NIST SP 811); 100 °C are 373.15 K (ISO 80000-5)."""
    made = rows(LineReader().feed(HEAD + b"1.5,850,100,45\n"))
    assert made[0].values == pytest.approx(
        {"time": 1.5, "rpm": 850.0, "oil": 373.15, "inlet": 310264.08}, abs=0.01
    )


def test_the_checksum_is_the_exclusive_or_of_the_bytes() -> None:
    """Worked by hand: 'AB' is 0x41 xor 0x42 = 0x03."""
    assert checksum("AB") == "03"
    good = f"1.0,850,90,20*{checksum('1.0,850,90,20')}\n".encode()
    reader = LineReader()
    assert len(rows(reader.feed(HEAD + good))) == 1
    spoilt = good.replace(b"850", b"851")
    found = reader.feed(spoilt)
    assert not rows(found)
    assert "checksum" in found[0].why


@given(st.lists(st.integers(1, 40), min_size=1, max_size=40))
def test_it_does_not_matter_how_the_bytes_are_cut(cuts: list[int]) -> None:
    """Half lines wait for their other half: any cutting of the same bytes gives the same rows."""
    data = HEAD + b"".join(f"{k / 10},{800 + k},90,{k}\r\n".encode() for k in range(30))
    whole = LineReader().feed(data)
    reader, pieces, at = LineReader(), [], 0
    for cut in cuts:
        pieces += reader.feed(data[at : at + cut])
        at += cut
    pieces += reader.feed(data[at:])
    assert pieces == whole
    assert len(rows(whole)) == 30


@given(st.binary(max_size=3000))
def test_garbage_breaks_nothing_and_the_next_heading_is_read(noise: bytes) -> None:
    reader = LineReader()
    reader.feed(noise)
    found = reader.feed(b"\n\n" + HEAD + b"2,900,90,30\n")
    assert rows(found)[-1].values["rpm"] == 900.0
    assert len(reader._rest) <= MOST_LINE


@pytest.mark.parametrize(
    ("line", "why"),
    [
        (b"1,2,3\n", "3 values"),
        (b"1,fast,90,20\n", "engine speed"),
        (b"1,850,9000,20\n", "oil temperature"),
        (b",850,90,20\n", "no time"),
        (b"\xff\xfe\xfd\n", "not text"),
        (b"7" * 600 + b"\n", "without an end"),
        (b"1,850,nan,20\n", "oil temperature"),
    ],
)
def test_what_is_wrong_with_a_line_is_said(line: bytes, why: str) -> None:
    reader = LineReader()
    reader.feed(HEAD)
    found = reader.feed(line)
    assert isinstance(found[0], Bad)
    assert why in found[0].why
    assert rows(reader.feed(b"2,850,90,20\n")), "and the next line is read again"


def test_a_line_before_any_heading_and_an_unknown_column() -> None:
    reader = LineReader()
    first = reader.feed(b"1,2,3,4\n")[0]
    assert isinstance(first, Bad)
    head = reader.feed(b"time[ms],boost[bar],rpm[rpm]\n")[0]
    assert head == Heading(("time", "rpm"), ("boost[bar]",))
    assert rows(reader.feed(b"1500,0.8,2500\n"))[0].values == {"time": 1.5, "rpm": 2500.0}


@pytest.mark.parametrize("key", CHANNELS)
def test_every_channel_is_written_and_read_back(key: str) -> None:
    found = channel_of(heading(key))
    assert found is not None
    assert found[0] == key
    value = 300.0 if key == "oil" else 4.0
    keys = ["time", key] if key != "time" else ["time"]
    line = row_line(keys, [1.0, value][-len(keys) :], with_checksum=True)
    made = rows(LineReader().feed(f"{heading_line(keys)}\n{line}\n".encode()))
    assert made[0].values[key] == pytest.approx(value, abs=0.01 if key != "oil" else 0.006)


class Wire:
    """A port in the hand of a test."""

    def __init__(self) -> None:
        self.waiting, self.broken, self.closed = b"", False, False

    @property
    def in_waiting(self) -> int:
        if self.broken:
            raise OSError(5, "Input/output error")
        return len(self.waiting)

    def read(self, size: int) -> bytes:
        data, self.waiting = self.waiting[:size], self.waiting[size:]
        return data

    def close(self) -> None:
        self.closed = True


def test_unplugging_stalling_and_coming_back_are_events() -> None:
    """A scripted port and clock: opened, a row, silence told once, lost, refused once, opened again, rows again."""
    now, wires = [0.0], [Wire(), None, None, Wire()]

    def opener(port: str, baud: int) -> Wire:
        wire = wires.pop(0)
        if wire is None:
            raise OSError(2, "No such file or directory")
        return wire

    link = SerialLink("COM", 115200, opener, lambda: now[0])
    first = wires[0]
    first.waiting = HEAD + b"1,850,90,20\n2,85"
    events = link.poll()
    assert isinstance(events[0], Opened)
    assert len(rows(events)) == 1
    now[0] = 3.0
    assert [type(e) for e in link.poll()] == [Silent]
    assert link.poll() == []
    first.broken = True
    assert [type(e) for e in link.poll()] == [Lost]
    assert first.closed
    assert not link.open
    said = []
    for now[0] in (3.5, 4.1, 5.2, 6.3):
        said += link.poll()
    assert [type(e) for e in said] == [Lost, Opened]
    assert link.open


def test_half_a_line_from_before_is_not_joined_to_what_comes_after() -> None:
    """Unplugged in the middle of a line: its half is dropped, not glued to the first line after."""
    reader = LineReader()
    reader.feed(HEAD + b"1,850,90,2")
    reader.begin_anew()
    assert rows(reader.feed(b"2,860,90,20\n"))[0].values["time"] == 2.0


def test_an_hour_at_fifty_a_second_with_everything_going_wrong() -> None:
    """180 000 rows through unplugging, garbage and stalls: every row whose line was written whole arrives once, in order; the reader holds no more
    than one line."""
    dice = np.random.default_rng(5)
    reader, got, sent = LineReader(), [], []
    reader.feed(HEAD)
    buffer = bytearray()
    for k in range(180_000):
        body = f"{k * 0.02:.2f},{850 + k % 7},90,20"
        buffer += f"{body}*{checksum(body)}\r\n".encode()
        sent.append(k)
        chance = dice.random()
        if chance < 0.001:  # garbage that ends as a line of its own
            buffer += dice.bytes(int(dice.integers(1, 200))).replace(b"\n", b"x") + b"\n"
        elif chance < 0.0015:  # unplugged within the next line, which never was whole
            for event in reader.feed(bytes(buffer)):
                got += [event] if isinstance(event, Row) else []
            buffer = bytearray()
            reader.feed(b"999.9,1")
            reader.begin_anew()
        if len(buffer) > dice.integers(1, 4000):
            cut = int(dice.integers(0, len(buffer)))
            for event in reader.feed(bytes(buffer[:cut])):
                got += [event] if isinstance(event, Row) else []
            del buffer[:cut]
            assert len(reader._rest) <= MOST_LINE
    got += rows(reader.feed(bytes(buffer)))
    assert [round(r.values["time"] / 0.02) for r in got] == sent


def test_a_simulated_car_is_read_from_a_pseudo_terminal() -> None:
    """End to end over the system's own serial layer: all rows of a recording, played as fast as they can be read, arrive and are the same."""
    plan = demos.demo_plan("coupe")
    made = sensed(simulate(Scenario(plan, script_from("off 1, crank 3", plan))), 20.0)
    port = PseudoPort()
    link = SerialLink(port.name)
    tape, heads = Tape(), 0
    link.poll()
    for it in timed_lines(made):
        assert port.write(it.line)
        events = link.poll()
        for _ in range(2000):  # a line is read before the next is written: a wire holds only so much
            if events:
                break
            time.sleep(0.001)
            events = link.poll()
        for event in events:
            heads += isinstance(event, Heading)
            if isinstance(event, Row):
                tape.add(event)
    until = time.monotonic() + 10.0
    while len(tape) < len(made) and time.monotonic() < until:
        for event in link.poll():
            heads += isinstance(event, Heading)
            if isinstance(event, Row):
                tape.add(event)
    link.close()
    port.close()
    back = tape.recording("")
    assert heads >= 1
    assert len(back) == len(made)
    for key, column in made.channels.items():
        assert back.channels[key] == pytest.approx(column, abs=0.01)


def test_the_port_going_away_is_told() -> None:
    port = PseudoPort()
    link = SerialLink(port.name)
    assert isinstance(link.poll()[0], Opened)
    port.close()
    said = []
    until = time.monotonic() + 10.0
    while not said and time.monotonic() < until:
        said += [e for e in link.poll() if isinstance(e, Lost)]
    link.close()
    assert said


def test_nobody_reading_holds_nothing_up() -> None:
    """As on a wire: lines fall away when the other end does not listen; none is waited for."""
    port = PseudoPort()
    written = sum(port.write("x" * 200) for _ in range(2000))
    port.close()
    assert 0 < written < 2000


def test_lines_are_played_when_they_are_due() -> None:
    said: list[str] = []
    play([Timed(0.0, "a"), Timed(1e-3, "b"), Timed(500.0, "c")], said.append, threading.Event(), 0.0)
    assert said == ["a", "b", "c"]
    stop = threading.Event()
    stop.set()
    play([Timed(900.0, "a")], said.append, stop)
    assert len(said) == 3, "a stopped player does not wait for what is due later"


def test_a_stand_in_ends_with_its_lines_and_can_be_closed_before() -> None:
    one = StandIn([Timed(0.0, "a")]).start()
    one._thread.join(10.0)
    assert not one.playing
    one.close()
    other = StandIn([Timed(0.0, "a"), Timed(3600.0, "b")]).start()
    other.close()
    assert not other.playing


@pytest.mark.parametrize("name", ["run.csv", "run.csv.gz"])
def test_a_recording_is_kept_and_read_back(tmp_path: Path, name: str) -> None:
    plan = demos.demo_plan("van")
    made = sensed(simulate(Scenario(plan, script_from("crank 10, idle 20", plan))), 10.0)
    recordings.save(made, tmp_path / name)
    back = recordings.read(tmp_path / name)
    assert set(back.channels) == set(made.channels)
    assert "inlet2_v" in back.channels
    assert back.time_s == pytest.approx(made.time_s, abs=1e-3)
    assert back.channels["inlet2_v"] == pytest.approx(made.channels["inlet2_v"], abs=1e-4)
    if name.endswith("gz"):  # an open format: the standard library's gzip reads it
        assert gzip.decompress((tmp_path / name).read_bytes()).startswith(b"# V6 van")


def test_another_loggers_file_is_read_through_the_mapping() -> None:
    text = "Elapsed (s);RPM;Oil temp (F);Oil press psi\n0;850;212;15\n1;860;212;16\n"
    mapping = guess_mapping(headings(text), CHANNELS)
    made = recordings.from_text(text, "other", mapping)
    assert made.channels["oil"][0] == pytest.approx(373.15)
    assert made.channels["gallery"][1] == pytest.approx(16 * 6894.757, rel=1e-6)
    assert not recordings.is_lines(text)
    assert recordings.is_lines("# remark\n" + HEAD.decode())


def test_rows_out_of_order_are_left_out_and_told() -> None:
    made = recordings.from_text(
        HEAD.decode() + "1,850,90,20\n1,850,90,20\n0.5,850,90,20\n2,850,90,21\nrubbish\n", "x"
    )
    assert len(made) == 2
    assert made.bad_count == 3
    assert made.bad[0].line == 3


@pytest.mark.parametrize("text", ["", "time[s],rpm[rpm]\n", "time[s],rpm[rpm]\n1,850\n"])
def test_a_file_without_rows_is_no_recording(text: str) -> None:
    with pytest.raises(InputError, match="recording"):
        recordings.from_text(text, "empty")


def test_files_that_cannot_be_read_are_named(tmp_path: Path) -> None:
    broken = tmp_path / "broken.csv.gz"
    broken.write_bytes(b"\x1f\x8b" + os.urandom(40))
    for path in (tmp_path / "none.csv", broken):
        with pytest.raises(PlanFileError, match=path.name):
            recordings.read(path)


def test_a_channel_that_comes_later_is_empty_before() -> None:
    tape = Tape()
    tape.add(Row({"time": 5.0, "rpm": 850.0}))
    tape.add(Row({"time": 6.0, "oil": 360.0}))
    made = tape.recording("x")
    assert isinstance(made, Recording)
    assert np.isnan(made.channels["oil"][0])
    assert np.isnan(made.channels["rpm"][1])
    assert made.time_s.tolist() == [0.0, 1.0]
