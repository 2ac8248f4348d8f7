"""Colours, fonts and the style sheet, by day and by night."""

from __future__ import annotations

import functools
import weakref
from pathlib import Path

from PySide6.QtGui import QColor, QFont, QFontDatabase, QPalette
from PySide6.QtWidgets import QWidget
from shiboken6 import isValid

from zombrel.job.value import Value
from zombrel.units import Units

ASSETS = Path(__file__).parent / "assets"
FONTS = ASSETS / "fonts"
TEXT, MONO = "B612", "B612 Mono"
AFTER_FRAME_MS = 25
"""What nobody can see yet is made this long after a widget was painted: the frame stands then."""


class Theme(Value, frozen=True):
    """One set of colours."""

    name: str
    ground: str
    panel: str
    well: str
    ink: str
    quiet: str
    line: str
    petrol: str
    on_petrol: str
    marigold: str
    on_marigold: str
    good: str
    watch: str
    trouble: str
    rail: str
    rail_ink: str
    rail_quiet: str
    tint: str
    """Background of a selected row."""
    focus: str
    """Ring around what has the keyboard, outline of what is chosen."""
    outline: str
    """Outline of a field."""

    def mark(self, mark: str) -> str:
        """Colour of a state mark."""
        return {
            "good": self.good,
            "watch": self.watch,
            "trouble": self.trouble,
        }.get(mark, self.quiet)


DAY = Theme(
    "day",
    "#ECE7DB",
    "#FAF8F2",
    "#F3EFE5",
    "#1C2630",
    "#56606B",
    "#D3CBBA",
    "#0E5A66",
    "#FFFFFF",
    "#D89A00",
    "#1C2630",
    "#14694B",
    "#8A5600",
    "#AE2A1F",
    "#1F2D39",
    "#F3EFE5",
    "#B9C2C9",
    "#D8E6E4",
    "#9A6C00",
    "#8C836F",
)
NIGHT = Theme(
    "night",
    "#12161A",
    "#1A2026",
    "#151A1F",
    "#ECE6D8",
    "#9AA5AE",
    "#333C45",
    "#5FB7BE",
    "#0E1418",
    "#E9B53A",
    "#14181C",
    "#58C29A",
    "#E5A94B",
    "#F07A68",
    "#0B0E11",
    "#ECE6D8",
    "#9AA5AE",
    "#22343A",
    "#E9B53A",
    "#66727D",
)

QUIET_ROLE = QPalette.ColorRole.PlaceholderText
TROUBLE_ROLE = QPalette.ColorRole.BrightText
WATCH_ROLE = QPalette.ColorRole.LinkVisited
GOOD_ROLE = QPalette.ColorRole.Midlight
PETROL_ROLE = QPalette.ColorRole.Link
"""Palette roles that carry the theme's own colours to labels."""

_fonts_loaded = False
_current = [DAY]


_units = [Units()]


def units() -> Units:
    """The units in use: the one edge at which sentences get theirs."""
    return _units[0]


def use_units(chosen: Units) -> None:
    """Show everything in these units from now on."""
    _units[0] = chosen


def current() -> Theme:
    """The theme in use."""
    return _current[0]


_dressed: weakref.WeakSet[QWidget] = weakref.WeakSet()


def use(t: Theme) -> None:
    """Take another theme for all painting and for every dressed widget."""
    _current[0] = t
    for widget in list(_dressed):
        if isValid(widget):  # Qt may have freed what Python still knows
            widget.setStyleSheet(sheet(t))
        else:
            _dressed.discard(widget)


def dress(widget: QWidget) -> None:
    """Give ``widget`` and all inside it the style sheet.

    Only where fields, tables, menus or scroll bars are: the first screen paints itself, and a
    sheet on the whole application would have to be matched against each of its widgets.
    """
    widget.setStyleSheet(sheet(current()))
    _dressed.add(widget)


def load_fonts() -> None:
    """Register the shipped fonts, once."""
    global _fonts_loaded  # noqa: PLW0603 - Qt's font table is process-wide as well
    if not _fonts_loaded:
        for path in sorted(FONTS.glob("*.otf")):
            QFontDatabase.addApplicationFont(str(path))
        _fonts_loaded = True


@functools.cache
def font(px: int, bold: bool = False, mono: bool = False) -> QFont:
    """A font of so many pixels; shared, so not to be changed."""
    font = QFont(MONO if mono else TEXT)
    font.setPixelSize(px)
    font.setBold(bold)
    return font


def color(text: str, alpha: int = 255) -> QColor:
    """A colour of the theme, perhaps translucent."""
    color = QColor(text)
    color.setAlpha(alpha)
    return color


