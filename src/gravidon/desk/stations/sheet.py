"""The shop sheet: what will be printed, and the ways to get it."""

from __future__ import annotations

from PyQt6.QtCore import QRectF, QSize, Qt
from PyQt6.QtGui import QPainter, QPaintEvent
from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QSizePolicy, QWidget

from gravidon.desk.session import Session
from gravidon.desk.stations.base import Station
from gravidon.sheet import page


class SheetPreview(QWidget):
    """The page as it will print."""

    def __init__(self, station: SheetStation) -> None:
        super().__init__()
        self.station = station
        self.setAccessibleName("Preview of the shop sheet")
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)

    def sizeHint(self) -> QSize:
        """Upright."""
        return QSize(500, 560)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Draw the page to fit."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        scale = min(self.width() / page.WIDTH_MM, self.height() / page.HEIGHT_MM) * 0.985
        left = (self.width() - page.WIDTH_MM * scale) / 2
        paper = QRectF(left, 4, page.WIDTH_MM * scale, page.HEIGHT_MM * scale)
        painter.setPen(self.station.colours.pen("line", 1))
        painter.setBrush(Qt.GlobalColor.white)
        painter.drawRect(paper)
        painter.translate(paper.topLeft())
        painter.scale(scale, scale)
        page.paint_page(painter, self.station.session.evaluation, self.station.session.family)


class SheetStation(Station):
    """Print one page to take to the car."""

    key, name = "sheet", "Shop sheet"
    question = "One page to take to the car: drawing to scale, sizes, results, findings, cautions."
    help_page = "sheet"

    def build(self) -> None:
        """Preview and buttons; the window connects the buttons to its commands."""
        self.preview = SheetPreview(self)
        self.column.addWidget(self.preview, 1)
        buttons = QHBoxLayout()
        buttons.addStretch(1)
        self.pdf_button = QPushButton("Save as PDF …")
        self.pdf_button.setProperty("role", "main")
        self.html_button = QPushButton("Save as HTML …")
        self.print_button = QPushButton("Print …")
        for button in (self.pdf_button, self.html_button, self.print_button):
            buttons.addWidget(button)
        buttons.addStretch(1)
        self.column.addLayout(buttons)

    def refresh(self) -> None:
        """Redraw."""
        self.preview.update()

    @classmethod
    def headline(cls, session: Session) -> str:
        """How many findings it will carry."""
        count = len(session.findings)
        return f"{count} finding{'' if count == 1 else 's'} on it"
