# SPDX-License-Identifier: GPL-3.0-or-later
"""The one truth of a window: plan, undo history, chosen condition, latest evaluation."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING, Any

from PyQt6.QtCore import QObject, QTimer, pyqtSignal

from gravidon.desk.history import SCOPES, History, Scope
from gravidon.desk.job import Job, busy_beside
from gravidon.draw.photo import image_of
from gravidon.errors import ChangedOnDiskError, GravidonError
from gravidon.plan import paths, storage
from gravidon.plan.fields import Known
from gravidon.plan.model import Plan, TurboLine
from gravidon.plan.units import Family
from gravidon.study.solve.as_bought import as_bought, brought
from gravidon.study.solve.evaluate import Evaluation
from gravidon.study.verdict.certainty import Certainty
from gravidon.study.verdict.chance import LEAST_SAMPLES, chance, known_chance
from gravidon.study.verdict.finding import Finding
from gravidon.study.verdict.remedies import Remedy, tried
from gravidon.study.verdict.trials import Trial, trial
from gravidon.translate import commas
from gravidon.words.text import tr

if TYPE_CHECKING:
    from gravidon.desk.live import LiveFeed
    from gravidon.desk.log_keeper import LogKeeper
    from gravidon.records.entry import Entry
    from gravidon.study.bench.first_start import FirstStart

REMEDY_PAUSE_MS = 250
CHANCE_PAUSE_MS = 1500
"""[ms] after the last remedy is found until the plan's chance is sampled."""
REST_MS = 40
"""[ms] without a step after which a drag is at rest: the rest of the window follows."""
PART_RULES = tr(
    "The parts chosen for this line rule its bores: choose another part, or the shortest chain, at Parts"
)
DRAG = "drag"
"""Merge keys of a drag begin with it."""


def _baffle_inside(plan: Plan, k: int) -> Plan:
    """Return the plan with a baffle that was turned in the middle of the pan: its old place may lie outside."""
    forward = plan.sump.baffles[k].across == "forward"
    lows = [b.corner.x_mm if forward else b.corner.y_mm for b in plan.sump.boxes]
    highs = [
        low + (b.length_mm if forward else b.width_mm) for low, b in zip(lows, plan.sump.boxes, strict=True)
    ]
    at = plan.sump.baffles[k].at_mm
    if min(lows) < at < max(highs):
        return plan
    return paths.put(plan, f"sump.baffles.{k}.at_mm", round(0.5 * (min(lows) + max(highs)), 1))


def _kept_rail(before: Plan, after: Plan, path: str) -> Plan:
    """Return the plan with a box's rail where it was when its depth is typed: the floor moves, as a builder means it."""
    steps = path.split(".")
    if steps[:2] == ["sump", "baffles"] and steps[-1] == "across":
        return _baffle_inside(after, int(steps[2]))
    if steps[:2] != ["sump", "boxes"] or steps[-1] != "depth_mm":
        return after
    k = int(steps[2])
    was, now = before.sump.boxes[k], after.sump.boxes[k]
    floor = round(was.corner.z_mm + was.depth_mm - now.depth_mm, 3)
    return paths.put(after, f"sump.boxes.{k}.corner.z_mm", floor)


