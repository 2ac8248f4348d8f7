"""Small building blocks every screen uses."""

from __future__ import annotations

import importlib
import sys
import threading
from collections.abc import Callable, Sequence
from typing import Any, TypeVar

from PySide6.QtCore import QObject, Qt, QTimer
from PySide6.QtWidgets import (
    QBoxLayout,
    QFrame,
    QHBoxLayout,
    QLayout,
    QScrollArea,
    QSizePolicy,
    QVBoxLayout,
    QWidget,
)

from zombrel.ui.theme import AFTER_FRAME_MS
from zombrel.ui.widgets.paint import Bar, Panel, Pill, Words, shown

W = TypeVar("W", bound=QWidget)


def label(text: str = "", role: str = "", wrap: bool = False) -> Words:
    """A label; ``role`` chooses size, weight and colour."""
    shown_text = Words(text, role)
    shown_text.setWordWrap(wrap)
    return shown_text


LOOK_MS = 15
"""So often it is looked whether something was loaded [ms]."""


def after_frame(widget: QWidget, call: Callable[[], Any]) -> None:
    """From a paint event: do what nobody can see yet, a moment after this frame stands.

    The moment is counted from the end of the frame, however long its painting takes.
    """
    QTimer.singleShot(0, widget, lambda: QTimer.singleShot(AFTER_FRAME_MS, widget, call))


def when_loaded(parent: QObject, module: str, call: Callable[[], Any]) -> None:
    """Have a module loaded in a thread, then do what needs it in the window's."""
    loader = threading.Thread(target=importlib.import_module, args=(module,), daemon=True)
    if module not in sys.modules:
        loader.start()
    clock = QTimer(parent)

    def look() -> None:
        if not loader.is_alive():
            clock.stop()
            clock.deleteLater()
            call()

    clock.timeout.connect(look)
    clock.start(LOOK_MS)
    look()


def set_role(widget: QWidget, name: str, value: str) -> None:
    """Change a style property and have it take effect."""
    if widget.property(name) != value:
        widget.setProperty(name, value)
        widget.style().unpolish(widget)
        widget.style().polish(widget)


def button(
    text: str, action: Callable[[], Any] | None = None, kind: str = "", name: str = ""
) -> Pill:
    """A button with an accessible name."""
    pill = Pill(text, kind)
    pill.setAccessibleName(shown(name or text))
    pill.setCursor(Qt.CursorShape.PointingHandCursor)
    pill.setAutoDefault(True)
    if action is not None:
        pill.clicked.connect(lambda _=False: action())
    return pill


def card(layout: QBoxLayout | None = None, margins: int = 12) -> tuple[Panel, QBoxLayout]:
    """A framed panel and its layout."""
    frame = Panel("card")
    inner = layout or QVBoxLayout()
    inner.setContentsMargins(margins + 2, margins, margins + 2, margins)
    inner.setSpacing(6)
    frame.setLayout(inner)
    return frame, inner


def row(*items: QWidget | QLayout | int, spacing: int = 8) -> QHBoxLayout:
    """A horizontal layout; an int is a stretch of that weight."""
    box = QHBoxLayout()
    box.setContentsMargins(0, 0, 0, 0)
    box.setSpacing(spacing)
    fill(box, items)
    return box


def column(*items: QWidget | QLayout | int, spacing: int = 8) -> QVBoxLayout:
    """A vertical layout; an int is a stretch of that weight."""
    box = QVBoxLayout()
    box.setContentsMargins(0, 0, 0, 0)
    box.setSpacing(spacing)
    fill(box, items)
    return box


def fill(layout: QBoxLayout, items: Sequence[QWidget | QLayout | int]) -> None:
    """Put items into a layout."""
    for item in items:
        if isinstance(item, int):
            layout.addStretch(item)
        elif isinstance(item, QLayout):
            layout.addLayout(item)
        else:
            layout.addWidget(item)


def clear(layout: QLayout) -> None:
    """Empty a layout; its widgets go away."""
    while layout.count():
        item = layout.takeAt(0)
        if item is None:
            continue
        widget = item.widget()
        inner = item.layout()
        if widget is not None:
            widget.hide()
            widget.setParent(None)
            widget.deleteLater()
        elif inner is not None:
            clear(inner)


def in_lines(widgets: Sequence[W], room: int, gap: int, most: int = 99) -> list[list[W]]:
    """Widgets in lines that fit into ``room`` [px] with ``gap`` between; all else on the last."""
    lines: list[list[W]] = []
    left = 0
    for widget in widgets:
        wide = widget.sizeHint().width()
        if not lines or (wide > left and len(lines) < most):
            lines.append([])
            left = room
        lines[-1].append(widget)
        left -= wide + gap
    return lines


def clip(text: str, most: int) -> str:
    """``text`` cut with … where a name without a space would push everything aside."""
    return text if len(text) <= most else text[: most - 1] + "…"


def squeezable(root: QWidget) -> None:
    """Let wrapped words be narrower than their longest word, which is then cut at the edge."""
    for words in root.findChildren(Words):
        if words.wordWrap():
            words.setMinimumWidth(40)


def scroller(inside: QWidget, name: str) -> QScrollArea:
    """A vertical scroll area without a frame."""
    area = QScrollArea()
    area.setWidget(inside)
    area.setWidgetResizable(True)
    area.setFrameShape(QFrame.Shape.NoFrame)
    area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
    area.setAccessibleName(name)
    area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
    area.setVerticalScrollBar(Bar())
    inside.setObjectName("page")
    return area


def holder(layout: QLayout) -> QWidget:
    """A bare widget around a layout."""
    shown = QWidget()
    shown.setObjectName("page")
    shown.setLayout(layout)
    shown.setSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Preferred)
    return shown
