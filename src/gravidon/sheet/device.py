# SPDX-License-Identifier: GPL-3.0-or-later
"""PDF pages in millimetres, and the application that painting text needs."""

from __future__ import annotations

import tempfile
from collections.abc import Callable, Sequence
from pathlib import Path

from PyQt6.QtCore import QMarginsF
from PyQt6.QtGui import QGuiApplication, QPageLayout, QPageSize, QPainter, QPdfWriter

from gravidon.draw.surface import painter_on
from gravidon.errors import PlanFileError
from gravidon.screen import without_screen
from gravidon.sheet.paper import A4, Paper
from gravidon.translate import language, tr

RESOLUTION = 600


def application_for_painting() -> QGuiApplication | None:
    """Painting text needs a Qt application; make one without a screen if there is none. Keep what is returned."""
    if QGuiApplication.instance() is not None:
        return None
    without_screen()
    return QGuiApplication(["gravidon"])


def pdf_of(title: str, pages: Sequence[Callable[[QPainter], None]], paper: Paper = A4) -> bytes:
    """Return pages as a tagged PDF; each is painted with one unit a millimetre, without margins, on the 210 mm that it is laid out on.

    Raises: PlanFileError if it cannot be made.
    """
    from gravidon.sheet.tagged import tagged

    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "pages.pdf"
        writer = QPdfWriter(str(path))
        writer.setPageSize(QPageSize(paper.size))
        writer.setResolution(RESOLUTION)
        writer.setPageMargins(QMarginsF(0, 0, 0, 0), QPageLayout.Unit.Millimeter)
        writer.setTitle(title)
        writer.setCreator("Gravidon")
        with painter_on(writer) as painter:
            if not painter.isActive():
                raise PlanFileError(tr("the PDF could not be made"))
            painter.scale(RESOLUTION / 25.4, RESOLUTION / 25.4)
            painter.translate(paper.left_mm, 0.0)
            for number, paint in enumerate(pages):
                if number:
                    writer.newPage()
                paint(painter)
        return tagged(path.read_bytes(), title, language())
