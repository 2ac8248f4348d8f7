"""Choosing what goes to another shop, and what is taken of what one gives."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Any

from PySide6.QtWidgets import QCheckBox, QDialog, QVBoxLayout, QWidget

from zombrel.job.value import Value
from zombrel.ui.theme import dress
from zombrel.ui.widgets.parts import button, holder, label, row, scroller


class Thing(Value, frozen=True):
    """One thing to choose."""

    words: str
    chosen: bool
    """As the dialog opens."""
    thing: Any


class ChooseDialog(QDialog):
    """A list with a box each; Esc leaves all of it."""

    def __init__(
        self,
        parent: QWidget,
        head: str,
        words: str,
        things: Sequence[Thing],
        do: str,
        then: Callable[[list[Any]], None],
    ) -> None:
        super().__init__(parent)
        self._then = then
        self.setWindowTitle(head)
        dress(self)
        self.resize(640, 460)
        inside = QVBoxLayout()
        inside.setSpacing(8)
        self._boxes: list[tuple[QCheckBox, Any]] = []
        for thing in things:
            box = QCheckBox(thing.words)
            box.setAccessibleName(thing.words)
            box.setChecked(thing.chosen)
            box.toggled.connect(self._count)
            self._boxes.append((box, thing.thing))
            inside.addWidget(box)
        if not things:
            inside.addWidget(label("It holds nothing.", "quiet"))
        inside.addStretch(1)
        body = QVBoxLayout(self)
        body.setContentsMargins(22, 20, 22, 18)
        body.setSpacing(10)
        body.addWidget(label(head, "title"))
        body.addWidget(label(words, "quiet", wrap=True))
        body.addWidget(scroller(holder(inside), "What it holds"), 1)
        self._do = button(do, self.accept, "primary")
        body.addLayout(row(1, button("Leave it", self.reject, "plain"), self._do))
        self._count()

    def chosen(self) -> list[Any]:
        """What is chosen now."""
        return [thing for box, thing in self._boxes if box.isChecked()]

    def _count(self) -> None:
        self._do.setEnabled(bool(self.chosen()))

    def accept(self) -> None:
        """Go on with them."""
        super().accept()
        self._then(self.chosen())
