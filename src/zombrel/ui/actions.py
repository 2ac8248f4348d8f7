"""One definition of every action, for key, menu, search field and help."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtGui import QAction, QKeySequence
from PySide6.QtWidgets import QWidget

from zombrel.job.value import Value


class Action(Value, frozen=True):
    """Something the user can do."""

    id: str
    label: str
    keys: tuple[str, ...]
    run: Callable[[], object]


class Actions:
    """All actions of a window."""

    def __init__(self, window: QWidget) -> None:
        self._window = window
        self.all: dict[str, Action] = {}
        self.qt: dict[str, QAction] = {}

    def add(self, key: str, label: str, keys: str, run: Callable[[], object]) -> None:
        """Define an action; ``keys`` separated by spaces."""
        action = Action(key, label, tuple(keys.split()), run)
        self.all[key] = action
        push_button = QAction(self._window)
        push_button.setText(label)
        push_button.setShortcuts([QKeySequence(k) for k in action.keys])
        push_button.triggered.connect(lambda _=False: run())
        self._window.addAction(push_button)
        self.qt[key] = push_button
