# SPDX-License-Identifier: GPL-3.0-or-later
"""A number typed in place: any unit of its kind, marked when it is a guess, never losing bad input."""

from __future__ import annotations

from functools import partial

from PyQt6.QtCore import QEvent, Qt
from PyQt6.QtGui import QContextMenuEvent, QKeyEvent, QPaintEvent, QShowEvent
from PyQt6.QtWidgets import QLineEdit, QWidget

from gravidon.desk.lock_mark import LockMark
from gravidon.desk.session import Session
from gravidon.desk.there import restyle, there
from gravidon.errors import GravidonError, InputError
from gravidon.plan import paths, units
from gravidon.plan.fields import Basis, Known, Spec
from gravidon.study.solve.wall import across_wall, mark_at
from gravidon.words.text import N_, tr

BASIS_WORDS: dict[Basis, str] = {
    "guess": tr("a guess: nobody measured it"),
    "maker": tr("from the maker's sheet"),
    "measured": tr("measured"),
}


SIDES = {
    "x_mm": (N_("back"), N_("forward")),
    "y_mm": (N_("right"), N_("left")),
    "z_mm": (N_("under"), N_("over")),
}
"""The two sides of a place along each of the car's axes, as a builder says them: from the origin back or forward, right or
left of the middle, under or over the pan's rail."""
SAID_TOO = {
    N_("behind"): "back",
    N_("rear"): "back",
    N_("ahead"): "forward",
    N_("front"): "forward",
    N_("below"): "under",
    N_("above"): "over",
}


OUT = N_("out")
"""The word for a place counted from the pan's wall outward, as a rule laid on the wall shows it."""
MARKS, FILLERS = (N_("bolt"), N_("flange")), ("of", "the", "from", "a", "rail", "rail's", "turbo's")
"""What else a place may be counted from ("30 forward of the bolt", "280 under the flange"), and what may be said with it."""
TOLD = {
    tr(word).lower(): word for word in (*(w for two in SIDES.values() for w in two), *SAID_TOO, OUT, *MARKS)
}
"""The same words as they are typed in the language of the session; English is understood too."""
AXIS = {"x_mm": 0, "y_mm": 1}
WINDOW_KEYS = frozenset(
    getattr(Qt.Key, f"Key_{name}")
    for name in ("Z", "Y", "U", "E", "D", "K", "L", "M", "N", "O", "P", "S", "Q", *"0123456789")
)
"""Letters that, with Ctrl, belong to the window also while a field has the focus."""


