# SPDX-License-Identifier: GPL-3.0-or-later
"""The build: every step in working order, ticked off with a note and the time it took."""

from __future__ import annotations

import re
from datetime import datetime
from html import escape

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QBrush, QPainter
from PyQt6.QtWidgets import (
    QFrame,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QListWidget,
    QListWidgetItem,
    QProgressBar,
    QPushButton,
    QScrollArea,
    QSplitter,
    QVBoxLayout,
    QWidget,
)

from gravidon.desk.canvas import Canvas
from gravidon.desk.stations.base import FieldGrid, Station
from gravidon.desk.there import there
from gravidon.draw import step_view
from gravidon.parts.chains import ChainJoint
from gravidon.plan.model import StepLog
from gravidon.study.making.sequence import joints_at, progress, sequence
from gravidon.study.making.step import Step
from gravidon.translate import commas, number
from gravidon.words.text import tr, trn


def _joint(j: ChainJoint) -> str:
    return tr("{one} to {other}: {seal}; {tighten}").format(
        one=j.one.text,
        other=j.other.text,
        seal=j.fit.seal or j.fit.why,
        tighten=j.tighten or tr("do not fit it"),
    )


SCHOOLS = (
    ("build.pan", ["pan off", "pan on, grease and a stop"], tr("The pan")),
    ("build.clean", ["flush", "wipe"], tr("After drilling")),
    ("build.sealing", ["liquid sealant", "tape"], tr("Taper threads")),
)


class PlaceCanvas(Canvas):
    """The chosen step's place in the car, or along the feed."""

    station: BuildStation

    def paint(self, painter: QPainter) -> None:
        """Draw it."""
        step = self.station.step()
        if step is not None:
            step_view.paint(self.ink(painter), self.area, self.station.session.evaluation.all, step)


