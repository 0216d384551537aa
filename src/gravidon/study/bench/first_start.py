# SPDX-License-Identifier: GPL-3.0-or-later
"""The first start, step by step: a gate for each, passed by what is measured where it is, by the builder's tick where it is not; and the call to stop.

It looks at readings alone, by their own time, so that a recording gives the same calls as the engine did.
"""

from __future__ import annotations

import math
from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field

from gravidon.plan.fields import si
from gravidon.plan.model import Plan
from gravidon.study.bench.expected import Band, Expected, channels_of, cranked_s
from gravidon.study.bench.witness import FRESH_OIL_S, FRESH_S, LEAP_S, Channel, Clock, Signs
from gravidon.study.car.script import CRANK_RPM
from gravidon.study.solve.senders import calibration
from gravidon.words.text import N_, Amount, Number, Said, tr

STANDS_RPM, CRANKING_RPM, RUNNING_RPM = 50.0, 60.0, 500.0
"""[rpm] under which an engine stands, from which it is on its starter, and from which it runs; common practice, no source."""
SEEN_PA = 20e3
"""[Pa] that show that oil has come, at least; common practice, no source."""
SEEN_ERRORS = 2.0
"""How many times its sender's error a pressure must rise over what it showed with the engine standing, before oil counts as come; common practice, no source."""
SEEN_SHARE = 0.5
"""[-] of the pressure planned on the starter that is enough in any case; project choice."""
SEEN_S, FIRED_S, IDLE_S, WARM_S, LOAD_S = 0.5, 2.0, 20.0, 2.0, 15.0
"""[s] that a sign must last: oil seen, engine running, idle within its band, oil warm, load within its band; common practice, no source."""
LATE_SHARE, LATE_S = 1.5, 4.0
"""Oil is late when cranking lasted this many times the planned time, and so many seconds more; common practice, no source."""
REST_AFTER_S = 12.0
"""[s] of cranking without a pause after which the starter wants a rest; common practice, no source."""
NO_PRESSURE_S, FIRED_DRY_S, UNDERWAY_S, OUT_S = 2.0, 3.0, 5.0, 3.0
"""[s] with the engine running before it is stopped: no pressure where oil had come, none where it never came, none at a turbo to which the gallery already presses
oil, pressure under its band; common practice, no source."""
LOST_S, SILENT_S = 2.0, 4.0
"""[s] with the engine running before it is stopped: after a reading that watched it is known to be lost, and with no row at all; common practice, no source."""
FADES = 0.1
"""[-] how fast a fault that is gone for the moment is forgotten, against how fast it counts; project choice."""
FLICKER_S, ASSUMED_S = 0.4, 6.0
"""[s] of no pressure that are told, and of pressure with no engine speed after which the engine is taken to run; project choices."""
AHEAD_S = 1.0
"""[s] by which oil at a turbo may show before the gallery's gauge does; project choice."""
HEAD_PA = 5e3
"""[Pa] that a turbo lower than the gallery may show more: half a metre of oil."""
WARM_K, HOT_K = 333.15, 413.15
"""[K] from which the oil counts as warm, and from which the engine is stopped; common practice, no source."""
LOAD_RPM = 2000.0
"""[rpm] that count as some load at a first start; common practice, no source."""


SENDER = {
    "unread": N_("never read"),
    "lost": N_("reading lost"),
    "stuck": N_("does not move"),
    "gap": N_("drops out"),
    "zero": N_("off its zero"),
    "swapped": N_("over gallery"),
    "rests": N_("zero at rest"),
    "moves": N_("follows engine"),
}
"""What is said of a sender, by what can be believed of it, worst first; few words, for they stand beside a strip."""
SOUND = ("", "rests", "moves")


@dataclass(frozen=True)
class Step:
    """A step of the first start: key, title, the one thing to do, and whether the builder ticks it."""

    key: str
    title: str
    do: str
    ticked: bool = False