class ValueField(QLineEdit):
    """Shows and edits one numeric field of the plan by its path."""

    def __init__(
        self, session: Session, path: str, parent: QWidget | None = None, dash: bool = False
    ) -> None:
        super().__init__(parent)
        self.session, self.path, self.dash = session, path, dash
        self._opened = session.opened
        """Which of the plans opened it shows: what was typed for one is never put into another."""
        self.setAlignment(Qt.AlignmentFlag.AlignRight)
        self.setMinimumWidth(84)
        spec = paths.spec_at(session.plan, self.place)
        self.setAccessibleName(tr(spec.label))
        self.setLayoutDirection(Qt.LayoutDirection.LeftToRight)  # figures before their unit in every script
        self.lock = LockMark(self, session, lambda: self.place)
        self.editingFinished.connect(self._commit)
        session.changed.connect(self._refresh_if_seen)
        session.look_changed.connect(self._refresh_if_seen)
        self.refresh()

    @property
    def place(self) -> str:
        """The plan path as it is now: which turbo and tap are chosen may change."""
        return self.session.resolve(self.path)

    def _shown(self) -> str:
        spec = paths.spec_at(self.session.plan, self.place)
        value = units.file_to_si(paths.number(self.session.plan, self.place), spec.kind)
        if not self.sides:
            return units.show(value, spec.kind, self.session.family)
        words = units.show(abs(value), spec.kind, self.session.family)
        return words if not any(c in "123456789" for c in words) else f"{words} {tr(self.sides[value > 0.0])}"

    @property
    def sides(self) -> tuple[str, str] | None:
        """The words for the negative and the positive side; None where the value has no sides."""
        owner, _, name = self.path.rpartition(".")
        return SIDES.get(name) if owner else None

    def _sided(self, text: str) -> tuple[str, float, float]:
        """Return a text without its side, the sign that the side means (the present side where none is told), and
        from where it counts [m]: the car's middle or rail, the pan's wall for a place "out" of it, or a mark that is named.

        Raises: InputError for "out" along the wall, for a mark that says nothing here, or without its side.
        """
        sides, now = self.sides, paths.number(self.session.plan, self.place)
        if sides is None:
            return text, 1.0, 0.0
        text = " ".join(TOLD.get(w.lower(), w) for w in text.split())
        if OUT in text.lower().split():
            axis = AXIS.get(self.path.rpartition(".")[2], 2)
            found = across_wall(self.session.plan, self.session.line, axis)
            if found is None:
                label = tr(paths.spec_at(self.session.plan, self.place).label)
                raise InputError(
                    label, text, "a place that is not counted from the wall: this one runs along it"
                )
            return " ".join(w for w in text.split() if w.lower() != OUT), found[1], found[0]
        start, text = self._from_mark(text, now)
        words = [w for w in text.replace(",", " ").split() if w.isalpha()]
        told = [SAID_TOO.get(w.lower(), w.lower()) for w in words]
        for word, side in zip(words, told, strict=True):
            if side in sides:
                sign = 1.0 if side == sides[1] else -1.0
                return " ".join(w for w in text.split() if w != word), sign, start or 0.0
        if start is not None:
            label = tr(paths.spec_at(self.session.plan, self.place).label)
            raise InputError(
                label,
                text,
                tr("a side of it as well: {one} or {other}").format(one=tr(sides[0]), other=tr(sides[1])),
            )
        signed = text.strip()[:1] in "+-−"
        return text, 1.0 if signed or now >= 0.0 else -1.0, 0.0

    def _from_mark(self, text: str, now: float) -> tuple[float | None, str]:
        """Return where a named mark stands [m] (None: none is named), and the text without its words.

        Raises: InputError for a mark that says nothing along this axis.
        """
        words = text.split()
        mark = next((w.lower() for w in words if w.lower() in MARKS), "")
        if not mark:
            return None, text
        axis = AXIS.get(self.path.rpartition(".")[2], 2)
        at = mark_at(self.session.plan, self.session.line, mark, axis, now * 1e-3)
        if at is None:
            label = tr(paths.spec_at(self.session.plan, self.place).label)
            raise InputError(
                label, text, "a place that is not counted from a bolt: the rail's bolts stand along the wall"
            )
        return at, " ".join(w for w in words if w.lower() not in (*MARKS, *FILLERS))

    def _refresh_if_seen(self) -> None:
        if self.isVisible():
            self.refresh()

    def showEvent(self, event: QShowEvent | None) -> None:
        """Catch up with what changed while out of sight."""
        self.refresh()
        super().showEvent(event)

    def refresh(self) -> None:
        """Show the plan's value, unless the user is in the middle of typing."""
        if self.isModified() and self.hasFocus() and self._opened == self.session.opened:
            return
        try:
            known = paths.get(self.session.plan, self.place)
        except (IndexError, AttributeError):
            return
        self.setText(self._shown())
        self.setModified(False)
        self._opened = self.session.opened
        spec = paths.spec_at(self.session.plan, self.place)
        guess = (
            known.basis == "guess"
            if isinstance(known, Known)
            else not paths.looked_at(self.session.plan, self.place)
        )
        basis = f"\n{BASIS_WORDS[known.basis]}" if isinstance(known, Known) else ""
        if guess and not basis:
            basis = tr("\nfrom the starter: nobody looked at it")
        if isinstance(known, Known) and known.tolerance is not None:
            width = known.tolerance * units.KINDS[spec.kind].file.factor
            basis += f", ± {units.show_difference(width, spec.kind, self.session.family)}"
        self.lock.refresh()
        self.setToolTip(f"{tr(spec.label)}: {spec.expected}{basis}{self._from_wall()}{self.lock.words}")
        self._mark("guess", guess)
        self._mark("wrong", False)

    def _from_wall(self) -> str:
        """Return, for a place across the pan's wall, that it may be counted from there."""
        axis = AXIS.get(self.path.rpartition(".")[2]) if self.sides else None
        found = across_wall(self.session.plan, self.session.line, axis) if axis is not None else None
        told = tr("\n'180 {out}' counts from the pan's wall").format(out=tr(OUT)) if found else ""
        if self.sides and self.path.endswith(("entry.x_mm", "entry.y_mm")) and not found:
            told = tr("\n'30 {sides} of the {bolt}' counts from the rail's nearest bolt").format(
                bolt=tr("bolt"), sides=tr(self.sides[1])
            )
        return told + (
            tr("\n'280 {under} the {flange}' counts from the turbo's").format(
                under=tr("under"), flange=tr("flange")
            )
            if self.path.endswith("entry.z_mm")
            else ""
        )

    def _mark(self, name: str, on: bool) -> None:
        if bool(self.property(name)) != on:
            self.setProperty(name, on)
            restyle(self)

    def _commit(self) -> None:
        if not self.isModified() or self._opened != self.session.opened:
            return
        plan = self.session.plan
        try:
            spec = paths.spec_at(plan, self.place)
        except (AttributeError, IndexError):
            return  # what it belongs to has been taken out of the plan
        default = units.display_unit(spec.kind, self.session.family)
        try:
            if self.dash:
                value, width = units.parse_dash_or_length(self.text(), tr(spec.label), default), None
            else:
                text, sign, start = self._sided(self.text())
                value, width = units.parse_with_tolerance(text, spec.kind, tr(spec.label), default)
                value = start + sign * value
            in_file = units.si_to_file(value, spec.kind)
            spec.check(in_file)
            new = self._with_tolerance(in_file, width, spec)
        except GravidonError as error:
            self._mark("wrong", True)
            self.setToolTip(str(error))
            self.session.refused.emit(str(error))
            return
        if self.session.edit(self.path, new, tr(spec.label)):
            self.setModified(False)
            self.refresh()
        else:
            self._mark("wrong", True)

    def _with_tolerance(self, in_file: float, width_si: float | None, spec: Spec) -> float | Known:
        """Return what to put into the plan: a bare number, or a Known with the typed tolerance."""
        if width_si is None:
            return in_file
        if not isinstance(paths.get(self.session.plan, self.place), Known):
            raise InputError(
                tr(spec.label), self.text(), "a number without a tolerance; this value takes none"
            )
        return Known(value=in_file, basis="measured", tolerance=width_si / units.KINDS[spec.kind].file.factor)

    def set_basis(self, basis: Basis) -> None:
        """Say how the value is known."""
        known = paths.get(self.session.plan, self.place)
        if isinstance(known, Known) and known.basis != basis:
            words = {"guess": tr("a guess"), "maker": tr("the maker's"), "measured": tr("measured")}[basis]
            label = tr(paths.spec_at(self.session.plan, self.place).label)
            self.session.edit(
                self.path,
                known.model_copy(update={"basis": basis}),
                tr("{label} is {words}").format(label=label, words=words),
            )

    def contextMenuEvent(self, event: QContextMenuEvent | None) -> None:
        """The usual menu, and how the value is known."""
        menu = self.createStandardContextMenu()
        if menu is None or event is None:
            return
        known = paths.get(self.session.plan, self.place)
        if isinstance(known, Known):
            menu.addSeparator()
            for basis, words in BASIS_WORDS.items():
                action = there(menu.addAction(words[:1].upper() + words[1:]))
                action.setCheckable(True)
                action.setChecked(known.basis == basis)
                action.triggered.connect(partial(self._basis_chosen, basis))
        self.lock.offer(menu)
        menu.exec(event.globalPos())
        menu.deleteLater()

    def _basis_chosen(self, basis: Basis, _: bool = False) -> None:
        self.set_basis(basis)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """The field, and a padlock where its choice is held."""
        super().paintEvent(event)
        self.lock.paint()

    def event(self, event: QEvent | None) -> bool:
        """Leave the window's own keys to the window: undo takes back the last step unless one is typing, and so on."""
        if (
            event is not None
            and event.type() == QEvent.Type.ShortcutOverride
            and isinstance(event, QKeyEvent)
        ):
            control = bool(event.modifiers() & Qt.KeyboardModifier.ControlModifier)
            typing = self.isModified() and Qt.Key(event.key()) in (Qt.Key.Key_Z, Qt.Key.Key_Y)
            if control and Qt.Key(event.key()) in WINDOW_KEYS and not typing:
                event.ignore()
                return False
        return super().event(event)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Escape gives back the plan's value; Ctrl+G walks through guess, maker's, measured."""
        if event is not None and event.key() == Qt.Key.Key_Escape:
            self.setModified(False)
            self.refresh()
            return
        control = event is not None and event.modifiers() & Qt.KeyboardModifier.ControlModifier
        if event is not None and control and event.key() == Qt.Key.Key_G:
            known = paths.get(self.session.plan, self.place)
            if not isinstance(known, Known):
                self.session.propose(paths.with_seen(self.session.plan, self.place), tr("looked at it"))
            else:
                order = tuple(BASIS_WORDS)
                self.set_basis(order[(order.index(known.basis) + 1) % len(order)])
            return
        super().keyPressEvent(event)
