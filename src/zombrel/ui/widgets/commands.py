"""What can be done on a page, in one table: for its keys, the card of all keys, and Find."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from typing import TYPE_CHECKING, NamedTuple

from PySide6.QtCore import Qt
from PySide6.QtGui import QKeyEvent, QKeySequence
from PySide6.QtWidgets import QWidget

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


class Command(NamedTuple):
    """One thing to do."""

    words: str
    keys: str
    """Names of keys, separated by spaces; any of them does it."""
    run: Callable[[], object]


class Commanded(_Base):
    """A page, or part of one, whose keys come from its table of commands.

    Put before the Qt class among the bases; ``commands`` is given by the page.
    """

    def commands(self) -> tuple[Command, ...]:
        """What can be done here."""
        return ()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if not event.modifiers() & HELD:
            pressed = QKeySequence(event.key())
            for command in self.commands():
                if any(pressed == QKeySequence(key) for key in command.keys.split()):
                    command.run()
                    return
        super().keyPressEvent(event)


def commands_in(root: QWidget) -> Iterator[Command]:
    """The commands of what can be seen of a window."""
    for widget in (root, *root.findChildren(QWidget)):
        if isinstance(widget, Commanded) and widget.isVisible():
            yield from widget.commands()
