# SPDX-License-Identifier: GPL-3.0-or-later
"""The window's palette, type and style sheet, from the drawing style."""

from __future__ import annotations

from importlib import resources
from pathlib import Path

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QColor, QPalette
from PyQt6.QtWidgets import QApplication, QWidget

from gravidon.draw import style
from gravidon.draw.style import CLEAR_DARK, CLEAR_LIGHT, DARK, LIGHT, Palette

PALETTES: dict[str, Palette] = {p.name: p for p in (LIGHT, DARK, CLEAR_LIGHT, CLEAR_DARK)}
OTHER = {"light": "dark", "dark": "light", "clear light": "clear dark", "clear dark": "clear light"}
"""The dark one of a light theme, and the other way round."""
CLEARER = {"light": "clear light", "dark": "clear dark", "clear light": "light", "clear dark": "dark"}
"""The one of high contrast, and back."""
SYSTEM = "system"
"""What is remembered while the theme follows the system's."""


def system_theme(application: QApplication) -> str:
    """Return the theme the system asks for: light or dark, clear where it wants more contrast."""
    hints = application.styleHints()
    if hints is None:
        return "light"
    name = "dark" if hints.colorScheme() == Qt.ColorScheme.Dark else "light"
    wishes = hints.accessibility()
    more = wishes is not None and wishes.contrastPreference() == Qt.ContrastPreference.HighContrast
    return CLEARER[name] if more else name


WORN, SHEETED = "worn theme", "theme of its sheet"
"""Properties of the application: the theme it wears, and the one of its own sheet, under a window's."""


def apply(application: QApplication, name: str, window: QWidget | None = None) -> None:
    """Dress the application; where it wears a theme already, its window over it: a sheet of the window reaches its dialogs and menus too, and is taken in a
    fifth of the time that one of the application needs. What is worn is not put on again."""
    if application.property(WORN) == name and (window is not None or application.property(SHEETED) == name):
        return
    p = PALETTES[name]
    if application.property(WORN) is None:
        application.setStyle("Fusion")
        application.setFont(style.font())
    application.setProperty(WORN, name)
    qt = QPalette()
    roles = QPalette.ColorRole
    for role, colour in (
        (roles.Window, p.paper),
        (roles.Base, p.raised),
        (roles.AlternateBase, p.sheet),
        (roles.Button, p.raised),
        (roles.WindowText, p.ink),
        (roles.Text, p.ink),
        (roles.ButtonText, p.ink),
        (roles.Highlight, p.focus),
        (roles.HighlightedText, p.sheet),
        (roles.ToolTipBase, p.raised),
        (roles.ToolTipText, p.ink),
        (roles.PlaceholderText, p.faint),
        (roles.Link, p.focus),
    ):
        qt.setColor(role, QColor(colour))
    for role in (roles.WindowText, roles.Text, roles.ButtonText):
        qt.setColor(QPalette.ColorGroup.Disabled, role, QColor(p.faint))
    application.setPalette(qt)
    if window is None:
        application.setProperty(SHEETED, name)
        application.setStyleSheet(sheet(p))
        return
    window.setUpdatesEnabled(False)
    window.setStyleSheet(sheet(p))
    window.setUpdatesEnabled(True)


def is_dark(p: Palette) -> bool:
    """Return whether a palette's ground is dark."""
    return QColor(p.paper).lightness() < 128


def _icon(p: Palette, what: str) -> str:
    return str(
        Path(
            str(
                resources.files("gravidon.draw").joinpath(
                    f"icons/{what}-{'dark' if is_dark(p) else 'light'}.svg"
                )
            )
        )
    )


WASH = 0.09
"""[-] of the verdict's colour in the ground of its band; project choice."""


def mixed(ground: str, colour: str, share: float = WASH) -> str:
    """Return a ground with a share of a colour in it.

    >>> mixed("#000000", "#ffffff", 0.5)
    '#808080'
    """
    pairs = zip(QColor(ground).getRgb()[:3], QColor(colour).getRgb()[:3], strict=True)
    return "#" + "".join(f"{round(g + share * (c - g)):02x}" for g, c in pairs)


