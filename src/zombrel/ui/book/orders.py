"""What to order: every part that open jobs take, what is there as it was counted, what lacks."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from datetime import date

from PySide6.QtCore import Qt
from PySide6.QtWidgets import (
    QAbstractItemView,
    QDialog,
    QHeaderView,
    QTableWidget,
    QTableWidgetItem,
    QVBoxLayout,
    QWidget,
)

from zombrel.book.stock import Order
from zombrel.job.problem import Problem
from zombrel.ui.theme import dress
from zombrel.ui.widgets.parts import button, label, row

HEADS = ("part", "takes", "have", "order", "by", "jobs")
MOST = 1e9
HAVE = 2
"""The column that is typed into."""


class OrderDialog(QDialog):
    """A table; what is there is typed into it."""

    def __init__(
        self,
        orders: Callable[[], Sequence[Order]],
        count: Callable[[str, float], None],
        write: Callable[[], None],
        today: date,
        parent: QWidget,
    ) -> None:
        super().__init__(parent)
        self._orders, self._count, self._today = orders, count, today
        self.setWindowTitle("What to order")
        dress(self)
        self.resize(900, 560)
        self.table = QTableWidget(0, len(HEADS))
        self.table.setHorizontalHeaderLabels(list(HEADS))
        self.table.setAccessibleName("What to order")
        self.table.verticalHeader().hide()
        self.table.setSelectionBehavior(QAbstractItemView.SelectionBehavior.SelectRows)
        self.table.setTabKeyNavigation(False)
        head = self.table.horizontalHeader()
        head.setSectionResizeMode(QHeaderView.ResizeMode.ResizeToContents)
        head.setSectionResizeMode(0, QHeaderView.ResizeMode.Stretch)
        self._said = label("", "trouble", wrap=True)
        body = QVBoxLayout(self)
        body.setContentsMargins(22, 20, 22, 18)
        body.setSpacing(10)
        body.addWidget(label("What to order", "title"))
        words = "Type what is there under “have” (Enter or F2 on the line); the rest follows."
        body.addWidget(label(words, "quiet", wrap=True))
        body.addWidget(self.table, 1)
        body.addWidget(self._said)
        body.addLayout(
            row(1, button("Write as a table…", write), button("Done", self.accept, "primary"))
        )
        self._fill()
        self.table.cellChanged.connect(self._typed)
        self.table.setFocus()

    def _fill(self) -> None:
        self.table.blockSignals(True)
        self._shown = list(self._orders())
        self.table.setRowCount(len(self._shown))
        for i, o in enumerate(self._shown):
            by = "" if o.by is None else "today" if o.by <= self._today else f"{o.by:%a %d %b}"
            cells = (
                o.part,
                f"{o.takes:g} {o.unit}",
                f"{o.have:g}",
                f"{o.order:g}" if o.order else "enough",
                by,
                ", ".join(o.jobs),
            )
            for k, text in enumerate(cells):
                item = QTableWidgetItem(text)
                if k != HAVE:
                    item.setFlags(item.flags() & ~Qt.ItemFlag.ItemIsEditable)
                if k == HAVE:
                    item.setToolTip(f"How many of {o.part} are there")
                self.table.setItem(i, k, item)
        self.table.blockSignals(False)
        if not self._shown:
            self._said.setText("No open job takes anything.")

    def _typed(self, line: int, column: int) -> None:
        item = self.table.item(line, column)
        if column != HAVE or item is None:
            return
        text, part = item.text().strip().replace(",", "."), self._shown[line].part
        try:
            have = float(text or "0")
            if not 0 <= have < MOST:
                raise ValueError
        except ValueError:
            self._said.setText(f"“{item.text()}” is no count of {part}: type a number, as 12.")
            self._fill()
            return
        try:
            self._count(part, have)
        except Problem as problem:
            self._said.setText(str(problem))
            return
        self._said.setText("")
        self._fill()
