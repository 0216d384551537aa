# SPDX-License-Identifier: GPL-3.0-or-later
"""The first start, step by step: a gate for each, passed by what is measured where it is, by the builder's tick where it is not; and the call to stop.

It looks at readings alone, by their own time, so that a recording gives the same calls as the engine did.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, field

from gravidon.plan.fields import si
from gravidon.plan.model import Plan
from gravidon.study.bench.expected import Band, Expected, channels_of, cranked_s
from gravidon.study.solve.senders import calibration
from gravidon.words.text import N_, Amount, Number, Said, tr

CRANKING_RPM, RUNNING_RPM = 60.0, 500.0
"""[rpm] from which an engine is on its starter, and from which it runs; common practice, no source."""
SEEN_PA = 20e3
"""[Pa] that show that oil has come; common practice, no source."""
SEEN_S, FIRED_S, IDLE_S, LOAD_S = 0.5, 2.0, 20.0, 15.0
"""[s] that a sign must last: oil seen, engine running, idle within its band, load within its band; common practice, no source."""
LATE_SHARE, LATE_S = 1.5, 4.0
"""Oil is late when cranking lasted this many times the planned time, and so many seconds more; common practice, no source."""
REST_AFTER_S = 12.0
"""[s] of cranking without a pause after which the starter wants a rest; common practice, no source."""
NO_PRESSURE_S, OUT_S = 2.0, 3.0
"""[s] with the engine running and no pressure, or pressure under its band, before it is stopped; common practice, no source."""
WARM_K, HOT_K = 333.15, 413.15
"""[K] from which the oil counts as warm, and from which the engine is stopped; common practice, no source."""
LOAD_RPM = 2000.0
"""[rpm] that count as some load at a first start; common practice, no source."""


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
    Step("idle", N_("Idle"), N_("Leave it at idle. Eyes on the joints, hand on the key.")),
    Step("leaks", N_("Look for leaks"), N_("Switch off. Look at feed, drain and entry with a lamp: all dry? Then tick."), True),
    Step("warm", N_("Warm it"), N_("Start again and let the oil come to {warm}.")),
    Step("load", N_("A little load"), N_("Hold {rpm:.0f} rpm and a little more for {seconds:.0f} seconds.")),
    Step("recheck", N_("Off, and look again"), N_("Switch off as the first-start card says. Level, joints, smoke: as they should be? Then tick."), True),
)  # fmt: skip
KEYS = tuple(s.key for s in STEPS)

STOPS: dict[str, str] = {
    "late": N_("No oil at {turbo} after {cranked:.0f} s of cranking; {planned:.0f} s were planned. Do not fire. Crack the feed joint: does oil come to it?"),
    "no-pressure": N_("No oil pressure at {where} with the engine running. Switch off."),
    "low": N_("{where} shows {value} at {rpm:.0f} rpm; the plan expects {low} at least. Switch off."),
    "hot": N_("Oil at {value}. Switch off and let it cool."),
    "fired-dry": N_("The engine runs and no oil has been seen at {turbo}. Switch off."),
}  # fmt: skip
"""What a stop says, by its reason."""

WATCHES: dict[str, str] = {
    "rest": N_("{seconds:.0f} s on the starter: let it rest for half a minute."),
    "high": N_("{where} shows {value}; the plan expects {high} at most. Keep the speed down."),
    "no-speed": N_("The device sends no engine speed; the steps wait for it. Tick what you see yourself, or give it a speed."),
    "silent": N_("No readings come. Look at the gauge, or switch off."),
    "no-sender": N_("Nothing measures the pressure at {turbo}. Crack its feed joint while cranking, and tick when oil comes."),
}  # fmt: skip


@dataclass(frozen=True)
class Sample:
    """One row of readings with volts made pressure: device's time [s], engine speed [rpm], oil [K], pressures [Pa gauge] by channel; nan where not read."""

    time_s: float
    rpm: float
    oil_k: float
    pressures: Mapping[str, float]

    @classmethod
    def of(cls, values: Mapping[str, float]) -> Sample:
        """Make it of a row's channels in SI."""
        nan = math.nan
        pressures = {k: v for k, v in values.items() if k == "gallery" or k.startswith("inlet")}
        return cls(values.get("time", nan), values.get("rpm", nan), values.get("oil", nan), pressures)


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
    silent: bool = False
    _since: dict[str, float] = field(default_factory=dict)
    _turned_s: float = 0.0
    _burst_s: float = 0.0
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

    def replan(self, plan: Plan) -> None:
        """The plan is another: what is planned is worked out anew, what was seen stays."""
        if plan != self.plan:
            self.plan, self._planned = plan, None

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
        speechless = self.last is None or math.isnan(self.last.rpm)
        return speechless or (step.key == "crank" and bool(self._unseen_inlets()))

    def _unseen_inlets(self) -> list[str]:
        have = self.last.pressures if self.last is not None else {}
        return [c for c in self.inlets if c not in have and c not in self.arrived]

    def go_on(self) -> None:
        """The cause of a stop was seen to: take the step at hand again, from cranking on where oil had not come."""
        self.stop = None
        self._since.clear()
        self._turned_s = self._burst_s = 0.0
        if self.at > KEYS.index("crank") and not all(c in self.arrived for c in self.inlets if self._read(c)):
            self.at = KEYS.index("crank")

    def _read(self, channel: str) -> bool:
        return self.last is not None and channel in self.last.pressures

    def _pass(self, when_s: float) -> None:
        self.passed[STEPS[self.at].key] = when_s
        self.at += 1
        for key in KEYS:  # what is wrong goes on counting
            self._since.pop(key, None)

    def _lasts(self, key: str, so: bool, now_s: float) -> float:
        """Return how long something has been so [s]; 0 where it is not."""
        if not so:
            self._since.pop(key, None)
            return 0.0
        return now_s - self._since.setdefault(key, now_s)

    def hear_nothing(self) -> None:
        """No readings come."""
        self.silent = True

    def see(self, sample: Sample) -> None:
        """Take one row of readings."""
        before, self.last, self.silent = self.last, sample, False
        passed_s = sample.time_s - before.time_s if before is not None else 0.0
        passed_s = (
            passed_s if 0.0 < passed_s < 2.0 else 0.0
        )  # a gap, or a clock set anew, is no time on the starter
        turning = sample.rpm >= CRANKING_RPM
        cranking = turning and sample.rpm < RUNNING_RPM
        self._burst_s = self._burst_s + passed_s if cranking else 0.0
        if turning and not all(c in self.arrived for c in self.inlets if c in sample.pressures):
            self._turned_s += passed_s
        self._look_for_oil(sample, turning)
        self._watch = None
        if self.stop is None:
            self.stop = self._stop_now(sample, cranking)
        if self.stop is None:
            self._watch = self._watch_now(sample)
            self._gate(sample, cranking)

    def _look_for_oil(self, sample: Sample, turning: bool) -> None:
        for channel in channels_of(self.plan):
            value = sample.pressures.get(channel, math.nan)
            if channel in self.arrived:
                continue
            if self._lasts(f"oil {channel}", turning and value >= SEEN_PA, sample.time_s) >= SEEN_S:
                self.arrived[channel] = max(self._turned_s - SEEN_S, 0.0)

    def _named(self, channel: str) -> str:
        if channel == "gallery":
            return tr("the gallery")
        k = self.inlets.index(channel)
        return (
            tr("the turbo's inlet")
            if len(self.inlets) == 1
            else tr("the inlet of {label}").format(label=self.plan.turbos[k].turbo.label)
        )

    def _accuracy(self, channel: str) -> float:
        return max(
            (calibration(s).accuracy_pa for s in self.plan.senders if s.channel == channel), default=10e3
        )

    def _stop_now(self, sample: Sample, cranking: bool) -> Call | None:
        running = sample.rpm >= RUNNING_RPM
        now = sample.time_s
        if cranking and self.at <= KEYS.index("fire"):
            for channel, planned in zip(self.inlets, self.planned_s, strict=True):
                late = LATE_SHARE * planned + LATE_S
                if channel in sample.pressures and channel not in self.arrived and self._turned_s > late:
                    return self._call(
                        "stop",
                        "late",
                        {"turbo": self._named(channel), "cranked": self._turned_s, "planned": planned},
                    )
        for channel in channels_of(self.plan):
            value = sample.pressures.get(channel, math.nan)
            dry = running and value < SEEN_PA
            wait = si(self.plan.needs, "prime_s") if channel not in self.arrived else NO_PRESSURE_S
            if self._lasts(f"dry {channel}", dry, now) > wait:
                reason = "no-pressure" if channel in self.arrived else "fired-dry"
                return self._call(
                    "stop", reason, {"where": self._named(channel), "turbo": self._named(channel)}
                )
            if (
                self._lasts(
                    f"low {channel}",
                    running and self._place(channel, sample) == "low",
                    now,
                )
                > OUT_S
            ):
                band = self._band(channel, sample)
                return self._call(
                    "stop",
                    "low",
                    {
                        "where": _sentence(self._named(channel)),
                        "value": Amount(value, "kpa"),
                        "rpm": sample.rpm,
                        "low": Amount(max(band.low_pa - self._accuracy(channel), 0.0), "kpa"),
                    },
                )
        if self._lasts("hot", running and sample.oil_k > HOT_K, now) > OUT_S:
            return self._call("stop", "hot", {"value": Amount(sample.oil_k, "degc")})
        return None

    def _band(self, channel: str, sample: Sample) -> Band:
        """Return a channel's band now; one that everything lies in where there are no bands."""
        if self.bands is None:
            return Band(-math.inf, math.nan, math.inf)
        return self.bands.at(channel, sample.rpm, sample.oil_k)

    def _place(self, channel: str, sample: Sample) -> str:
        """Return where a channel lies against its band; "in" where nobody can say."""
        value = sample.pressures.get(channel, math.nan)
        if (
            self.bands is None
            or not (math.isfinite(value) and math.isfinite(sample.oil_k))
            or channel not in self.arrived
        ):
            return "in"
        return str(self._band(channel, sample).place(value, self._accuracy(channel)))

    def place(self, channel: str) -> str:
        """Return where a channel's last reading lies against its band: "low", "in" or "high"; empty where there is none."""
        it = self.last
        if it is None or self.bands is None or not math.isfinite(it.pressures.get(channel, math.nan)):
            return ""
        return self._place(channel, it)

    def _watch_now(self, sample: Sample) -> Call | None:
        if math.isnan(sample.rpm):
            return self._call("watch", "no-speed", {})
        if self._burst_s > REST_AFTER_S:
            return self._call("watch", "rest", {"seconds": self._burst_s})
        if sample.rpm >= RUNNING_RPM:
            for channel in channels_of(self.plan):
                high = self._place(channel, sample) == "high"
                if self._lasts(f"high {channel}", high, sample.time_s) > OUT_S:
                    band = self._band(channel, sample)
                    value = Amount(sample.pressures[channel], "kpa")
                    numbers: dict[str, Number] = {"where": _sentence(self._named(channel)), "value": value}
                    return self._call("watch", "high", {**numbers, "high": Amount(band.high_pa, "kpa")})
        unseen = self._unseen_inlets()
        if unseen and self.step is not None and self.step.key == "crank":
            return self._call("watch", "no-sender", {"turbo": self._named(unseen[0])})
        return None

    def _gate(self, sample: Sample, cranking: bool) -> None:
        """Pass the step at hand if what it waits for was measured."""
        step, now = self.step, sample.time_s
        if step is None or step.ticked:
            return
        running = sample.rpm >= RUNNING_RPM
        fine = running and all(self._place(c, sample) != "low" for c in channels_of(self.plan))
        seen = all(c in self.arrived for c in self.inlets)
        if step.key == "crank":
            open_gate = seen
        elif step.key == "fire":
            open_gate = self._lasts("fire", running, now) >= FIRED_S
        elif step.key == "idle":
            open_gate = self._lasts("idle", fine, now) >= IDLE_S
        elif step.key == "warm":
            open_gate = fine and sample.oil_k >= WARM_K
        else:
            open_gate = self._lasts("load", fine and sample.rpm >= LOAD_RPM, now) >= LOAD_S
        if open_gate:
            self._pass(now)

    def share(self) -> float:
        """Return how far the step at hand is, 0 to 1; nan where only a tick passes it."""
        step, it = self.step, self.last
        if step is None:
            return 1.0
        if step.ticked or it is None:
            return math.nan
        lasts = {"fire": FIRED_S, "idle": IDLE_S, "load": LOAD_S}
        if step.key in lasts:
            since = self._since.get(step.key)
            return 0.0 if since is None else min((it.time_s - since) / lasts[step.key], 1.0)
        if step.key == "warm":
            return min(max((it.oil_k - 288.15) / (WARM_K - 288.15), 0.0), 1.0)
        longest = max(self.planned_s)
        return min(self._turned_s / longest, 1.0) if math.isfinite(longest) and longest > 0.0 else 0.0

    def call(self) -> Call:
        """Return what is to be said now."""
        if self.stop is not None:
            return self.stop
        step = self.step
        if step is None:
            return Call("done", "", Said(N_("The first start is done. Drive gently, and keep a log."), {}))
        if self.silent and self.last is not None and self.last.rpm >= CRANKING_RPM:
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
