# SPDX-License-Identifier: GPL-3.0-or-later
"""The main window: head strip, path rail, station, findings, condition deck."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtCore import QByteArray, QPoint, QRect, QSize, Qt, QTimer
from PyQt6.QtGui import QCloseEvent, QDragEnterEvent, QDropEvent, QGuiApplication, QResizeEvent
from PyQt6.QtWidgets import (
    QApplication,
    QDialog,
    QFileDialog,
    QLabel,
    QMainWindow,
    QMessageBox,
    QSplitter,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from gravidon.desk import output, regions, theme
from gravidon.desk.announce import Announcer
from gravidon.desk.ask import sure
from gravidon.desk.commands import CommandBook, CommandSearch, ShortcutSheet
from gravidon.desk.condition_deck import ConditionDeck, tag_of
from gravidon.desk.dialogs import ConditionsDialog
from gravidon.desk.findings_pane import FindingsPane
from gravidon.desk.first_plan import FirstPlan
from gravidon.desk.handbook_dock import Handbook
from gravidon.desk.head_strip import HeadStrip
from gravidon.desk.look import Look
from gravidon.desk.mishap import MISHAPS
from gravidon.desk.path_rail import PathRail, Stop
from gravidon.desk.plan_watch import PlanWatch, ask_save_over
from gravidon.desk.preferences import Preferences, home
from gravidon.desk.recovery import Recovered, Recovery
from gravidon.desk.room import Room
from gravidon.desk.session import Session
from gravidon.desk.stations import CHAPTERS, STATIONS
from gravidon.desk.stations.base import Station
from gravidon.desk.there import there
from gravidon.desk.verdict_band import VerdictBand
from gravidon.desk.window_commands import commands_of
from gravidon.errors import ChangedOnDiskError, GravidonError
from gravidon.plan import demos, storage
from gravidon.plan.files import is_file
from gravidon.plan.model import Plan
from gravidon.records.entry import Entry
from gravidon.records.shipped import demo_log
from gravidon.study.judge.table import worst_by_condition
from gravidon.study.verdict.finding import Finding
from gravidon.study.verdict.findings import SEVERITY_ORDER
from gravidon.words.text import tr

FILTER = tr("Gravidon plans (*{SUFFIX});;All files (*)").format(SUFFIX=storage.SUFFIX)
AUTOSAVE_MS = 4000
NOTICE_MS = 9000

MOST_PX = 100_000
"""[px] that a window may be wide; a larger figure is a damaged one."""
SHOWN_MS = 400
"""[ms] after which what is in the window has been painted once; project choice."""


class MainWindow(QMainWindow):
    """One plan at work."""

    def __init__(self, session: Session, preferences: Preferences, recovery: Recovery) -> None:
        super().__init__()
        self.session, self.preferences, self.recovery = session, preferences, recovery
        self.handbook: Handbook | None = None
        self.trace = ""
        self.leaving = False
        """Whether another start goes on with the work: nothing is asked, and the recovery file stays."""
        self.setAcceptDrops(True)
        self.setMinimumSize(480, 360)
        self.resize(self._room())
        known = preferences.get("geometry", "")
        if isinstance(known, str) and known:
            self.restoreGeometry(QByteArray.fromBase64(known.encode("ascii", "ignore")))
        self.look = Look(self)
        self.announcer = Announcer(self)
        self.book = CommandBook(self, commands_of(self))
        self._made: dict[int, Station] = {}
        self._build()
        self.autosave = QTimer(self)
        self.autosave.setSingleShot(True)
        self.autosave.setInterval(AUTOSAVE_MS)
        self.autosave.timeout.connect(self.keep_now)
        self.notice_timer = QTimer(self)
        self.notice_timer.setSingleShot(True)
        self.notice_timer.timeout.connect(self.notice.hide)
        session.moved.connect(self._keep_soon)
        session.changed.connect(self._plan_changed)
        self._shown: Path | None = None
        self.showing = QTimer(self)
        self.showing.setSingleShot(True)
        self.showing.setInterval(SHOWN_MS)
        self.showing.timeout.connect(self._was_shown)
        MISHAPS.happened.connect(self._mishap)
        session.condition_changed.connect(self.refresh)
        session.look_changed.connect(self._look_changed)
        session.file_changed.connect(self.refresh)
        session.headline_changed.connect(self._log_may_have_changed)
        session.refused.connect(self.say)
        session.told.connect(self.say)
        self.watch = PlanWatch(recovery.folder, self)
        self.watch.told.connect(self.say)
        session.file_changed.connect(self._follow)
        QTimer.singleShot(0, self._follow)
        self.go_to(str(preferences.get("station", "drain")))
        self.rail.setFocus()
        self.refresh()

    @staticmethod
    def _room() -> QSize:
        """As large as is comfortable, and no larger than the screen: text may be set larger than it was drawn for."""
        screen = QGuiApplication.primaryScreen()
        free = screen.availableSize() if screen is not None else QSize(1280, 800)
        return QSize(min(1280, free.width()), min(800, free.height()))

    def show_fitting(self) -> None:
        """Show it: as large as the screen where it would hardly fit."""
        screen = QGuiApplication.primaryScreen()
        free = screen.availableSize() if screen is not None else QSize(1280, 800)
        if free.width() <= 1366 or free.height() <= 860:
            self.showMaximized()
        else:
            self.show()

    # --- building --------------------------------------------------------------------------

    def _build(self) -> None:
        palette = theme.PALETTES[self.session.theme]
        whole = QWidget()
        column = QVBoxLayout(whole)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        self.head = HeadStrip(self.session, self.preferences, self.book)
        self.head.recent_chosen.connect(self.open_path)
        column.addWidget(self.head)
        self.band = VerdictBand(self.session)
        self.band.looked_at.connect(self._look_at)
        self.band.list_asked.connect(self.toggle_findings)
        self.band.went.connect(self.go_to)
        self.sentence, self.drop = self.band.sentence, self.band.drop
        column.addWidget(self.band)
        self.notice = QLabel(self)  # over the page: nothing moves when it comes and goes
        self.notice.setWordWrap(True)
        self.notice.setContentsMargins(16, 6, 16, 6)
        self.notice.hide()
        self.rail = PathRail(palette, CHAPTERS)
        self.rail.chosen.connect(self._rail_chosen)
        self.stack = QStackedWidget()
        for _ in STATIONS:
            self.stack.addWidget(QWidget())
        self.findings = FindingsPane(self.session)
        self.findings.looked_at.connect(self._look_at)
        self.findings.limit_asked.connect(self._limit_of)
        self.splitter = QSplitter(Qt.Orientation.Horizontal)
        for widget, stretch in ((self.rail, 0), (self.stack, 1), (self.findings, 0)):
            self.splitter.addWidget(widget)
            self.splitter.setStretchFactor(self.splitter.indexOf(widget), stretch)
        self.splitter.setCollapsible(1, False)
        self.splitter.setHandleWidth(1)
        sizes = self.preferences.get("splitter", [])
        self.splitter.setSizes(
            sizes
            if len(sizes) == 3 and all(isinstance(s, int) and 0 <= s < MOST_PX for s in sizes)
            else [190, 780, 310]
        )
        self.findings.setVisible(bool(self.preferences.get("findings", False)))
        column.addWidget(self.splitter, 1)
        self.deck = ConditionDeck(palette)
        self.deck.chosen.connect(self.session.choose_condition)
        self.deck.edit_asked.connect(self.edit_conditions)
        column.addWidget(self.deck)
        self.setCentralWidget(Room(whole))

    # --- showing ---------------------------------------------------------------------------

    @property
    def station(self) -> Station:
        """The station in sight, made when it is first looked at."""
        index = self.stack.currentIndex()
        if index not in self._made:
            made = self._made[index] = STATIONS[index].make(self.session)
            made.output_asked.connect(self._output)
            made.went.connect(self.go_to)
            made.flags.limit_asked.connect(self._limit_of)
            old = there(self.stack.widget(index))
            self.stack.removeWidget(old)
            old.deleteLater()
            self.stack.insertWidget(index, made)
            self.stack.setCurrentIndex(index)
        return self._made[index]

    def go_to(self, key: str) -> None:
        """Show a station."""
        keys = [s.key for s in STATIONS]
        self.stack.setCurrentIndex(keys.index(key) if key in keys else 0)
        self.preferences.values["station"] = self.station.key
        self.session.scopes = self.station.scopes
        self.refresh()

    def walk(self, by: int) -> None:
        """Go to the next or previous station along the path."""
        k = min(max(self.stack.currentIndex() + by, 0), len(STATIONS) - 1)
        self.go_to(STATIONS[k].key)

    def _look_at(self, finding: Finding) -> None:
        self.session.choose_turbo(finding.turbo)
        self.go_to(finding.station)
        if finding.condition_index >= 0:
            self.session.choose_condition(finding.condition_index)
        if self.findings.isHidden():
            self.station.flags.open_key(finding.key)

    def next_region(self, by: int) -> None:
        """Give the keyboard to the next part of the window, or the one before."""
        parts = (self.head, self.band, self.rail, self.station, self.findings, self.deck)
        regions.step(parts, by)

    def toggle_findings(self) -> None:
        """Show the list of all findings beside the page, or put it away."""
        show = self.findings.isHidden()
        self.findings.setVisible(show)
        self.preferences.put("findings", show)

    def _plan_changed(self) -> None:
        self.refresh()
        self._keep_soon()

    def _keep_soon(self) -> None:
        """Write the plan to the recovery file within a few seconds, however fast the edits come."""
        if not self.autosave.isActive() and self.session.unsaved:
            self.autosave.start()

    def keep_now(self) -> None:
        """Write the plan to the recovery file."""
        it = self.session
        self.recovery.keep(it.plan, it.path, it.kept_log, it.stamp)

    def leave_as_it_is(self) -> None:
        """Close without a question: another start goes on with what the recovery file has."""
        self.leaving = True
        self.close()

    def _rail_chosen(self, k: int) -> None:
        self.go_to(STATIONS[k].key)

    def _look_changed(self) -> None:
        application = QApplication.instance()
        if isinstance(application, QApplication):
            theme.apply(application, self.session.theme, self)
        palette = theme.PALETTES[self.session.theme]
        self.rail.palette_in_use = self.deck.palette_in_use = palette
        self.rail.update()
        self.deck.update()
        kept = theme.SYSTEM if self.session.follows_system else self.session.theme
        self.preferences.put_all(family=self.session.family, theme=kept, paper=self.session.paper)
        self.refresh()

    def refresh(self) -> None:
        """Show the session as it is."""
        s = self.session
        self.setWindowTitle(
            tr("{mark}{name} · Gravidon").format(mark=("● " if s.unsaved else ""), name=s.plan.name)
        )
        self.band.refresh()
        self.announcer.settle(self.band.told)
        self.head.refresh()
        self._show_rail()
        worst = worst_by_condition(s.evaluation)
        tags = [
            tag_of(s.evaluation, verdict, w, k, s.family)
            for k, (verdict, w) in enumerate(zip(s.verdicts, worst, strict=True))
        ]
        self.deck.show_tags(tags, s.condition)

    def _log_may_have_changed(self) -> None:
        """A number on the rail, or the logbook, is new though the plan is not."""
        self._keep_soon()
        self.head.refresh()
        self._show_rail()

    def _show_rail(self) -> None:
        """Show the stations' numbers and verdicts."""
        self.rail.show_stops([self._stop(k) for k in range(len(STATIONS))], self.stack.currentIndex())

    def _stop(self, index: int) -> Stop:
        station = STATIONS[index]
        found = [f for f in self.session.findings if f.station == station.key]
        if station.key in ("sheet", "whole"):
            found = list(self.session.findings)
        worst = min((SEVERITY_ORDER[f.severity] for f in found), default=2)
        worst = min(worst, station.own_grade(self.session))
        return Stop(
            station.name, station.headline(self.session), ("fails", "watch", "holds")[worst], station.chapter
        )

    def say(self, text: str) -> None:
        """Show a notice under the head for a while."""
        p = theme.PALETTES[self.session.theme]
        self.notice.setStyleSheet(
            f"background: {p.raised}; color: {p.ink}; border: 1px solid {p.line}; border-left: 4px solid {p.watch};"
        )
        self.notice.setText(text)
        self.announcer.now(text)
        self._place_notice()
        self.notice.show()
        self.notice.raise_()
        self.notice_timer.start(NOTICE_MS)

    def _place_notice(self) -> None:
        """Lay the notice over the lower edge of the page, above the conditions."""
        wide = min(self.width() - 40, 760)
        high = max(self.notice.heightForWidth(wide), 30)
        bottom = self.deck.mapTo(self, QPoint(0, 0)).y()
        self.notice.setGeometry((self.width() - wide) // 2, bottom - high - 10, wide, high)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """A notice stays at its edge."""
        super().resizeEvent(event)
        if self.notice.isVisible():
            self._place_notice()

    def _mishap(self, trace: str) -> None:
        """Something went wrong inside: the plan is kept, and it is said so."""
        self.keep_now()
        self.trace = trace
        last = trace.strip().rpartition("\n")[2][:160]
        self.say(
            tr(
                "Something went wrong inside Gravidon ({last}). Your plan is kept; go on, or undo the last step. Plan ▸ Save a report of what went wrong … writes what a mender needs."
            ).format(last=last)
        )

    def save_report(self) -> None:
        """Write a report of the latest mishap; the plan goes in only if the builder wants it."""
        self._tell(output.save_report(self, self.trace, self.session.plan, self._folder()))

    # --- commands --------------------------------------------------------------------------

    def apply_first_remedy(self) -> None:
        """Apply the first remedy of the chosen or worst finding."""
        self.findings.apply_first()

    def do_all_that_helps(self) -> None:
        """Take one remedy after the other until nothing more is gained."""
        self.band.do_all()

    def make_plans(self) -> None:
        """Go to the planner and let it make plans."""
        self.go_to("planner")
        station = self.station
        if station.key == "planner" and not station.busy:
            station.start()  # type: ignore[attr-defined]

    def edit_conditions(self) -> None:
        """Open the conditions."""
        self._open(ConditionsDialog(self.session, self))

    def edit_limits(self, at: str = "") -> None:
        """Open the limits, at one of them."""
        from gravidon.desk.form import LimitsDialog

        self._open(LimitsDialog(self.session, self, at))

    @staticmethod
    def _open(dialog: QDialog) -> None:
        dialog.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        dialog.open()

    def _limit_of(self, finding: Finding) -> None:
        self.session.choose_turbo(finding.turbo)
        self.edit_limits(finding.limit_path)

    def rename(self) -> None:
        """Give the plan another name."""
        from PyQt6.QtWidgets import QInputDialog

        text, fine = QInputDialog.getText(
            self, tr("Rename"), tr("Name of the plan"), text=self.session.plan.name
        )
        if fine and text.strip():
            self.session.edit("name", text.strip(), tr("rename"))

    def show_help(self) -> None:
        """The handbook at this station's page; put away where that is read already."""
        page = self.station.help_page or "start"
        if self.handbook is None:
            self.handbook = Handbook(self.session, self)
            self.addDockWidget(Qt.DockWidgetArea.RightDockWidgetArea, self.handbook)
        elif self.handbook.isVisible() and self.handbook.page == page:
            self.handbook.close()
            return
        self.handbook.open_at(page)
        narrow = self.width() - self.handbook.minimumWidth() < Room.LEAST.width()
        self.handbook.setFloating(narrow)  # beside the page it would push the menus off a narrow window
        if narrow:
            top = self.band.mapToGlobal(QPoint(0, 0)).y()
            right = self.mapToGlobal(QPoint(self.width(), 0)).x()
            size = QSize(
                self.handbook.minimumWidth(), self.height() - self.head.height() - self.deck.height()
            )
            self.handbook.setGeometry(QRect(QPoint(right - size.width(), top), size))

    def search_commands(self) -> None:
        """Find a command by its words."""
        self._open(CommandSearch(self.book, self))

    def show_keys(self) -> None:
        """The shortcut sheet."""
        self._open(ShortcutSheet(self.book, self))

    # --- files -----------------------------------------------------------------------------

    def may_leave(self) -> bool:
        """Ask about unsaved work; True if it may be left."""
        if self.leaving or not self.session.unsaved:
            return True
        buttons = QMessageBox.StandardButton
        answer = QMessageBox.question(
            self,
            tr("Unsaved changes"),
            tr("Save the changes to “{name}”?").format(name=self.session.plan.name),
            buttons.Save | buttons.Discard | buttons.Cancel,
            buttons.Save,
        )
        if answer == buttons.Save:
            return self.save()
        return answer == buttons.Discard

    def new_plan(self) -> None:
        """Start a plan with what the builder knows, and let the planner make plans of it."""
        if not self.may_leave():
            return
        dialog = FirstPlan(self.session.family, self)
        if dialog.exec() and dialog.plan is not None:
            self._replace(dialog.plan, None, saved=False)
            self.make_plans()

    def open_demo(self, name: str = "estate") -> None:
        """Start from a demo."""
        if self.may_leave():
            self._replace(demos.demo_plan(name), None, shipped=demo_log(name))

    def open_dialog(self) -> None:
        """Choose a file to open."""
        if not self.may_leave():
            return
        name, _ = QFileDialog.getOpenFileName(self, tr("Open a plan"), str(self._folder()), FILTER)
        if name:
            self.open_path(Path(name), ask=False)

    def open_path(self, path: Path, ask: bool = True) -> None:
        """Open a plan file; a bad one is refused in words and the present plan stays."""
        if ask and not self.may_leave():
            return
        try:
            plan = storage.load(path)
        except GravidonError as error:
            self.say(str(error))
            return
        self._replace(plan, path)

    def _replace(
        self, plan: Plan, path: Path | None, saved: bool = True, shipped: tuple[Entry, ...] = ()
    ) -> None:
        try:
            self.session.replace(plan, path, saved, shipped)
        except GravidonError as error:
            self.say(str(error))
            return
        self.recovery.drop()
        if path is not None:
            self.remember(path)

    def bring_back(self, found: Recovered, saved: bool = False) -> None:
        """Take work that a crash, or the window before this one, left. Its file counts as it was then, so that saving asks where
        somebody wrote it since."""
        self.session.replace(found.plan, found.original, saved=saved, log=found.log)
        self.session.stamp = found.stamp
        self.keep_now()
        found.file.unlink(missing_ok=True)

    def remember(self, path: Path) -> None:
        """Remember a plan's file for the next start, once it has been shown: one that cannot be is not opened again of its own accord."""
        self._shown = path
        self.showing.start()

    def _was_shown(self) -> None:
        if self._shown is not None and self.session.path == self._shown:
            self.preferences.add_recent(self._shown)
            self.preferences.put("last", str(self._shown))

    def _folder(self) -> Path:
        return self.session.path.parent if self.session.path else home()

    def save(self) -> bool:
        """Save to the plan's file, asking for one the first time."""
        return self._save_to(self.session.path) if self.session.path else self.save_as()

    def save_as(self) -> bool:
        """Save under another name."""
        start = self._folder() / f"{output.file_name(self.session.plan.name)}{storage.SUFFIX}"
        name, _ = QFileDialog.getSaveFileName(self, tr("Save the plan"), str(start), FILTER)
        if not name:
            return False
        path = Path(name)
        if path.suffix in (storage.SUFFIX, ".json"):
            return self._save_to(path)  # the dialog has asked
        path = path.with_name(path.name + storage.SUFFIX)
        question = tr("{name} is there already. Replace it? The former one is kept as its backup.")
        if path.exists() and not sure(self, question.format(name=path.name), tr("Replace it")):
            return False
        return self._save_to(path)

    def _follow(self) -> None:
        self.watch.follow(self.session.path, self.session.stamp)

    def _save_to(self, path: Path, over: bool = False) -> bool:
        try:
            self.session.save(path, over)
        except ChangedOnDiskError:
            choice = ask_save_over(self, path)
            if choice is None:
                return False
            return self._save_to(path, over=True) if choice else self.save_as()
        except GravidonError as error:
            self.say(str(error))
            return False
        self.autosave.stop()
        self.recovery.drop()
        self.preferences.add_recent(path)
        self.preferences.put("last", str(path))
        self.say(tr("Saved as {name}.").format(name=path.name))
        return True

    def save_sheet(self, kind: str, _clicked: bool = False) -> None:
        """Write the shop sheet."""
        self._tell(output.save_sheet(self, self.session, self._folder(), kind))

    def _output(self, kind: str) -> None:
        """Do what a station asked for: the sheet as a file of a kind, or on paper."""
        if kind == "print":
            self.print_sheet()
        else:
            self.save_sheet(kind)

    def print_sheet(self) -> None:
        """Send the sheet to a printer."""
        self._tell(output.print_sheet(self, self.session))

    def _picture(self) -> QWidget:
        for name in ("canvas", "preview", "table"):
            found = getattr(self.station, name, None)
            if isinstance(found, QWidget):
                return found
        return self.stack

    def copy_picture(self) -> None:
        """Put the station's drawing on the clipboard."""
        clipboard = QGuiApplication.clipboard()
        if clipboard is not None:
            clipboard.setPixmap(self._picture().grab())
            self.say(tr("Picture copied."))

    def save_picture(self) -> None:
        """Save the station's drawing."""
        self._tell(output.save_picture(self, self._picture(), self.station.name, self._folder()))

    def _tell(self, text: str | None) -> None:
        if text is not None:
            self.say(text)

    # --- events ----------------------------------------------------------------------------

    def dragEnterEvent(self, event: QDragEnterEvent | None) -> None:
        """A plan file may be dropped."""
        data = event.mimeData() if event is not None else None
        if event is not None and data is not None and data.hasUrls():
            event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent | None) -> None:
        """Open a dropped file."""
        data = event.mimeData() if event is not None else None
        urls = data.urls() if data is not None else []
        if urls and urls[0].isLocalFile() and is_file(urls[0].toLocalFile()):
            self.open_path(Path(urls[0].toLocalFile()))

    def closeEvent(self, event: QCloseEvent | None) -> None:
        """Ask about unsaved work, remember sizes, drop the recovery file."""
        if event is None:
            return
        if not self.may_leave():
            event.ignore()
            return
        geometry = bytes(self.saveGeometry().toBase64().data()).decode("ascii")
        self.preferences.put_all(splitter=self.splitter.sizes(), geometry=geometry, station=self.station.key)
        self.autosave.stop()
        for station in self._made.values():
            station.leave()
        self.band.leave()
        self.session.close()
        self.watch.leave()
        if not self.leaving:
            self.recovery.drop()
        event.accept()
