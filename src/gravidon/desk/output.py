# SPDX-License-Identifier: GPL-3.0-or-later
"""What leaves the window on paper or as a file: shop sheets, the printer, and pictures of a station's drawing."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtCore import QPoint
from PyQt6.QtGui import QPageSize
from PyQt6.QtWidgets import QFileDialog, QMessageBox, QWidget

from gravidon.desk.canvas import AS_VECTORS
from gravidon.desk.mishap import report_text
from gravidon.desk.session import Session
from gravidon.draw.font_face import whole_svg
from gravidon.draw.surface import painter_on
from gravidon.errors import GravidonError
from gravidon.plan.files import write_atomically
from gravidon.plan.model import Plan
from gravidon.words.text import tr

if TYPE_CHECKING:
    from PyQt6.QtPrintSupport import QPrinter


def file_name(text: str) -> str:
    """Return a name any file system takes: letters, figures, spaces, hyphens and underscores, 60 characters at most.

    >>> file_name("Estate: 2/3, first plan")
    'Estate 2 3 first plan'
    >>> file_name("...")
    'plan'
    """
    kept = "".join(c if c.isalnum() or c in " -_" else " " for c in text)
    return " ".join(kept.split())[:60] or "plan"


def save_sheet(parent: QWidget, session: Session, folder: Path, kind: str) -> str | None:
    """Ask where and write the shop sheet ("pdf" or "html"); return what to tell, None if the builder turned back."""
    start = folder / tr("{file_name} sheet.{kind}").format(file_name=file_name(session.plan.name), kind=kind)
    name, _ = QFileDialog.getSaveFileName(parent, tr("Save the shop sheet"), str(start), f"*.{kind}")
    if not name:
        return None
    path = Path(name) if Path(name).suffix.lower() == f".{kind}" else Path(f"{name}.{kind}")
    from gravidon.sheet.paper import paper_named
    from gravidon.sheet.shop_sheet import write_sheet

    try:
        write_sheet(session.evaluation, path, session.family, paper_named(session.paper))
    except GravidonError as error:
        return str(error)
    return tr("Sheet written to {name}.").format(name=path.name)


def print_sheet(parent: QWidget, session: Session) -> str | None:
    """Ask for a printer and send it the sheet with its workshop pages; return what to tell, None for nothing."""
    from PyQt6.QtPrintSupport import QPrintDialog, QPrinter

    from gravidon.sheet.paper import paper_named

    printer = QPrinter(QPrinter.PrinterMode.HighResolution)
    printer.setFullPage(True)
    printer.setPageSize(QPageSize(paper_named(session.paper).size))
    if not QPrintDialog(printer, parent).exec():
        return None
    return None if print_pages(printer, session) else tr("The printer did not accept the page.")


def print_pages(printer: QPrinter, session: Session) -> bool:
    """Paint the sheet on a printer, laid out for the paper that is in it; return whether it took it."""
    from gravidon.sheet import page, workshop
    from gravidon.sheet.paper import LAID_OUT_MM

    size = printer.pageLayout().pageSize().size(QPageSize.Unit.Millimeter)
    with painter_on(printer) as painter:
        if not painter.isActive():
            return False
        painter.scale(printer.resolution() / 25.4, printer.resolution() / 25.4)
        painter.translate(0.5 * (size.width() - LAID_OUT_MM), 0.0)
        page.paint_page(painter, session.evaluation, session.family, size.height())
        for more in workshop.pages(session.evaluation, session.family, size.height()):
            printer.newPage()
            more.paint(painter)
    return True


def save_picture(parent: QWidget, drawing: QWidget, name: str, folder: Path) -> str | None:
    """Ask where and save a drawing as SVG, or as PNG by the ending; return what to tell, None if turned back."""
    start = folder / f"{file_name(name)}.svg"
    chosen, _ = QFileDialog.getSaveFileName(
        parent, tr("Save the picture"), str(start), "SVG (*.svg);;PNG (*.png)"
    )
    if not chosen:
        return None
    path = Path(chosen)
    done = drawing.grab().save(str(path)) if path.suffix.lower() == ".png" else _as_svg(drawing, path)
    return (
        tr("Picture written to {name}.").format(name=path.name)
        if done
        else tr("{name} cannot be written.").format(name=path.name)
    )


def _as_svg(drawing: QWidget, path: Path) -> bool:
    from PyQt6.QtCore import QBuffer, QByteArray, QIODevice
    from PyQt6.QtSvg import QSvgGenerator

    data = QByteArray()
    buffer = QBuffer(data)
    buffer.open(QIODevice.OpenModeFlag.WriteOnly)
    generator = QSvgGenerator()
    generator.setOutputDevice(buffer)
    generator.setSize(drawing.size())
    generator.setViewBox(drawing.rect())
    drawing.setProperty(AS_VECTORS, True)
    try:
        with painter_on(generator) as painter:
            if not painter.isActive():
                return False
            drawing.render(painter, QPoint(0, 0))
    finally:
        drawing.setProperty(AS_VECTORS, False)
    text = bytes(data.data()).decode("utf-8")
    made = whole_svg(text, drawing.accessibleName() or tr("Drawing"), drawing.accessibleDescription())
    try:
        write_atomically(path, made.encode("utf-8"))
    except GravidonError:
        return False
    return True


def save_report(parent: QWidget, trace: str, plan: Plan, folder: Path) -> str | None:
    """Ask whether the plan goes into a report and where it is written; return what to tell, None if turned back."""
    if not trace:
        return tr("Nothing has gone wrong so far: there is nothing to report.")
    buttons = QMessageBox.StandardButton
    answer = QMessageBox.question(
        parent,
        tr("Report"),
        tr("The report holds versions and the place in the program. Put the plan into it too?"),
        buttons.Yes | buttons.No | buttons.Cancel,
        buttons.No,
    )
    if answer == buttons.Cancel:
        return None
    chosen, _ = QFileDialog.getSaveFileName(
        parent, tr("Save the report"), str(folder / "gravidon report.txt"), tr("Text (*.txt)")
    )
    if not chosen:
        return None
    text = report_text(trace, plan if answer == buttons.Yes else None)
    try:
        write_atomically(Path(chosen), text.encode("utf-8"))
    except GravidonError as error:
        return str(error)
    return tr("Report written to {name}.").format(name=Path(chosen).name)