STEPS: tuple[Step, ...] = (
    Step("fill", N_("Fill"), N_("Oil to the mark, the filter filled. Fuel off. Extinguisher at hand."), True),
    Step("prime", N_("Prime by hand"), N_("Oil into the turbo's inlet, turn its shaft by hand, close the joint."), True),
    Step("crank", N_("Crank, do not fire"), N_("Crank in bursts of ten seconds, half a minute of rest between, until pressure shows at the turbo.")),
    Step("fire", N_("Fire"), N_("Fuel on. Start it, and keep it at idle.")),
    Step("idle", N_("Idle"), N_("Leave it at idle; a rebuilt engine goes by its builder's break-in first. Eyes on the joints, hand on the key.")),
    Step("leaks", N_("Look for leaks"), N_("Switch off. Look at feed, drain and entry with a lamp: all dry? Then tick."), True),
    Step("warm", N_("Warm it"), N_("Start again and let the oil come to {warm}.")),
    Step("load", N_("A little load"), N_("Hold {rpm:.0f} rpm and a little more for {seconds:.0f} seconds.")),
    Step("recheck", N_("Off, and look again"), N_("Switch off as the first-start card says. Level, joints, smoke: as they should be? Then tick."), True),
)  # fmt: skip
KEYS = tuple(s.key for s in STEPS)
BY_WORD = ("idle", "load")
"""Steps at which the engine runs by the builder's own word, where nobody measures its speed."""

STOPS: dict[str, str] = {
    "late": N_("No oil at {turbo} after {cranked:.0f} s of cranking; {planned:.0f} s were planned. Do not fire. Crack the feed joint: does oil come to it?"),
    "no-pressure": N_("No oil pressure at {where} with the engine running. Switch off."),
    "low": N_("{where} shows {value} at {rpm:.0f} rpm; the plan expects {low} at least. Switch off."),
    "hot": N_("Oil at {value}. Take the load off, let it idle a minute if the pressure is good, then switch off and let it cool."),
    "fired-dry": N_("The engine runs and no oil has been seen at {turbo}. Switch off."),
    "unwatched": N_("{where} is read no more, and the engine runs unwatched. Switch off; look at its plug and wire."),
    "silence": N_("No readings for {seconds:.0f} s, and the engine runs unwatched. Switch off."),
}  # fmt: skip
"""What a stop says, by its reason."""

WATCHES: dict[str, str] = {
    "rest": N_("{seconds:.0f} s on the starter: let it rest for half a minute."),
    "high": N_("{where} shows {value}; the plan expects {high} at most. Keep the speed down."),
    "no-speed": N_("The device sends no engine speed; the steps wait for it. Tick what you see yourself, or give it a speed."),
    "silent": N_("No readings come. Look at the gauge, or switch off."),
    "clock": N_("The device's clock stands still or jumped; its readings go on by this computer's time. Steps wait until it runs."),
    "lost": N_("{where} is read no more: look at its plug and wire. Steps wait for it."),
    "stuck": N_("{where} has not moved at all for {seconds:.0f} s: a sender that sticks? Steps wait for it."),
    "swapped": N_("{where} shows more than the gallery that feeds it: are the two senders swapped?"),
    "zero": N_("{where} shows {value} with the engine standing: take its zero at Senders first."),
    "flicker": N_("{where} falls to nothing for moments: does the pickup take air? Switch off if it does so again."),
    "no-turn": N_("There is pressure and no engine speed: is its wire off? Watch the gauge; the steps wait for it."),
    "no-pressure-read": N_("Nothing measures the oil pressure. Watch a gauge, and switch off if it falls."),
    "no-sender": N_("Nothing measures the pressure at {turbo}. Crack its feed joint while cranking, and tick when oil comes."),
}  # fmt: skip


@dataclass(frozen=True)
class Sample:
    """One row of readings with volts made pressure: device's time [s], engine speed [rpm], oil [K], pressures [Pa gauge] by channel; nan where not read.
    `raw` is what was sent for a pressure, where that was volts [V]."""

    time_s: float
    rpm: float
    oil_k: float
    pressures: Mapping[str, float]
    raw: Mapping[str, float] = field(default_factory=dict)

    @classmethod
    def of(cls, values: Mapping[str, float], sent: Mapping[str, float] | None = None) -> Sample:
        """Make it of a row's channels in SI, and of the row as it was sent."""
        nan = math.nan
        pressures = {k: v for k, v in values.items() if k == "gallery" or k.startswith("inlet")}
        raw = {k: sent[f"{k}_v"] for k in pressures if f"{k}_v" in sent} if sent else {}
        return cls(values.get("time", nan), values.get("rpm", nan), values.get("oil", nan), pressures, raw)