def sheet(p: Palette) -> str:
    """Return the style sheet of a palette."""
    return f"""
QWidget {{ font-size: {style.BODY}px; color: {p.ink}; }}
QLabel {{ qproperty-textFormat: PlainText; }}
QLabel[markup="true"] {{ qproperty-textFormat: RichText; }}
QMainWindow, QDialog {{ background: {p.paper}; }}
QToolTip {{ background: {p.raised}; color: {p.ink}; border: 1px solid {p.line}; padding: 4px; }}
QLabel[role="title"] {{ font-size: {style.HUGE}px; font-weight: 600; }}
QLabel[role="question"] {{ color: {p.faint}; }}
QLabel[role="section"] {{ font-weight: 600; padding-top: 6px; qproperty-indent: 0; }}
QLabel[role="faint"] {{ color: {p.faint}; }}
QLabel[role="bad"] {{ color: {p.bad}; font-weight: 600; }}
QLabel[role="caption"] {{ font-size: {style.SMALL}px; background: {p.sheet}; }}
QLabel[role="verdict"] {{ font-size: {style.GIANT}px; font-weight: 600; }}
QFrame#verdict {{ background: {p.paper}; border-bottom: 2px solid {p.line}; }}
QFrame#verdict[verdict="fails"] {{ background: {mixed(p.paper, p.bad)}; border-bottom: 2px solid {p.bad}; }}
QFrame#verdict[verdict="watch"] {{ background: {mixed(p.paper, p.watch)}; border-bottom: 2px solid {p.watch}; }}
QFrame#verdict[verdict="holds"] {{ background: {mixed(p.paper, p.good)}; border-bottom: 2px solid {p.good}; }}
QCheckBox {{ min-height: 24px; }}
QDialogButtonBox, QMessageBox {{ dialogbuttonbox-buttons-have-icons: 0; }}
QLabel#qt_msgboxex_icon_label {{ max-width: 0px; min-width: 0px; }}
QFrame#flagcard {{ background: {p.raised}; border: 1px solid {p.focus}; border-radius: 3px; }}
QToolButton[link="true"] {{ border: 0; padding: 3px 0; color: {p.focus}; min-height: 20px; }}
QToolButton[link="true"]:focus {{ border: 2px solid {p.focus}; padding: 1px 0; }}
QFrame#head {{ background: {p.paper}; border: 0; }}
QFrame#station {{ background: {p.sheet}; border: 0; }}
QScrollArea, QScrollArea > QWidget > QWidget {{ background: {p.paper}; border: 0; }}
QScrollArea#fields, QScrollArea#fields > QWidget > QWidget {{ background: {p.sheet}; border: 0; }}
QFrame[role="card"] {{ background: {p.raised}; border: 1px solid {p.line}; border-radius: 3px; }}
QFrame[role="card"][chosen="true"] {{ border: 1px solid {p.focus}; }}
QLineEdit, QComboBox, QSpinBox {{ background: {p.raised}; border: 0; border-bottom: 1.5px solid {p.edge};
  padding: 3px 5px; min-height: 18px; selection-background-color: {p.focus}; selection-color: {p.sheet}; }}
QLineEdit[guess="true"], QComboBox[guess="true"] {{ border-bottom: 1.5px dashed {p.watch}; }}
QLineEdit[wrong="true"] {{ border-bottom: 2px solid {p.bad}; }}
QLineEdit:focus, QComboBox:focus, QSpinBox:focus {{ border-bottom: 2px solid {p.focus}; }}
QComboBox::drop-down {{ border: 0; width: 20px; }}
QComboBox::down-arrow {{ image: url("{_icon(p, "open")}"); width: 10px; height: 10px; }}
QComboBox QAbstractItemView {{ background: {p.raised}; border: 1px solid {p.line}; selection-background-color: {p.focus};
  selection-color: {p.sheet}; }}
QToolButton, QPushButton {{ background: transparent; border: 1px solid {p.edge}; border-radius: 3px; padding: 4px 10px; }}
QToolButton[bare="true"] {{ border: 1px solid transparent; }}
QToolButton:hover, QPushButton:hover {{ background: {p.raised}; border-color: {p.faint}; }}
QToolButton:pressed, QPushButton:pressed {{ background: {p.sheet}; }}
QToolButton:checked {{ background: {p.raised}; border-color: {p.focus}; }}
QToolButton:focus, QPushButton:focus {{ border: 2px solid {p.focus}; padding: 3px 9px; }}
QToolButton:disabled, QPushButton:disabled {{ color: {p.faint}; }}
QPushButton:checked {{ background: {p.window}; border: 2px solid {p.ink}; font-weight: 600; }}
QToolButton:checked:focus, QPushButton:checked:focus {{ border: 3px double {p.focus}; padding: 2px 8px; }}
QPushButton[role="main"] {{ background: {p.ink}; color: {p.sheet}; border-color: {p.ink}; }}
QPushButton[role="main"]:disabled {{ background: transparent; color: {p.faint}; border-color: {p.edge}; }}
QPushButton[role="main"]:focus {{ border: 2px solid {p.focus}; }}
QToolButton::menu-indicator {{ width: 0; }}
QPushButton::menu-indicator {{ width: 0; image: none; }}
QMenu {{ background: {p.raised}; border: 1px solid {p.line}; padding: 4px; }}
QMenu::item {{ padding: 5px 22px; }}
QMenu::item:selected {{ background: {p.focus}; color: {p.sheet}; }}
QMenu::item:disabled {{ color: {p.faint}; }}
QMenu::separator {{ height: 1px; background: {p.line}; margin: 4px 8px; }}
QTableWidget {{ background: {p.sheet}; alternate-background-color: {p.raised}; border: 1px solid {p.line};
  gridline-color: {p.line}; selection-background-color: {p.focus}; selection-color: {p.sheet}; }}
QHeaderView::section {{ background: {p.sheet}; color: {p.faint}; border: 0; border-bottom: 1px solid {p.line};
  padding: 4px 6px; font-weight: 400; }}
QTableCornerButton::section {{ background: {p.sheet}; border: 0; }}
QSplitter::handle {{ background: {p.line}; }}
QSplitter::handle:hover {{ background: {p.focus}; }}
QScrollBar:vertical {{ background: transparent; width: 12px; margin: 0; }}
QScrollBar::handle:vertical {{ background: {p.edge}; border-radius: 4px; min-height: 28px; }}
QScrollBar:horizontal {{ background: transparent; height: 12px; margin: 0; }}
QScrollBar::handle:horizontal {{ background: {p.edge}; border-radius: 4px; min-width: 28px; }}
QScrollBar::add-line, QScrollBar::sub-line {{ width: 0; height: 0; }}
QScrollBar::add-page, QScrollBar::sub-page {{ background: transparent; }}
QProgressBar {{ background: {p.sheet}; border: 1px solid {p.edge}; border-radius: 3px; text-align: center; color: {p.ink}; min-height: 18px; }}
QProgressBar::chunk {{ background: {mixed(p.sheet, p.oil, 0.45)}; border-radius: 2px; }}
QSlider::groove:horizontal {{ height: 4px; background: {p.edge}; border-radius: 2px; }}
QSlider::sub-page:horizontal {{ background: {p.oil}; border-radius: 2px; }}
QSlider::handle:horizontal {{ width: 14px; height: 24px; margin: -10px 0; background: {p.raised}; border: 1.5px solid {p.wall}; border-radius: 4px; }}
QSlider::handle:horizontal:focus {{ border-color: {p.focus}; }}
QSlider {{ min-height: 26px; }}
QCheckBox {{ spacing: 6px; }}
QCheckBox::indicator, QListWidget::indicator, QTreeWidget::indicator {{ width: 14px; height: 14px; border: 1px solid {p.edge};
  border-radius: 2px; background: {p.raised}; }}
QCheckBox::indicator:checked, QListWidget::indicator:checked, QTreeWidget::indicator:checked {{ image: url("{_icon(p, "tick")}"); }}
QCheckBox::indicator:focus {{ border: 2px solid {p.focus}; }}
QListWidget, QTextBrowser {{ background: {p.sheet}; border: 1px solid {p.line}; }}
QListWidget::item {{ padding: 5px 8px; }}
QTreeWidget::item {{ min-height: 24px; }}
QListWidget::item:selected {{ background: {p.focus}; color: {p.sheet}; }}
"""
