"""What can be done on a page, in one table: for its keys, the card of all keys, and Find."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from typing import TYPE_CHECKING

from PySide6.QtCore import Qt
from PySide6.QtGui import QKeyEvent, QKeySequence
from PySide6.QtWidgets import QWidget

from zombrel.job.value import Value

if TYPE_CHECKING:
    _Base = QWidget
else:
    _Base = object


HELD = (
    Qt.KeyboardModifier.ControlModifier
    | Qt.KeyboardModifier.AltModifier
    | Qt.KeyboardModifier.MetaModifier
)
"""Keys held with these are not a page's."""


class Command(Value, frozen=True):
    """One thing to do."""

    words: str
    keys: str
    """Names of keys, separated by spaces; any of them does it."""
    run: Callable[[], object]
    """What it does; what gives False back leaves the key to others."""


def do(commands: tuple[Command, ...], event: QKeyEvent) -> bool:
    """Run the command that a key stands for; whether one took it."""
    if event.modifiers() & HELD:
        return False
    pressed = [QKeySequence(event.key())]
    if event.modifiers() & Qt.KeyboardModifier.ShiftModifier:
        pressed.insert(0, QKeySequence(event.keyCombination()))
    for key in pressed:
        for command in commands:
            if any(key == QKeySequence(name) for name in command.keys.split()):
                return command.run() is not False
    return False


class Commanded(_Base):
    """A page, or part of one, whose keys come from its table of commands.

    Put before the Qt class among the bases; ``commands`` is given by the page.
    """

    def commands(self) -> tuple[Command, ...]:
        """What can be done here."""
        return ()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if not do(self.commands(), event):
            super().keyPressEvent(event)


def commands_in(root: QWidget) -> Iterator[Command]:
    """The commands of what can be seen of a window, each once."""
    told: set[tuple[str, str]] = set()
    for widget in (root, *root.findChildren(QWidget)):
        if isinstance(widget, Commanded) and widget.isVisible():
            for command in widget.commands():
                if (command.words, command.keys) not in told:
                    told.add((command.words, command.keys))
                    yield command