def palette(t: Theme) -> QPalette:
    """Qt's palette for what the style sheet does not reach."""
    p = QPalette()
    for role, value in (
        (QPalette.ColorRole.Window, t.ground),
        (QPalette.ColorRole.WindowText, t.ink),
        (QPalette.ColorRole.Base, t.panel),
        (QPalette.ColorRole.AlternateBase, t.well),
        (QPalette.ColorRole.Text, t.ink),
        (QPalette.ColorRole.Button, t.panel),
        (QPalette.ColorRole.ButtonText, t.ink),
        (QPalette.ColorRole.Highlight, t.petrol),
        (QPalette.ColorRole.HighlightedText, t.on_petrol),
        (QPalette.ColorRole.ToolTipBase, t.panel),
        (QPalette.ColorRole.ToolTipText, t.ink),
        (QUIET_ROLE, t.quiet),
        (TROUBLE_ROLE, t.trouble),
        (WATCH_ROLE, t.watch),
        (GOOD_ROLE, t.good),
        (PETROL_ROLE, t.petrol),
    ):
        p.setColor(role, QColor(value))
    return p


def sheet(t: Theme) -> str:
    """The style sheet."""
    return f"""
QDialog {{ background: {t.ground}; }}
QLineEdit:focus, QComboBox:focus, QTableView:focus, QTextBrowser:focus,
QPlainTextEdit:focus, QListWidget:focus {{ border: 2px solid {t.focus}; }}
QLineEdit, QComboBox, QSpinBox {{ background: {t.well}; border: 1px solid {t.outline};
    border-radius: 6px; padding: 4px 8px; min-height: 20px;
    selection-background-color: {t.petrol}; selection-color: {t.on_petrol}; }}
QLineEdit[bad="true"], QPlainTextEdit[bad="true"] {{ border: 2px solid {t.trouble}; }}
QLineEdit[big="true"] {{ font-size: 24px; min-height: 36px; }}
QLineEdit#find {{ border-radius: 17px; background: {t.panel}; padding: 6px 16px; }}
QComboBox::drop-down {{ border: none; width: 22px; }}
QComboBox QAbstractItemView {{ background: {t.panel}; border: 1px solid {t.line};
    selection-background-color: {t.petrol}; selection-color: {t.on_petrol}; outline: 0; }}
QCheckBox {{ spacing: 8px; background: transparent; }}
QCheckBox::indicator {{ width: 18px; height: 18px; border: 2px solid {t.quiet};
    border-radius: 4px; background: {t.well}; }}
QCheckBox::indicator:checked {{ background: {t.petrol}; border-color: {t.petrol};
    image: url("{(ASSETS / f"tick-{t.name}.svg").as_posix()}"); }}
QCheckBox:focus {{ color: {t.petrol}; font-weight: bold; }}
QTableView, QTextBrowser, QPlainTextEdit, QListWidget {{ background: {t.panel};
    border: 1px solid {t.line}; border-radius: 8px; gridline-color: {t.line};
    selection-background-color: {t.tint}; selection-color: {t.ink}; }}
QTableView::item {{ padding: 2px 6px; border-bottom: 1px solid {t.line}; }}
QListWidget[plain="true"], QListWidget[plain="true"]:focus {{ border: none; }}
QListWidget::item {{ padding: 7px 10px; border-radius: 6px; }}
QListWidget::item:selected {{ background: {t.tint}; color: {t.ink}; }}
QHeaderView {{ background: transparent; border: none; }}
QHeaderView::section {{ background: {t.panel}; color: {t.quiet}; border: none;
    border-bottom: 1px solid {t.line}; padding: 6px; font-size: 13px; }}
QTableCornerButton::section {{ background: {t.panel}; border: none; }}
QScrollBar:vertical {{ background: transparent; width: 11px; margin: 0; }}
QScrollBar::handle:vertical {{ background: {t.line}; border-radius: 5px; min-height: 40px; }}
QScrollBar:horizontal {{ background: transparent; height: 11px; margin: 0; }}
QScrollBar::handle:horizontal {{ background: {t.line}; border-radius: 5px; min-width: 40px; }}
QScrollBar::add-line, QScrollBar::sub-line {{ width: 0; height: 0; }}
QScrollBar::add-page, QScrollBar::sub-page {{ background: transparent; }}
QMenu {{ background: {t.panel}; border: 1px solid {t.line}; padding: 6px; }}
QMenu::item {{ padding: 8px 26px 8px 14px; border-radius: 4px; }}
QMenu::item:selected {{ background: {t.tint}; }}
QMenu::item:disabled {{ color: {t.quiet}; }}
QMenu::separator {{ height: 1px; background: {t.line}; margin: 5px 8px; }}
QToolTip {{ background: {t.panel}; color: {t.ink}; border: 1px solid {t.line}; padding: 6px; }}
"""