class BuildStation(Station):
    """Do things in the order in which they can be done."""

    key = "build"
    scopes = ("plan", "build")
    question = tr(
        "What comes next? Steps follow what depends on what; those waiting for a part go to the end once the drawer is filled in."
    )
    shows_condition = False
    per_turbo = False
    steps: tuple[Step, ...] = ()

    def build(self) -> None:
        """Schools and progress above, the steps at the left, the chosen one at the right."""
        grid = FieldGrid(self.session, 3)
        for path, options, label in SCHOOLS:
            grid.add_choice(path, options, label)
        self.column.addLayout(grid)
        self.bar = QProgressBar()
        self.bar.setAccessibleName(tr("Steps done"))
        self.column.addWidget(self.bar)
        self.list = QListWidget()
        self.list.setAccessibleName(tr("Steps in working order"))
        self.list.setMinimumWidth(220)
        self.list.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.list.setTextElideMode(Qt.TextElideMode.ElideRight)
        self.list.currentRowChanged.connect(lambda _: self.tell())
        self.list.itemChanged.connect(self._ticked)
        self.split = QSplitter(Qt.Orientation.Horizontal)
        self.split.addWidget(self.list)
        self.split.addWidget(self._chosen_step())
        self.split.setSizes([330, 420])
        self.column.addWidget(self.split, 1)

    def _chosen_step(self) -> QWidget:
        """The chosen step: its place, its words, a note and the minutes."""
        side = QWidget()
        column = QVBoxLayout(side)
        column.setContentsMargins(12, 0, 0, 0)
        self.title = QLabel()
        self.title.setWordWrap(True)
        self.title.setStyleSheet("font-weight: 600;")
        self.text = QLabel()
        self.text.setWordWrap(True)
        self.text.setProperty("markup", True)
        self.text.setTextFormat(Qt.TextFormat.RichText)
        self.text.setAlignment(Qt.AlignmentFlag.AlignTop)
        self.canvas = PlaceCanvas(self, tr("Where the step happens"), (300, 110))
        self.canvas.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        column.addWidget(self.title)
        column.addWidget(self.canvas, 1)
        scroll = QScrollArea()
        scroll.setObjectName("fields")  # stands on the sheet, not on the paper
        scroll.setWidgetResizable(True)
        scroll.setFrameShape(QFrame.Shape.NoFrame)
        scroll.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        scroll.setAccessibleName(tr("What to do in this step"))
        scroll.setWidget(self.text)
        column.addWidget(scroll, 2)
        row = QHBoxLayout()
        self.note, self.minutes = QLineEdit(), QLineEdit()
        self.note.setPlaceholderText(tr("Note"))
        self.note.setAccessibleName(tr("Note on the step"))
        self.note.editingFinished.connect(self._keep_note)
        self.minutes.setPlaceholderText(tr("Minutes taken"))
        self.minutes.setAccessibleName(tr("Minutes taken"))
        self.minutes.setMaximumWidth(110)
        self.done_button = QPushButton(tr("Done"))
        self.done_button.setProperty("role", "main")
        self.done_button.clicked.connect(lambda _=False: self.tick())
        for widget in (self.note, self.minutes, self.done_button):
            row.addWidget(widget)
        column.addLayout(row)
        return side

    def refresh(self) -> None:
        """Show the steps as they are now."""
        self.steps = sequence(self.session.plan)
        done = {log.step for log in self.session.plan.build.done}
        row = self.list.currentRow()
        chosen = there(self.list.item(row)).data(Qt.ItemDataRole.UserRole) if row >= 0 else None
        self.list.blockSignals(True)
        self.list.clear()
        for k, step in enumerate(self.steps, start=1):
            lacks = trn("(waits for {count} part)", "(waits for {count} parts)", len(step.blocked))
            waits = f"  {lacks}" if step.blocked else ""
            wait = tr(" and {hours:g} h of waiting").format(hours=step.wait_h) if step.wait_h else ""
            item = QListWidgetItem(
                tr("{number}. {title}, {minutes} min{wait}{waits}").format(
                    number=k, title=step.title, minutes=step.minutes, wait=wait, waits=waits
                )
            )
            item.setFlags(
                Qt.ItemFlag.ItemIsEnabled | Qt.ItemFlag.ItemIsSelectable | Qt.ItemFlag.ItemIsUserCheckable
            )
            item.setCheckState(Qt.CheckState.Checked if step.key in done else Qt.CheckState.Unchecked)
            item.setData(Qt.ItemDataRole.UserRole, step.key)
            item.setForeground(
                QBrush(
                    self.colours.color("watch" if step.blocked else "faint" if step.key in done else "ink")
                )
            )
            self.list.addItem(item)
        keys = [s.key for s in self.steps]
        following = next((i for i, s in enumerate(self.steps) if s.key not in done), 0)
        self.list.setCurrentRow(keys.index(chosen) if chosen in keys else following)
        self.list.blockSignals(False)
        made = progress(self.session.plan)
        self.bar.setRange(0, made.of)
        self.bar.setValue(made.done)
        self.bar.setFormat(
            tr("{done} of {of} steps, about {left:.1f} h left (times are common practice)").format(
                done=made.done, of=made.of, left=made.left / 60
            )
        )
        self.tell()

    def step(self) -> Step | None:
        """The chosen step."""
        row = self.list.currentRow()
        return self.steps[row] if 0 <= row < len(self.steps) else None

    def tell(self) -> None:
        """Show the chosen step's words, tools, cautions, what it waits for, how its joints are sealed."""
        step = self.step()
        if step is None:
            return
        plan = self.session.plan
        log = next((d for d in plan.build.done if d.step == step.key), None)
        self.title.setText(step.title)
        self.canvas.setVisible(step_view.has_place(step))
        self.canvas.setFixedHeight(min(step_view.height_of(step), max(int(0.42 * self.split.height()), 110)))
        self.canvas.update()
        names = {s.key: s.title for s in self.steps}
        parts = [f"<p>{escape(step.text)}</p>"]
        if step.tools:
            parts.append(tr("<p>Tools: {escape}.</p>").format(escape=escape(step.tools)))
        if step.after:
            before = "; ".join(names[a] for a in step.after if a in names)
            parts.append(f"<p>{tr('After')}: {escape(before)}.</p>" if before else "")
        if step.blocked:
            parts.append(
                "<p>" + escape(tr("Waits for: {steps}.").format(steps=commas(step.blocked))) + "</p>"
            )
        parts.append(self._joints(step))
        if step.cautions:
            parts.append(
                f"<p><b>{tr('Take care')}</b></p><ul>"
                + "".join(f"<li>{escape(c)}</li>" for c in step.cautions)
                + "</ul>"
            )
        self.text.setText("".join(parts))
        self.note.setText(log.note if log else "")
        self.minutes.setText(number(log.minutes, "g") if log and log.minutes else "")
        self.done_button.setText(tr("Not done after all") if log else tr("Done"))

    def _joints(self, step: Step) -> str:
        rows = "".join(f"<li>{escape(_joint(j))}</li>" for j in joints_at(self.session.plan, step))
        listed = "ol" if step_view.numbers_joints(step) else "ul"
        return f"<p><b>{tr('Joints')}</b></p><{listed}>{rows}</{listed}>" if rows else ""

    def _ticked(self, item: QListWidgetItem) -> None:
        key = item.data(Qt.ItemDataRole.UserRole)
        done = any(d.step == key for d in self.session.plan.build.done)
        if (item.checkState() == Qt.CheckState.Checked) != done:
            self.list.setCurrentItem(item)
            self.tick()

    def _keep_note(self) -> None:
        """Keep what was written on a step that is done already."""
        step = self.step()
        was = next((d for d in self.session.plan.build.done if step is not None and d.step == step.key), None)
        if step is not None and was is not None and self.note.text().strip() != was.note:
            self.tick()

    def tick(self) -> None:
        """Tick the chosen step off with note and minutes, or take the tick back."""
        step = self.step()
        if step is None:
            return
        build = self.session.plan.build
        rest = tuple(d for d in build.done if d.step != step.key)
        was = next((d for d in build.done if d.step == step.key), None)
        if was is not None and self.note.text().strip() != was.note:
            again = was.model_copy(update={"note": self.note.text().strip()})
            kept = tuple(again if d is was else d for d in build.done)
            self.session.edit("build.done", kept, tr("note on {title}").format(title=step.title))
            return
        if was is not None:
            self.session.edit("build.done", rest, tr("not done: {title}").format(title=step.title))
            return
        try:
            minutes = minutes_from(self.minutes.text())
        except ValueError:
            self.session.refused.emit(
                tr(
                    "Minutes taken: '{minutes}' cannot be used; expected minutes, such as 80, 1h20 or 80 min; 0 to 10000"
                ).format(minutes=self.minutes.text())
            )
            return
        when = datetime.now().astimezone().strftime("%Y-%m-%d %H:%M")
        log = StepLog(step=step.key, note=self.note.text().strip(), minutes=minutes, when=when)
        if self.session.edit("build.done", (*rest, log), tr("done: {title}").format(title=step.title)):
            following = next(
                (i for i, s in enumerate(self.steps) if s.key not in {d.step for d in (*rest, log)}), 0
            )
            self.list.setCurrentRow(following)


def minutes_from(text: str) -> float:
    """Return the minutes that were taken; 0 where nobody told.

    Raises: ValueError for what is no time.

    >>> minutes_from("1h20"), minutes_from("80 min"), minutes_from("")
    (80.0, 80.0, 0.0)
    """
    match = re.fullmatch(
        r"\s*(?:(?P<hours>\d+(?:[.,]\d+)?)\s*h(?:ours?)?)?\s*(?:(?P<minutes>\d+(?:[.,]\d+)?)\s*(?:min(?:utes?)?|m)?)?\s*",
        text,
    )
    if match is None:
        raise ValueError(text)
    hours, minutes = (float((match[k] or "0").replace(",", ".")) for k in ("hours", "minutes"))
    if not 0.0 <= 60.0 * hours + minutes <= 10000.0:
        raise ValueError(text)
    return 60.0 * hours + minutes
