# SPDX-License-Identifier: GPL-3.0-or-later
"""Which thread is this port? Measured diameter and pitch, the likeliest threads, and how to tell them apart."""

from __future__ import annotations

from PyQt6.QtWidgets import (
    QDialog,
    QDialogButtonBox,
    QFormLayout,
    QLabel,
    QLineEdit,
    QVBoxLayout,
    QWidget,
)

from gravidon.desk.box import Box
from gravidon.desk.session import Session
from gravidon.desk.table import Table
from gravidon.errors import GravidonError, InputError
from gravidon.parts.identify import Candidate, identify
from gravidon.plan import units
from gravidon.words.text import N_, tr

TAPER = {N_("cannot tell"): None, N_("gets thinner (taper)"): True, N_("same all along (parallel)"): False}


class IdentifyDialog(QDialog):
    """Type what calipers and pitch gauge say; the list follows."""

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.session = session
        self.setWindowTitle(tr("Identify a port"))
        self.resize(760, 430)
        column = QVBoxLayout(self)
        column.setContentsMargins(20, 16, 20, 14)
        form = QFormLayout()
        self.side = Box()
        self.side.addItems([tr("outside of a male thread"), tr("inside of a female port, crest to crest")])
        form.addRow(tr("Measured"), self.side)
        self.diameter = QLineEdit(units.show(9.7e-3, "bore", session.family))
        form.addRow(tr("Diameter"), self.diameter)
        self.pitch = QLineEdit("28 tpi" if units.in_inches(session.family) else "0.907 mm")
        self.pitch.setToolTip(tr("A pitch such as 1.0 mm, or threads per inch such as 28 tpi"))
        form.addRow(tr("Pitch, or threads per inch"), self.pitch)
        self.taper = Box()
        self.taper.offer(TAPER)
        form.addRow(tr("Along its length it"), self.taper)
        column.addLayout(form)
        heads = [tr("thread"), tr("off by"), tr("standard"), tr("how to tell")]
        self.table = Table(tr("Likeliest threads"), heads, left=range(4), wide=3, wrap=True)
        column.addWidget(self.table, 1)
        self.words = QLabel(tr("A thread gauge and a known fitting decide; calipers only narrow it down."))
        self.words.setWordWrap(True)
        column.addWidget(self.words)
        buttons = QDialogButtonBox(QDialogButtonBox.StandardButton.Close)
        buttons.rejected.connect(self.reject)
        column.addWidget(buttons)
        for box in (self.side, self.taper):
            box.currentTextChanged.connect(lambda _: self.look())
        for line in (self.diameter, self.pitch):
            line.textChanged.connect(lambda _: self.look())
        self.candidates: tuple[Candidate, ...] = ()
        self.look()

    def _pitch_mm(self) -> float:
        text = self.pitch.text().strip().lower()
        for word in ("tpi", "per inch"):
            if text.endswith(word):
                number = text.removesuffix(word).replace(",", ".").strip()
                try:
                    per_inch = float(number)
                except ValueError as error:
                    raise InputError(
                        "Pitch", self.pitch.text(), "a pitch such as 1.0 mm or 28 tpi"
                    ) from error
                if not per_inch > 0:
                    raise InputError("Pitch", self.pitch.text(), "more than 0 threads per inch")
                return 25.4 / per_inch
        return units.parse(self.pitch.text(), "bore", "Pitch", units.KINDS["bore"].metric) * 1e3

    def look(self) -> None:
        """Rank the threads by what is typed."""
        try:
            default = units.display_unit("bore", self.session.family)
            diameter = units.parse(self.diameter.text(), "bore", "Diameter", default) * 1e3
            found = identify(
                diameter, self._pitch_mm(), self.side.currentIndex() == 1, TAPER[self.taper.chosen]
            )
        except (GravidonError, ValueError) as error:
            self.words.setText(" ".join(str(error).split()))
            self.table.fill([])
            return
        self.candidates = found
        self.words.setText(
            tr("A thread gauge and a known fitting decide; calipers only narrow it down.")
            if found
            else tr("No known thread is near: measure again, or look for a worn crest.")
        )
        self.table.fill(
            [
                (
                    c.name,
                    tr("{diameter:+.2f} mm, pitch {pitch:+.3f} mm").format(
                        diameter=c.diameter_off_mm, pitch=c.pitch_off_mm
                    ),
                    c.thread.standard,
                    c.check,
                )
                for c in found
            ]
        )
