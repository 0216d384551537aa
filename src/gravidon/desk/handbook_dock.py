# SPDX-License-Identifier: GPL-3.0-or-later
"""The handbook beside the work: pages in plain Markdown, their figures drawn from the plan, its own numbers worked through."""

from __future__ import annotations

from typing import Any

from PyQt6.QtCore import QRectF, Qt, QTimer, QUrl
from PyQt6.QtGui import QImage, QKeyEvent
from PyQt6.QtWidgets import (
    QDockWidget,
    QHBoxLayout,
    QLineEdit,
    QListWidget,
    QListWidgetItem,
    QTextBrowser,
    QVBoxLayout,
    QWidget,
)

from gravidon.desk.box import Box
from gravidon.desk.session import Session
from gravidon.desk.theme import PALETTES
from gravidon.desk.there import there
from gravidon.draw.figures import FIGURES
from gravidon.draw.ink import Ink
from gravidon.draw.surface import painter_on
from gravidon.handbook import PAGES, page_text, page_with
from gravidon.sheet.worked import worked
from gravidon.words.text import tr

SHARP = 2.0
"""A figure's pixels over the screen's; project choice."""
PAUSE_MS = 250


class FigureBrowser(QTextBrowser):
    """A text browser whose pictures are drawn when they are asked for, by the painters of the window."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.setAccessibleName(tr("Handbook page"))
        self.setOpenLinks(False)

    def loadResource(self, kind: int, name: QUrl) -> Any:
        """Draw the figure that the page names."""
        if name.scheme() != "figure" or name.path() not in FIGURES:
            return super().loadResource(kind, name)
        figure = FIGURES[name.path()]
        scale = max(there(self.viewport()).width() - 44, 300) / figure.width
        sharp = SHARP * scale
        image = QImage(round(figure.width * sharp), round(figure.height * sharp), QImage.Format.Format_RGB32)
        image.setDevicePixelRatio(SHARP)
        colours = PALETTES[self.session.theme]
        image.fill(colours.color("sheet"))
        with painter_on(image) as painter:
            painter.scale(scale, scale)
            ink = Ink(painter, colours, self.session.family)
            area = QRectF(0, 0, figure.width, figure.height)
            figure.paint(ink, area, self.session.evaluation, self.session.condition)
        return image


class Handbook(QDockWidget):
    """The handbook beside the work: a page, a search over all pages."""

    def __init__(self, session: Session, parent: QWidget | None = None) -> None:
        super().__init__(tr("Handbook"), parent)
        self.session = session
        self.setObjectName("handbook")
        self.setAllowedAreas(Qt.DockWidgetArea.LeftDockWidgetArea | Qt.DockWidgetArea.RightDockWidgetArea)
        body = QWidget()
        column = QVBoxLayout(body)
        column.setContentsMargins(10, 8, 10, 8)
        bar = QHBoxLayout()
        self.pages = Box()
        self.pages.setAccessibleName(tr("Handbook pages"))
        self.pages.addItems(list(PAGES.values()))
        self.line = QLineEdit()
        self.line.setPlaceholderText(tr("Search the handbook"))
        self.line.setAccessibleName(tr("Search the handbook"))
        bar.addWidget(self.pages, 1)
        bar.addWidget(self.line, 1)
        column.addLayout(bar)
        self.found = QListWidget()
        self.found.setAccessibleName(tr("Places found"))
        self.found.setMaximumHeight(150)
        self.found.hide()
        column.addWidget(self.found)
        self.text = FigureBrowser(session)
        there(self.text.document()).setDocumentMargin(14)
        column.addWidget(self.text, 1)
        self.setWidget(body)
        self.setMinimumWidth(400)
        self.pages.currentIndexChanged.connect(self._show)
        self.line.textChanged.connect(self._search)
        self.found.itemActivated.connect(self._go)
        self.found.itemClicked.connect(self._go)
        self.soon = QTimer(self)  # pages follow the plan, the condition and the dock's width, at rest
        self.soon.setSingleShot(True)
        self.soon.setInterval(PAUSE_MS)
        self.soon.timeout.connect(self.follow)
        for signal in (session.changed, session.look_changed):
            signal.connect(self.soon.start)

    @property
    def page(self) -> str:
        """The page that is open."""
        return list(PAGES)[self.pages.currentIndex()]

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Escape puts the handbook away."""
        if event is not None and event.key() == Qt.Key.Key_Escape:
            self.close()
        else:
            super().keyPressEvent(event)

    def open_at(self, page: str) -> None:
        """Show a page."""
        row = list(PAGES).index(page) if page in PAGES else 0
        self.pages.setCurrentIndex(row)
        self.show()
        self.raise_()
        self._show(row)

    def resizeEvent(self, event: object) -> None:
        """Draw the figures anew when the width has settled."""
        self.soon.start()

    def follow(self) -> None:
        """Show the page with the plan as it is now, where it was being read."""
        if self.isVisible():
            bar = there(self.text.verticalScrollBar())
            at = bar.value()
            self._show(self.pages.currentIndex())
            bar.setValue(at)

    def _show(self, row: int) -> None:
        page = list(PAGES)[row]
        s = self.session
        lines = worked(s.evaluation, s.condition, s.family).get(page, ())
        document = there(self.text.document())
        document.clear()  # drawn pictures are kept by name otherwise
        self.text.setMarkdown(page_with(page, s.evaluation.names[s.condition], lines))

    def _search(self, words: str) -> None:
        """List every paragraph that holds all the words; say so where none does."""
        self.found.clear()
        wanted = words.lower().split()
        self.found.setVisible(bool(wanted))
        for page, name in PAGES.items() if wanted else ():
            for paragraph in page_text(page).split("\n\n"):
                if paragraph.startswith(("![", "<!--")):
                    continue
                if all(w in paragraph.lower() for w in wanted):
                    plain = " ".join(paragraph.replace("#", "").replace("*", "").split())
                    item = QListWidgetItem(f"{name}: {plain[:110]}")
                    item.setData(Qt.ItemDataRole.UserRole, (page, wanted[0]))
                    self.found.addItem(item)
        if wanted and not self.found.count():
            self.found.addItem(tr("Nothing found in the handbook."))

    def _go(self, item: QListWidgetItem) -> None:
        known = item.data(Qt.ItemDataRole.UserRole)
        if known:
            page, word = known
            self.pages.setCurrentIndex(list(PAGES).index(page))
            self._show(list(PAGES).index(page))
            self.text.find(word)