class Session(QObject):
    """Holds the state; views connect to its signals and call its verbs."""

    moved = pyqtSignal()
    """A step of a drag: the plan and its evaluation are new; `changed` follows at rest."""
    changed = pyqtSignal()
    condition_changed = pyqtSignal()
    look_changed = pyqtSignal()
    file_changed = pyqtSignal()
    remedies_changed = pyqtSignal()
    chance_changed = pyqtSignal()
    refused = pyqtSignal(str)
    ghost_changed = pyqtSignal()
    """A remedy is looked at, or no longer: `ghost` is what it would make."""
    headline_changed = pyqtSignal()
    """A station's number changed though the plan did not."""
    told = pyqtSignal(str)
    """Something done, or worth knowing, that is no refusal."""

    def __init__(self, plan: Plan, path: Path | None = None, family: Family = "imperial") -> None:
        super().__init__()
        self.path = path
        self.family: Family = family
        self.theme = "light"
        self.follows_system = False
        """Whether the theme is the system's, also when that changes."""
        self.motion = True
        self.paper = ""
        """Name of the paper that sheets are laid out for; empty: the country's usual one."""
        self._history = History(plan)
        self.opened = 0
        """How many plans took the place of the first: which of them is open."""
        self.scopes: tuple[Scope, ...] = SCOPES
        """What undo and redo reach from the page in sight."""
        self._saved: Plan | None = plan
        self.stamp = storage.stamp(path) if path else ""
        """What the plan's file was when it was last read or written here."""
        self.turbo = 0
        self.chosen_sender = 0
        self.first_start: FirstStart | None = None
        """The first start that is followed, once there is one."""
        self.closes = False
        """Whether the logbook, when last looked at, said that the feed closes."""
        self._live: LiveFeed | None = None
        self._log: LogKeeper | None = None
        self.trial: Trial = trial(plan)
        self.condition = self._worst_condition()
        self.ghost: Evaluation | None = None
        self.remedies: dict[str, tuple[Remedy, ...]] = {}
        self.remedies_done = False
        self._search: Any = None
        self.chance = known_chance(plan)
        """How often the plan passes within what is not measured, as far as it is known."""
        self._sampling = Job(self)
        self._sampling.reported.connect(self.take_chance)
        self._later = QTimer(self)
        self._later.setSingleShot(True)
        self._later.setInterval(CHANCE_PAUSE_MS)
        self._later.timeout.connect(self._sample)
        self._timer = QTimer(self)
        self._timer.setSingleShot(True)
        self._timer.timeout.connect(self._search_on)
        self._timer.start(REMEDY_PAUSE_MS)
        self._rest = QTimer(self)
        self._rest.setSingleShot(True)
        self._rest.setInterval(REST_MS)
        self._rest.timeout.connect(self.settle)

    # --- reading ---------------------------------------------------------------------------

    @property
    def evaluation(self) -> Evaluation:
        """The latest evaluation, as the chosen turbo sees it."""
        return self.trial.evaluation.of(self.turbo)

    @property
    def findings(self) -> tuple[Finding, ...]:
        """What is found in the plan as it stands, worst first."""
        return self.trial.findings

    @property
    def verdicts(self) -> tuple[str, ...]:
        """The verdict's word for every condition."""
        return self.trial.words

    @property
    def line(self) -> TurboLine:
        """The chosen turbo's line in the plan."""
        return self.evaluation.line

    def resolve(self, path: str) -> str:
        """Return a plan path: 'line.' stands for the chosen turbo's line, 'tap.' for the chosen tap, 'sender.' for the chosen sender."""
        head, dot, rest = path.partition(".")
        if dot and head == "sender":
            return f"senders.{min(self.chosen_sender, max(len(self.plan.senders) - 1, 0))}.{rest}"
        if dot and head == "line":
            return f"turbos.{self.evaluation.index}.{rest}"
        if dot and head == "tap":
            return f"taps.{self.plan.tap}.{rest}"
        return path

    @property
    def plan(self) -> Plan:
        """The plan as it stands."""
        return self._history.now

    @property
    def unsaved(self) -> bool:
        """Whether the plan differs from its file."""
        return self.plan != self._saved or (self._log is not None and self._log.touched)

    def _worst_condition(self) -> int:
        return next((f.condition_index for f in self.findings if f.condition_index >= 0), 0)

    def undo_label(self) -> str:
        """What undo would take back; empty if nothing."""
        return self._history.undo_label(self.scopes)

    def redo_label(self) -> str:
        """What redo would do again; empty if nothing."""
        return self._history.redo_label(self.scopes)

    @property
    def live(self) -> LiveFeed:
        """The device that is read."""
        if self._live is None:
            from gravidon.desk.live import LiveFeed

            self._live = LiveFeed(self)
            self._live.refused.connect(self.refused)
        return self._live

    @property
    def log(self) -> LogKeeper:
        """The plan's logbook."""
        if self._log is None:
            from gravidon.desk.log_keeper import LogKeeper

            self._log = LogKeeper(self)
            self._log.refused.connect(self.refused)
            self._log.changed.connect(self.headline_changed)
            self._log.begin(self.path)
        return self._log

    # --- editing ---------------------------------------------------------------------------

    def edit(self, path: str, value: Any, label: str = "", merge: str = "") -> bool:
        """Propose one value; return whether it was taken."""
        try:
            place = self.resolve(path)
            plan = _kept_rail(self.plan, paths.put(self.plan, place, value), place)
            if not isinstance(paths.get(self.plan, place), Known):
                plan = paths.with_seen(plan, place)
        except GravidonError as error:
            self.refused.emit(str(error))
            return False
        return self.propose(plan, label or path, merge)

    def propose(self, plan: Plan, label: str, merge: str = "") -> bool:
        """Propose a whole new state; return whether it was taken. Steps with one merge key join.

        A step of a drag (its key begins with DRAG) moves only what is under the hand; the rest follows at rest.
        Where parts are chosen, the plan takes their figures, and a figure typed against them is told of.
        """
        asked, plan = plan, as_bought(plan)
        if plan == self.plan and asked != plan:
            self.refused.emit(PART_RULES)
            return False
        if plan == self.plan:
            return True
        moving = merge.startswith(DRAG)
        try:
            made = trial(plan if moving else paths.checked(plan))
            if not moving:  # a drag waits for rest with what is not under the hand
                _ = made.evaluation.drainage
        except GravidonError as error:
            self.refused.emit(str(error))
            return False
        before = self.plan
        self._history.push(plan, label, merge)
        chosen = [it.parts for it in self.plan.turbos] != [it.parts for it in before.turbos]
        self._take(made, moving=moving)
        if chosen and (words := brought(asked, plan, self.family)):
            self.told.emit(tr("The parts bring their own figures: {words}.").format(words=commas(words)))
        return True

    def end_merge(self) -> None:
        """Close a run of merged steps, so that the next drag is a step of its own."""
        self._history.close()
        if self._rest.isActive():
            self.settle()

    def undo(self) -> None:
        """Take back the last step."""
        if self._history.undo(self.scopes):
            self._take(trial(self.plan))

    def redo(self) -> None:
        """Do the taken-back step again."""
        if self._history.redo(self.scopes):
            self._take(trial(self.plan))

    def apply(self, remedy: Remedy) -> None:
        """Take a remedy's plan."""
        self.propose(remedy.plan, remedy.said.text(self.family))

    def next_step(self) -> tuple[Finding | None, Remedy | None]:
        """Return what comes next, for the band and for its key alike: the worst finding with its first remedy; where it has none, the next grave one that has;
        where none has, the worst with nothing; nothing at all where there is no grave finding."""
        grave = [f for f in self.findings if f.severity != "note"]
        if not grave:
            return None, None
        seen = grave if self.remedies_done else grave[:1]
        helped = next((f for f in seen if self.remedies.get(f.key)), None)
        return (grave[0], None) if helped is None else (helped, self.remedies[helped.key][0])

    def _take(self, made: Trial, moving: bool = False) -> None:
        self.trial = made
        self.turbo = min(self.turbo, len(made.evaluation.all) - 1)
        self.condition = min(self.condition, len(made.evaluation.names) - 1)
        self.remedies, self.remedies_done, self._search = {}, False, None
        self.ghost = None
        self._later.stop()
        self._sampling.cancel()
        self.chance = known_chance(self.plan)
        if moving:
            self._timer.stop()
            self._rest.start()
            self.moved.emit()
        else:
            self.settle()

    def settle(self) -> None:
        """The hand rests: everything shows the plan as it stands."""
        self._rest.stop()
        self._timer.start(REMEDY_PAUSE_MS)
        self.changed.emit()

    # --- remedies: one evaluation per turn of the event loop -------------------------------

    def _search_on(self) -> None:
        if self._search is None:
            self._search = self._all_remedies()
        if next(self._search, None) is None:
            self.remedies_done = True
            self.remedies_changed.emit()
            if self.chance is None:
                self._later.start()
        else:
            self._timer.start(0)

    def _sample(self) -> None:
        """Sample the plan's chance, once nothing that somebody waits for is worked on."""
        plan = self.plan
        if busy_beside(self._sampling):
            self._later.start()
        else:
            self._sampling.start(lambda: chance(plan))

    def take_chance(self, known: Certainty) -> None:
        """Take what is known of the plan's chance so far; the sampling gives way to what somebody waits for."""
        if known.samples >= LEAST_SAMPLES:
            self.chance = known
            self.chance_changed.emit()
        if self._sampling.busy and busy_beside(self._sampling):
            self._sampling.cancel()
            self._later.start()

    def _all_remedies(self) -> Any:
        e = self.trial.evaluation
        for finding in (f for f in self.findings if f.severity != "note"):
            for every in tried(e, finding):
                known = self._allowed(every)
                grown = known != self.remedies.get(finding.key, ())
                self.remedies[finding.key] = known
                if grown:
                    self.remedies_changed.emit()
                yield True

    def _allowed(self, known: tuple[Remedy, ...]) -> tuple[Remedy, ...]:
        """Return the remedies that keep to what the builder has locked."""
        if not self.plan.holds:
            return known
        from gravidon.study.planning.freedom import broken

        return tuple(r for r in known if not broken(self.plan, r.plan, said=True))

    # --- looking ---------------------------------------------------------------------------

    def choose_condition(self, index: int) -> None:
        """Choose the condition that drives every drawing."""
        index = index % len(self.evaluation.names)
        if index != self.condition:
            self.condition = index
            self.condition_changed.emit()

    def look_at(self, remedy: Remedy | None) -> None:
        """Show what a remedy would make of the plan as a ghost; None takes it away."""
        self.ghost = trial(remedy.plan).evaluation.of(self.turbo) if remedy is not None else None
        self.ghost_changed.emit()

    def choose_turbo(self, index: int) -> None:
        """Choose the turbo whose line the stations show."""
        index = min(max(index, 0), len(self.trial.evaluation.all) - 1)
        if index != self.turbo:
            self.turbo = index
            self.changed.emit()

    def set_look(
        self,
        family: Family | None = None,
        theme: str | None = None,
        paper: str | None = None,
        follows_system: bool = False,
    ) -> None:
        """Change units, theme (the builder's own, unless it follows the system), or the paper that sheets are laid out for."""
        if theme is not None:
            self.follows_system = follows_system
        self.paper = paper or self.paper
        self.family = family or self.family
        self.theme = theme or self.theme
        self.look_changed.emit()

    @property
    def kept_log(self) -> Path | None:
        """A logbook that stands beside no plan file and has something in it that is nowhere else."""
        return self._log.path if self._log is not None and self._log.touched else None

    def close(self) -> None:
        """The window closes: let device, logbook and sampling go."""
        self._later.stop()
        self._sampling.leave()
        if self._live is not None:
            self._live.stop()
        if self._log is not None:
            self._log.close()

    # --- files -----------------------------------------------------------------------------

    def replace(
        self,
        plan: Plan,
        path: Path | None,
        saved: bool = True,
        shipped: tuple[Entry, ...] = (),
        log: Path | None = None,
    ) -> None:
        """Start over with another plan, the entries that ship with it, or a logbook that a crash left.

        Raises: GravidonError, nothing changed, if the plan cannot be computed.
        """
        plan = as_bought(plan)
        made = trial(plan)
        for photo in plan.photos:  # taken now, not in a paint
            image_of(photo.picture)
        self._history = History(plan)
        self.opened += 1
        self.path = path
        self.stamp = storage.stamp(path) if path else ""
        self._saved = plan if saved else None
        self.trial = made  # plan and trial belong together before the logbook tells anybody
        self.turbo, self.condition = 0, 0
        if self._log is not None or shipped or log is not None:
            self.log.begin(path, shipped, log)
        self.first_start, self.closes = None, False
        self._take(made)
        self.condition = self._worst_condition()
        self.condition_changed.emit()
        self.file_changed.emit()

    def save(self, path: Path, over: bool = False) -> None:
        """Save; `over` also over what somebody else wrote there since it was read (the backup keeps that).

        Raises: PlanFileError, nothing changed, if the file cannot be written; ChangedOnDiskError if it is no longer
        what was read.
        """
        if path == self.path and not over and storage.stamp(path) not in ("", self.stamp):
            raise ChangedOnDiskError(
                tr("{name} was changed on the disk since it was read here").format(name=path.name)
            )
        storage.save(self.plan, path)
        self.path, self.stamp = path, storage.stamp(path)
        if self._log is not None:
            self._log.moved(path)
        self._saved = self.plan
        self.end_merge()
        self.file_changed.emit()