@dataclass(frozen=True)
class Call:
    """What is said now: "go", "watch", "stop" or "done"; its reason's key (empty for go), and the words."""

    kind: str
    reason: str
    said: Said


@dataclass
class FirstStart:
    """Follows a first start. `plan` and `bands` are what it is held against; everything else is what has been seen.

    Steps are passed in their order; `tick` passes one that the builder looks after, `go_on` takes a stop back after the cause was seen to.
    No gate is passed by a reading that is not there, old, or stuck.
    """

    plan: Plan
    bands: Expected | None = None
    at: int = 0
    stop: Call | None = None
    arrived: dict[str, float] = field(default_factory=dict)
    """By channel: seconds of cranking or running until oil was seen there."""
    passed: dict[str, float] = field(default_factory=dict)
    """By step: the device's time when it was passed (nan: ticked without readings)."""
    last: Sample | None = None
    silent_s: float = 0.0
    """How long nothing has come [s]."""
    rests: dict[str, float] = field(default_factory=dict)
    """By channel: what it showed with the engine standing [Pa]."""
    _clock: Clock = field(default_factory=Clock)
    _signs: Signs = field(default_factory=Signs)
    _rpm: Channel = field(default_factory=Channel)
    _oil: Channel = field(default_factory=lambda: Channel(FRESH_OIL_S))
    _pressures: dict[str, Channel] = field(default_factory=dict)
    _turned_s: float = 0.0
    _burst_s: float = 0.0
    _pressed: bool = False
    _had: set[str] = field(default_factory=set)
    """Channels that showed pressure since the engine runs."""
    _senders: dict[str, tuple[float, float]] = field(default_factory=dict)
    """By channel: its sender's error and full scale [Pa]; inf where no sender of the plan is it."""
    _planned: tuple[float, ...] | None = None
    _watch: Call | None = None

    @property
    def step(self) -> Step | None:
        """The step at hand; None when all are passed."""
        return STEPS[self.at] if self.at < len(STEPS) else None

    @property
    def inlets(self) -> tuple[str, ...]:
        """The channels of the turbos' inlets."""
        return channels_of(self.plan)[1:]

    @property
    def planned_s(self) -> tuple[float, ...]:
        """How long each turbo waits for oil on the starter, as planned for the oil's temperature now [s]."""
        if self._planned is None:
            oil = self.last.oil_k if self.last is not None and math.isfinite(self.last.oil_k) else 288.15
            self._planned = cranked_s(self.plan, oil)
        return self._planned

    @property
    def turned_s(self) -> float:
        """How long the engine has turned before oil was seen everywhere [s]."""
        return self._turned_s

    @property
    def turning(self) -> bool:
        """Whether the engine turns; by its last known speed, or by the step at hand where no speed was ever read."""
        if self._rpm.read:
            return self._speed >= CRANKING_RPM or self._assumed
        return self.at >= KEYS.index("crank")

    @property
    def running(self) -> bool:
        """Whether the engine runs, or has to be taken to: a speed that is read no more stays what it was; pressure without any speed is an engine's."""
        if self._rpm.read:
            return self._speed >= RUNNING_RPM or self._assumed
        return self.step is not None and (
            self.step.key in BY_WORD or (self.step.key == "warm" and self._pressed)
        )

    @property
    def _speed(self) -> float:
        return self._rpm.value if math.isfinite(self._rpm.value) else self._rpm.last

    @property
    def _assumed(self) -> bool:
        return self._signs.of("no-turn") >= ASSUMED_S

    def replan(self, plan: Plan) -> None:
        """The plan is another: what is planned is worked out anew, what was seen stays."""
        if plan != self.plan:
            self.plan, self._planned = plan, None
            self._senders.clear()

    @property
    def takes_a_tick(self) -> bool:
        """Whether the step at hand is passed by the builder's word now."""
        return self.stop is None and self.step is not None and (self.step.ticked or self._blind(self.step))

    def tick(self) -> bool:
        """Pass the step at hand by the builder's word, where a tick is what passes it; return whether it was."""
        if not self.takes_a_tick:
            return False
        self._pass(self.last.time_s if self.last is not None else math.nan)
        return True

    def _blind(self, step: Step) -> bool:
        """Whether nothing measures what a step waits for, so that the builder's word has to do."""
        if (
            self.last is None
            or math.isnan(self.last.rpm)
            or not any(c.read for c in self._pressures.values())
        ):
            return True
        return step.key == "crank" and bool(self._unseen_inlets())

    def _unseen_inlets(self) -> list[str]:
        return [c for c in self.inlets if not self._channel(c).read and c not in self.arrived]

    def _channel(self, name: str) -> Channel:
        return self._pressures.setdefault(name, Channel())

    def go_on(self) -> None:
        """The cause of a stop was seen to: take the step at hand again, from cranking on where oil had not come. What is read no more is not asked for."""
        self.stop = None
        self._signs.clear()
        self._turned_s = self._burst_s = 0.0
        self._pressed = False
        for channel in (self._rpm, self._oil, *self._pressures.values()):
            if channel.lost:
                channel.forget()
        read = [c for c in self.inlets if self._channel(c).read]
        if self.at > KEYS.index("crank") and not all(c in self.arrived for c in read):
            self.at = KEYS.index("crank")

    def _pass(self, when_s: float) -> None:
        self.passed[STEPS[self.at].key] = when_s
        self.at += 1
        self._pressed = False
        self._signs.drop(*KEYS)  # what is wrong goes on counting

    def hear_nothing(self, seconds: float = 2.0) -> None:
        """No readings have come for so long [s]."""
        self.silent_s = seconds
        if self.stop is None and self.running and seconds >= SILENT_S and self.step is not None:
            self.stop = self._call("stop", "silence", {"seconds": seconds})

    def see(self, sample: Sample, host_s: float = math.nan) -> None:
        """Take one row of readings, and when it came by the host's clock [s], where it came from a device."""
        passed_s = self._clock.hear(sample.time_s, host_s)
        self.last, self.silent_s = sample, 0.0
        now = self._clock.now_s
        self._rpm.see(sample.rpm, sample.rpm, now, passed_s, False)
        turning = self.turning
        self._oil.see(sample.oil_k, sample.oil_k, now, passed_s, False)
        for name in channels_of(self.plan):
            value = self._possible(name, sample.pressures.get(name, math.nan))
            self._channel(name).see(value, sample.raw.get(name, value), now, passed_s, turning)
        cranking = turning and self._rpm.read and self._speed < RUNNING_RPM
        counted_s = passed_s if passed_s < LEAP_S else 0.0  # a gap is no time on the starter
        self._burst_s = self._burst_s + counted_s if cranking else 0.0
        read = [c for c in self.inlets if self._channel(c).read]
        if turning and not all(c in self.arrived for c in read):
            self._turned_s += counted_s
        self._rest(turning, passed_s)
        self._look_for_oil(turning, passed_s)
        self._watch = None
        if self.stop is None:
            self.stop = self._stop_now(cranking, passed_s)
        if self.stop is None:
            self._watch = next(self._watches(), None)
            self._gate(min(passed_s, FRESH_S))  # what nobody saw counts for no gate

    def _possible(self, channel: str, value: float) -> float:
        """Return a pressure, or nan where no sender of the plan can show it: an open or shorted wire."""
        error, full = self._sender(channel)
        return (
            value if math.isnan(value) or -0.05 * full - error <= value <= 1.05 * full + error else math.nan
        )

    def _rest(self, turning: bool, passed_s: float) -> None:
        """Learn what each channel shows with the engine standing, before it has turned; and see pressure that stands with no engine speed."""
        for name, channel in self._pressures.items():
            if (
                not turning
                and self._turned_s == 0.0
                and name not in self.arrived
                and math.isfinite(channel.value)
            ):
                self.rests[name] = channel.value
        pressed = any(self._over_rest(c) >= SEEN_PA + self._accuracy(c) for c in self.arrived)
        stands = self._rpm.read and self._speed < STANDS_RPM
        self._signs.add("no-turn", stands and pressed, passed_s, fades=math.inf if not stands else 1.0)
        pressed = not self._rpm.read and any(self._over_rest(c) >= SEEN_PA for c in self._pressures)
        self._pressed = self._pressed or self._signs.add("pressed", pressed, passed_s) >= FIRED_S

    def _over_rest(self, channel: str) -> float:
        """Return what a channel shows over what it showed with the engine standing [Pa], where that was within reason; nan where it is not read."""
        rest = self.rests.get(channel, 0.0)
        return self._channel(channel).value - (rest if self._zero_is_good(channel) else 0.0)

    def _zero_is_good(self, channel: str) -> bool:
        return abs(self.rests.get(channel, 0.0)) <= SEEN_ERRORS * self._accuracy(channel)

    def _rise_pa(self, channel: str) -> float:
        """Return the rise over its rest by which oil has come [Pa]: well over the sender's own error, but no more than a starter can make."""
        error = SEEN_ERRORS * self._accuracy(channel)
        if self.bands is not None:
            oil = self._oil.last if self._oil.read else 288.15
            error = min(error, SEEN_SHARE * self.bands.at(channel, CRANK_RPM, oil).plan_pa)
        return max(error, SEEN_PA)

    def _look_for_oil(self, turning: bool, passed_s: float) -> None:
        for channel in channels_of(self.plan):
            if channel in self.arrived:
                continue
            here = self._channel(channel)
            risen = self._over_rest(channel) >= self._rise_pa(channel)
            came = turning and risen and self._zero_is_good(channel) and not here.stuck
            if self._signs.add(f"oil:{channel}", came, passed_s) >= SEEN_S:
                self.arrived[channel] = max(self._turned_s - SEEN_S, 0.0)

        ahead = any(c in self.arrived for c in self.inlets) and "gallery" not in self.arrived
        self._signs.add("ahead", turning and ahead and self._channel("gallery").read, passed_s, 0.0)

    def _named(self, channel: str) -> str:
        if channel == "rpm":
            return tr("the engine speed")
        if channel == "oil":
            return tr("the oil temperature")
        if channel == "gallery":
            return tr("the gallery")
        k = self.inlets.index(channel)
        return (
            tr("the turbo's inlet")
            if len(self.inlets) == 1
            else tr("the inlet of {label}").format(label=self.plan.turbos[k].turbo.label)
        )

    def _sender(self, channel: str) -> tuple[float, float]:
        if channel not in self._senders:
            found = [s for s in self.plan.senders if s.channel == channel]
            error = max((calibration(s).accuracy_pa for s in found), default=10e3)
            self._senders[channel] = (error, max((si(s, "full_kpa") for s in found), default=math.inf))
        return self._senders[channel]

    def _accuracy(self, channel: str) -> float:
        return self._sender(channel)[0]

    def _gone(self) -> list[str]:
        """Return the channels that were read and are no more, or stick, what watches the engine first."""
        pressures = [n for n in (*self.inlets, "gallery") if self._channel(n).lost or self._channel(n).stuck]
        return [*pressures, *(n for n, c in (("rpm", self._rpm), ("oil", self._oil)) if c.lost)]

    def _unwatched(self) -> str:
        """Return the channel whose loss leaves a turbo unwatched; empty where none does."""
        gone = self._gone()
        for name in self.inlets:
            if name in gone:
                return name
        watched = all(self._channel(n).read for n in self.inlets)
        return "gallery" if "gallery" in gone and not watched else ""

    def _stop_now(self, cranking: bool, passed_s: float) -> Call | None:
        if cranking and self.at <= KEYS.index("fire"):
            for channel, planned in zip(self.inlets, self.planned_s, strict=True):
                late = LATE_SHARE * planned + LATE_S
                if self._channel(channel).read and channel not in self.arrived and self._turned_s > late:
                    return self._call(
                        "stop",
                        "late",
                        {"turbo": self._named(channel), "cranked": self._turned_s, "planned": planned},
                    )
        running = self.running
        for channel in channels_of(self.plan):
            found = self._pressure_stop(channel, running, passed_s)
            if found is not None:
                return found
        gone = self._unwatched()
        if self._signs.add("unwatched", running and bool(gone), passed_s, FADES) > LOST_S and gone:
            return self._call("stop", "unwatched", {"where": _sentence(self._named(gone))})
        if self._signs.add("hot", running and self._oil.value > HOT_K, passed_s, FADES) > OUT_S:
            return self._call("stop", "hot", {"value": Amount(self._oil.value, "degc")})
        return None

    def _pressure_stop(self, channel: str, running: bool, passed_s: float) -> Call | None:
        """Count on what is wrong with one pressure, and return the stop it calls for."""
        came = channel in self.arrived
        dry = running and self._over_rest(channel) < SEEN_PA
        underway = channel in self.inlets and self._over_rest("gallery") >= SEEN_PA
        never_came = min(UNDERWAY_S if underway else FIRED_DRY_S, si(self.plan.needs, "prime_s"))
        wait = NO_PRESSURE_S if came else never_came
        if self._signs.add(f"dry:{channel}", dry, passed_s, FADES) > wait:
            reason = "no-pressure" if came else "fired-dry"
            return self._call("stop", reason, {"where": self._named(channel), "turbo": self._named(channel)})
        self._signs.add(f"gap:{channel}", dry and channel in self._had, passed_s, FADES)
        if not running:
            self._had.discard(channel)
        elif not dry:
            self._had.add(channel)
        low = running and self._place(channel) == "low"
        high = running and self._place(channel) == "high"
        self._signs.add(f"high:{channel}", high, passed_s, FADES)
        swapped = running and channel in self.inlets and self._over_gallery(channel)
        self._signs.add(f"swapped:{channel}", swapped, passed_s, 1.0)
        if self._signs.add(f"low:{channel}", low, passed_s, 1.0) <= OUT_S:
            return None
        least = max(self._band(channel).low_pa - self._accuracy(channel), 0.0)
        return self._call(
            "stop",
            "low",
            {
                "where": _sentence(self._named(channel)),
                "value": Amount(self._channel(channel).value, "kpa"),
                "rpm": self._speed,
                "low": Amount(least, "kpa"),
            },
        )

    def _over_gallery(self, inlet: str) -> bool:
        more = self._over_rest(inlet) - self._over_rest("gallery")
        return more > self._accuracy(inlet) + self._accuracy("gallery") + HEAD_PA

    def _band(self, channel: str) -> Band:
        """Return a channel's band now; one that everything lies in where there are no bands. Where the oil's temperature is not known, all it may be."""
        if self.bands is None:
            return Band(-math.inf, math.nan, math.inf)
        if math.isfinite(self._oil.value):
            return self.bands.at(channel, self._speed, self._oil.value)
        return self.bands.from_oil(channel, self._speed, self._oil.last if self._oil.read else -math.inf)

    def _place(self, channel: str) -> str:
        """Return where a channel lies against its band: "low", "in" or "high"; empty where nobody can say."""
        value = self._channel(channel).value
        if self.bands is None or channel not in self.arrived or not math.isfinite(value + self._rpm.value):
            return ""
        return str(self._band(channel).place(value, self._accuracy(channel)))

    def place(self, channel: str) -> str:
        """Return where a channel's readings lie against its band: "low", "in" or "high"; empty where there are none."""
        return self._place(channel)

    def sender(self, name: str) -> str:
        """Return what can be believed of a pressure's sender: a key of SENDER, what is worst first; empty before anything was shown."""
        channel = self._channel(name)
        if not channel.read:
            return "unread" if self._rpm.read else ""
        wrong = (
            ("lost", channel.lost),
            ("stuck", channel.stuck),
            ("gap", self._signs.of(f"gap:{name}") > FLICKER_S),
            ("zero", not self._zero_is_good(name)),
            ("swapped", self._signs.of(f"swapped:{name}") > SEEN_S),
        )
        return next((key for key, so in wrong if so), "moves" if name in self.arrived else "rests")

    def _watches(self) -> Iterator[Call]:
        """Yield what is to be told, the gravest first."""
        turned = self.at >= KEYS.index("crank")
        for name in channels_of(self.plan):
            if self._signs.of(f"gap:{name}") > FLICKER_S:
                yield self._call("watch", "flicker", {"where": _sentence(self._named(name))})
        if self._clock.odd:
            yield self._call("watch", "clock", {})
        for name in self._gone():
            channel = {"rpm": self._rpm, "oil": self._oil}.get(name) or self._channel(name)
            numbers: dict[str, Number] = {"where": _sentence(self._named(name)), "seconds": channel.still_s}
            yield self._call("watch", "lost" if channel.lost else "stuck", numbers)
        if turned and not self._rpm.read:
            yield self._call("watch", "no-speed", {})
        yield from filter(None, map(self._pressure_watch, channels_of(self.plan)))
        if self._assumed:
            yield self._call("watch", "no-turn", {})
        if self._burst_s > REST_AFTER_S:
            yield self._call("watch", "rest", {"seconds": self._burst_s})
        if self.running and not any(c.read for c in self._pressures.values()):
            yield self._call("watch", "no-pressure-read", {})
        unseen = self._unseen_inlets()
        if unseen and self.step is not None and self.step.key == "crank":
            yield self._call("watch", "no-sender", {"turbo": self._named(unseen[0])})

    def _pressure_watch(self, name: str) -> Call | None:
        """Return what is to be told of one pressure that is read."""
        where: dict[str, Number] = {"where": _sentence(self._named(name))}
        ahead = name in self.inlets and self._signs.of("ahead") > AHEAD_S
        if self._signs.of(f"swapped:{name}") > SEEN_S or (ahead and name in self.arrived):
            return self._call("watch", "swapped", where)
        if not self._zero_is_good(name):
            return self._call("watch", "zero", {**where, "value": Amount(self.rests[name], "kpa")})
        if self._signs.of(f"high:{name}") > OUT_S:
            value, most = self._channel(name).value, self._band(name).high_pa
            return self._call(
                "watch", "high", {**where, "value": Amount(value, "kpa"), "high": Amount(most, "kpa")}
            )
        return None

    def _sound(self) -> bool:
        """Whether what is read can pass a gate: every channel that was ever read is there and moves, and the device's clock runs."""
        wrong = ("gap:", "swapped:")
        odd = any(s > FLICKER_S and k.startswith(wrong) for k, s in self._signs.lasts_s.items())
        return not (self._clock.odd or self._gone() or odd or math.isnan(self._rpm.value))

    def _gate(self, passed_s: float) -> None:
        """Pass the step at hand if what it waits for was measured."""
        step = self.step
        if step is None or step.ticked:
            return
        sound = self._sound() and any(c.read for c in self._pressures.values())
        running = sound and self._rpm.value >= RUNNING_RPM
        read = [n for n in channels_of(self.plan) if self._channel(n).read]
        fine = running and all(self._over_rest(n) >= SEEN_PA and self._place(n) != "low" for n in read)
        lasts = self._signs.add
        if step.key == "crank":
            open_gate = sound and all(c in self.arrived for c in self.inlets)
        elif step.key == "fire":
            open_gate = lasts("fire", running, passed_s) >= FIRED_S
        elif step.key == "idle":
            open_gate = lasts("idle", fine, passed_s) >= IDLE_S
        elif step.key == "warm":
            open_gate = lasts("warm", fine and self._oil.value >= WARM_K, passed_s) >= WARM_S
        else:
            open_gate = lasts("load", fine and self._rpm.value >= LOAD_RPM, passed_s) >= LOAD_S
        if open_gate and self.last is not None:
            self._pass(self.last.time_s)

    def share(self) -> float:
        """Return how far the step at hand is, 0 to 1; nan where only a tick passes it."""
        step, it = self.step, self.last
        if step is None:
            return 1.0
        if step.ticked or it is None:
            return math.nan
        lasts = {"fire": FIRED_S, "idle": IDLE_S, "load": LOAD_S}
        if step.key in lasts:
            return min(self._signs.of(step.key) / lasts[step.key], 1.0)
        if step.key == "warm":
            oil = self._oil.value
            return min(max((oil - 288.15) / (WARM_K - 288.15), 0.0), 1.0) if math.isfinite(oil) else 0.0
        longest = max(self.planned_s)
        return min(self._turned_s / longest, 1.0) if math.isfinite(longest) and longest > 0.0 else 0.0

    def call(self) -> Call:
        """Return what is to be said now."""
        if self.stop is not None:
            return self.stop
        step = self.step
        if step is None:
            return Call("done", "", Said(N_("The first start is done. Drive gently, and keep a log."), {}))
        if self.silent_s > 0.0 and self.turning:
            return self._call("watch", "silent", {})
        if self._watch is not None:
            return self._watch
        numbers: dict[str, Number] = {"warm": Amount(WARM_K, "degc"), "rpm": LOAD_RPM, "seconds": LOAD_S}
        return Call("go", "", Said(step.do, numbers))

    @staticmethod
    def _call(kind: str, reason: str, numbers: Mapping[str, Number]) -> Call:
        return Call(kind, reason, Said((STOPS if kind == "stop" else WATCHES)[reason], numbers))


def _sentence(words: str) -> str:
    return words[:1].upper() + words[1:]
