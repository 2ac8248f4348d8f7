"""What a widget says, copied to be put elsewhere."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QPoint, Qt
from PySide6.QtWidgets import (
    QAbstractButton,
    QAbstractItemView,
    QApplication,
    QLabel,
    QMenu,
    QWidget,
)

from zombrel.ui.theme import dress
from zombrel.ui.widgets.parts import clip


class Copying:
    """Copies what has the keyboard, or what is pointed at."""

    def __init__(self, window: QWidget, say: Callable[[str, str], None]) -> None:
        self._window, self._say = window, say

    def focused(self) -> None:
        """Copy the words of what has the keyboard."""
        widget = self._window.focusWidget()
        if widget is not None:
            self._take(copied(widget))

    def offer(self, widget: QWidget | None, at: QPoint) -> None:
        """A menu that copies the words of ``widget``."""
        words = copied(widget) if widget is not None else ""
        if words:
            menu = QMenu(self._window)
            dress(menu)
            act = menu.addAction(f"Copy: {clip(words, 60)}".replace("&", "&&"))
            act.triggered.connect(lambda _=False: self._take(words))
            menu.popup(at)

    def _take(self, words: str) -> None:
        if words:
            QApplication.clipboard().setText(words)
            self._say("good", f"Copied: {clip(words, 80)}")


def copied(widget: QWidget) -> str:
    """The words of ``widget``: a line of a table, a label, a button, else its spoken name."""
    view = widget if isinstance(widget, QAbstractItemView) else widget.parentWidget()
    if isinstance(view, QAbstractItemView) and view.model() is not None:
        return _line(view)
    if isinstance(widget, QLabel | QAbstractButton) and widget.text().strip():
        return widget.text().strip()
    return widget.accessibleName().strip()


def _line(view: QAbstractItemView) -> str:
    """The chosen line of a table, its cells parted by tabs."""
    here, model = view.currentIndex(), view.model()
    if not here.isValid():
        return ""
    role = Qt.ItemDataRole.DisplayRole
    cells = (model.index(here.row(), k).data(role) for k in range(model.columnCount()))
    return "\t".join(str(cell or "") for cell in cells)
