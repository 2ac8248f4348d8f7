"""The answer to "why?" as a dialog."""

from __future__ import annotations

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QDialog, QGridLayout, QVBoxLayout, QWidget

from zombrel.job.reason import Reason
from zombrel.ui.theme import dress
from zombrel.ui.widgets.parts import button, card, label, row
from zombrel.units import Units, words


class WhyDialog(QDialog):
    """Shows a reason: result, formula, inputs with how they are known, source, assumption."""

    def __init__(self, reason: Reason, parent: QWidget, units: Units) -> None:
        super().__init__(parent)
        self.setWindowTitle(f"Why: {reason.title}")
        dress(self)
        self.setMinimumWidth(560)
        self.setAccessibleName("Why")
        body = QVBoxLayout(self)
        body.setContentsMargins(22, 20, 22, 18)
        body.setSpacing(10)
        body.addWidget(label(words(reason.title, units), "quiet", wrap=True))
        body.addWidget(label(words(reason.result, units), "title", wrap=True))
        frame, inner = card()
        inner.addWidget(label(words(reason.formula, units), "mono", wrap=True))
        body.addWidget(frame)
        if reason.given:
            grid = QGridLayout()
            grid.setHorizontalSpacing(22)
            grid.setVerticalSpacing(5)
            for i, g in enumerate(reason.given):
                grid.addWidget(label(g.name, "quiet", wrap=True), i, 0)
                grid.addWidget(label(words(g.value, units), "mono", wrap=True), i, 1)
                grid.addWidget(label(words(g.known, units), "quiet", wrap=True), i, 2)
            grid.setColumnStretch(1, 1)
            body.addLayout(grid)
        if reason.source:
            body.addWidget(label(f"From: {reason.source}.", "quiet", wrap=True))
        if reason.moves:
            moves = f"Moves it most: {reason.moves}."
            body.addWidget(label(words(moves, units), "quiet", wrap=True))
        if reason.assumption:
            body.addWidget(label(f"Assumed: {reason.assumption}.", "watch", wrap=True))
        close = button("Close", self.accept, "primary")
        body.addSpacing(4)
        body.addLayout(row(1, close))
        close.setFocus(Qt.FocusReason.OtherFocusReason)


def show_why(reason: Reason, parent: QWidget, units: Units) -> None:
    """Show a reason in the user's units; Escape or Enter closes it."""
    dialog = WhyDialog(reason, parent, units)
    dialog.open()
