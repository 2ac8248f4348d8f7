"""A device's own table: every row, what must happen, what was tried."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtWidgets import QGridLayout, QLabel

from zombrel.diagnose.step import StepSheet
from zombrel.ui.prove.order import SIGNS, WORDS
from zombrel.ui.session import Session
from zombrel.ui.widgets.paint import Panel
from zombrel.ui.widgets.parts import column, label

SHORT = {"passed": "proven", "failed": "failed", "stale": "again", "not reached": "left out"}


class RowTable(Panel):
    """The rows of one device; the one at work is strong and says so."""

    def __init__(self, session: Session, rows: Sequence[tuple[StepSheet, str]], now: str) -> None:
        super().__init__("well")
        grid = QGridLayout()
        grid.setHorizontalSpacing(14)
        grid.setVerticalSpacing(3)
        heads = [name for name, _ in rows[0][0].row] if rows else []
        for k, head in enumerate([*heads, "tried"]):
            grid.addWidget(label(head.lower(), "small"), 0, k)
            grid.setColumnStretch(k, 1)
        for i, (step, state) in enumerate(rows, 1):
            role = "strong13" if step.id == now else ""
            for k, (_, value) in enumerate(step.row):
                grid.addWidget(self._cell(session.words(value), role), i, k)
            said = "now" if step.id == now and state != "passed" else SHORT.get(state, "")
            cell = self._cell(f"{SIGNS[state]} {said}".strip(), role)
            cell.setAccessibleName(WORDS[state])
            grid.addWidget(cell, i, len(step.row))
        body = column(label("Every row of this device, from the top", "head"), grid, spacing=6)
        body.setContentsMargins(14, 10, 14, 10)
        self.setLayout(body)

    @staticmethod
    def _cell(text: str, role: str) -> QLabel:
        return label(text, role)
