"""Looks for the toolkit: colours, fonts and the style sheet, made from the one source of looks."""

from __future__ import annotations

from functools import lru_cache
from importlib.util import find_spec
from typing import Literal

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QColor, QFont, QFontDatabase, QPalette, QPen
from PyQt6.QtWidgets import QApplication

from yellow_slope import looks
from yellow_slope.looks import SIZES, Palette

_palette: Palette = looks.LIGHT


def palette() -> Palette:
    """The colours in use."""
    return _palette


def is_dark() -> bool:
    """Whether the dark theme is in use."""
    return _palette is looks.DARK


@lru_cache(maxsize=512)
def colour(value: str, opacity: float = 1.0) -> QColor:
    """A colour token for the painter; the same one each time, not to be changed."""
    found = QColor(value)
    found.setAlphaF(opacity)
    return found


@lru_cache(maxsize=512)
def pen(value: str, width: float = 1.0, opacity: float = 1.0, dashed: bool = False) -> QPen:
    """A pen of a colour token; the same one each time, not to be changed."""
    return QPen(colour(value, opacity), width, Qt.PenStyle.DashLine if dashed else Qt.PenStyle.SolidLine)


Heaviness = Literal["normal", "medium", "bold"]


def font(size: int = SIZES.text, weight: Heaviness = "normal", italic: bool = False) -> QFont:
    """A font of the bundled family."""
    made = QFont(f"{looks.FONT_FAMILY} Medium" if weight == "medium" else looks.FONT_FAMILY)
    made.setPixelSize(size)
    made.setBold(weight == "bold")
    made.setItalic(italic)
    return made


def load_fonts() -> None:
    """Make the bundled fonts known to the toolkit."""
    for path in looks.FONT_FILES:
        QFontDatabase.addApplicationFont(str(path))
    found = find_spec("matplotlib")
    for folder in (found.submodule_search_locations or []) if found is not None else []:
        for style in ("", "-Bold"):  # for scripts that the bundled font has not, where the system has no font for them
            QFontDatabase.addApplicationFont(f"{folder}/mpl-data/fonts/ttf/DejaVuSans{style}.ttf")


def dress(app: QApplication, dark: bool = False) -> None:
    """Give the application its fonts, palette and style sheet."""
    global _palette
    _palette = looks.DARK if dark else looks.LIGHT
    sheet = style_sheet(_palette)
    if app.styleSheet() == sheet:  # dressed so already: every widget would be dressed again
        return
    if not app.styleSheet():
        app.setStyle("Fusion")
    app.setStyleSheet("")  # with Qt 6.11 a sheet in the place of another takes 0.45 s for 500 widgets, after none 0.1 s
    app.setFont(font())
    tint = QPalette()
    role = QPalette.ColorRole
    for which, value in (
        (role.Window, _palette.paper),
        (role.Base, _palette.panel),
        (role.AlternateBase, _palette.paper),
        (role.WindowText, _palette.ink),
        (role.Text, _palette.ink),
        (role.ButtonText, _palette.ink),
        (role.Button, _palette.panel),
        (role.ToolTipBase, _palette.panel),
        (role.ToolTipText, _palette.ink),
        (role.PlaceholderText, _palette.soft_ink),
        (role.HighlightedText, _palette.ink),
        (role.Highlight, looks.blended(_palette.yellow, _palette.panel, 0.35)),
        (role.Link, _palette.link),
    ):
        tint.setColor(which, colour(value))
    app.setPalette(tint)
    app.setStyleSheet(sheet)


