"""All keys on one card."""

from __future__ import annotations

from PySide6.QtWidgets import QDialog, QGridLayout, QVBoxLayout, QWidget

from zombrel.ui.actions import Actions
from zombrel.ui.theme import dress
from zombrel.ui.widgets.commands import commands_in
from zombrel.ui.widgets.parts import button, label, row


class KeysDialog(QDialog):
    """Every key and what it does."""

    def __init__(self, actions: Actions, parent: QWidget) -> None:
        super().__init__(parent)
        self.setWindowTitle("Keys")
        dress(self)
        body = QVBoxLayout(self)
        body.setContentsMargins(22, 18, 22, 16)
        grid = QGridLayout()
        grid.setHorizontalSpacing(24)
        grid.setVerticalSpacing(5)
        rows = [(", ".join(a.keys), a.label) for a in actions.all.values() if a.keys]
        rows += [(c.keys.replace(" ", ", "), f"{c.words} (here)") for c in commands_in(parent)]
        half = -(-len(rows) // 2)
        for i, (keys, words) in enumerate(rows):
            grid.addWidget(label(keys, "mono"), i % half, 0 if i < half else 2)
            grid.addWidget(label(words), i % half, 1 if i < half else 3)
        body.addLayout(grid)
        body.addLayout(row(1, button("Close", self.accept, "primary")))