def style_sheet(p: Palette) -> str:
    """The style sheet of a theme."""
    chosen = looks.blended(p.yellow, p.panel, 0.35)
    return f"""
    QWidget {{ color: {p.ink}; }}
    QMainWindow, QWidget#paper {{ background: {p.paper}; }}
    QWidget#panel {{ background: {p.panel}; }}
    QToolTip {{ background: {p.panel}; color: {p.ink}; border: 1px solid {p.line}; padding: 5px 7px; }}
    QLabel#panel {{ background: {p.panel}; }}
    QLabel#soft, QPushButton#soft {{ color: {p.soft_ink}; }}
    QLabel#small {{ color: {p.soft_ink}; font-size: {SIZES.small}px; }}
    QLabel#title {{ font-size: {SIZES.title}px; font-weight: bold; }}
    QLabel#strong {{ font-weight: bold; }}
    QLabel#figures {{ color: {p.soft_ink}; }}
    QLabel#amber {{ color: {p.amber_ink}; }}
    QFrame#flagged {{ background: {looks.blended(p.yellow, p.panel, 0.16)}; border: none;
        border-left: 3px solid {p.yellow}; }}
    QFrame#popup {{ background: {p.panel}; border: 1px solid {p.soft_ink}; border-radius: {SIZES.radius}px; }}
    QFrame#line {{ background: {p.line}; border: none; }}
    QLineEdit {{ background: {p.panel}; border: 1px solid {p.line}; border-radius: {SIZES.radius}px; padding: 4px 9px;
                 selection-background-color: {chosen}; selection-color: {p.ink}; }}
    QPlainTextEdit {{ background: {p.panel}; border: 1px solid {p.line}; border-radius: {SIZES.radius}px;
                 padding: 3px 5px; selection-background-color: {chosen}; selection-color: {p.ink}; }}
    QPlainTextEdit:focus {{ border: 2px solid {p.yellow}; padding: 2px 4px; }}
    QLineEdit:focus, QComboBox:focus {{ border: 2px solid {p.yellow}; padding: 3px 8px; }}
    QLineEdit#wrong:focus {{ border: 2px solid {p.amber_ink}; }}
    QToolButton, QPushButton {{ background: transparent; border: 1px solid transparent; border-radius: {SIZES.radius}px;
                 padding: 3px 8px; }}
    QToolButton:hover, QPushButton:hover {{ background: {p.pressed}; }}
    QToolButton:focus, QPushButton:focus {{ border: 2px solid {p.yellow}; padding: 2px 7px; }}
    QToolButton:disabled, QPushButton:disabled {{ color: {p.faint_ink}; }}
    QToolButton::menu-indicator {{ image: none; }}
    QToolButton#chip, QPushButton#chip {{ background: {p.panel}; border: 1px solid {p.line}; padding: 4px 9px; }}
    QToolButton#chip:hover, QPushButton#chip:hover {{ border-color: {p.soft_ink}; }}
    QToolButton#chip:focus, QPushButton#chip:focus {{ border: 2px solid {p.yellow}; padding: 3px 8px; }}
    QToolButton#chip:checked {{ background: {chosen}; border-color: {p.amber_ink}; }}
    QPushButton#fold {{ background: {p.panel}; color: {p.soft_ink}; border-radius: 0; padding: 6px 10px;
        text-align: left; }}
    QPushButton#fold:focus {{ border: 2px solid {p.yellow}; padding: 5px 9px; }}
    QLabel#softpanel {{ color: {p.soft_ink}; background: {p.panel}; }}
    QToolButton#tab {{ padding: 3px 9px; color: {p.soft_ink}; border-radius: {SIZES.radius}px; }}
    QToolButton#tab:checked {{ color: {p.ink}; font-weight: bold; background: {chosen}; }}
    QToolButton#tab:focus {{ border: 2px solid {p.yellow}; padding: 2px 8px; }}
    QToolButton#link, QPushButton#link {{ color: {p.link}; font-weight: bold; font-size: 12px; padding: 2px 5px; }}
    QToolButton#link:disabled, QPushButton#link:disabled {{ color: {p.faint_ink}; }}
    QPushButton#main {{ background: {p.ink}; color: {p.paper}; padding: 7px 16px; }}
    QPushButton#main:focus {{ border: 2px solid {p.yellow}; padding: 6px 15px; }}
    QMenu {{ background: {p.panel}; border: 1px solid {p.line}; padding: 4px; }}
    QMenu::item {{ padding: 5px 22px 5px 12px; border-radius: 4px; }}
    QMenu::item:selected {{ background: {chosen}; color: {p.ink}; }}
    QMenu::item:disabled {{ color: {p.faint_ink}; }}
    QMenu::separator {{ height: 1px; background: {p.line}; margin: 4px 8px; }}
    QListView, QListWidget {{ background: {p.panel}; border: none; outline: none; }}
    QListView::item, QListWidget::item {{ padding: 4px 8px; border-radius: 4px; }}
    QListView::item:selected, QListWidget::item:selected {{ background: {chosen}; color: {p.ink}; }}
    QTableView {{ background: {p.panel}; gridline-color: {p.line}; border: none; outline: none;
                  selection-background-color: {looks.blended(p.yellow, p.panel, 0.25)}; selection-color: {p.ink}; }}
    QTableView:focus {{ border: 2px solid {p.yellow}; }}
    QHeaderView::section {{ background: {p.paper}; color: {p.soft_ink}; border: none; border-right: 1px solid {p.line};
                  border-bottom: 1px solid {p.line}; padding: 2px 6px; }}
    QTableCornerButton::section {{ background: {p.paper}; border: none; }}
    QScrollArea {{ background: transparent; border: none; }}
    QScrollBar:vertical {{ background: transparent; width: 10px; margin: 0; }}
    QScrollBar:horizontal {{ background: transparent; height: 10px; margin: 0; }}
    QScrollBar::handle {{ background: {p.line}; border-radius: 4px; min-height: 28px; min-width: 28px; margin: 1px; }}
    QScrollBar::handle:hover {{ background: {p.faint_ink}; }}
    QScrollBar::add-line, QScrollBar::sub-line {{ width: 0; height: 0; }}
    QScrollBar::add-page, QScrollBar::sub-page {{ background: transparent; }}
    QTextBrowser {{ background: {p.panel}; border: none; }}
    QTextBrowser#printed {{ background: {looks.LIGHT.panel}; color: {looks.LIGHT.ink}; }}
    QCheckBox {{ spacing: 7px; }}
    QComboBox {{ background: {p.panel}; border: 1px solid {p.line}; border-radius: {SIZES.radius}px;
        padding: 4px 9px; }}
    QComboBox::drop-down {{ border: none; width: 20px; }}
    QComboBox QAbstractItemView {{ background: {p.panel}; border: 1px solid {p.line};
        selection-background-color: {chosen}; selection-color: {p.ink}; }}
    QDialog {{ background: {p.paper}; }}
    """
