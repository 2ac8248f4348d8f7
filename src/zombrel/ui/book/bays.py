"""The bays: who works in each, when the helper is there, how long parts take to come."""

from __future__ import annotations

from collections.abc import Callable

import msgspec
from PySide6.QtWidgets import QCheckBox, QDialog, QGridLayout, QLineEdit, QVBoxLayout, QWidget

from zombrel.book.week import Shop
from zombrel.ui.theme import dress
from zombrel.ui.widgets.parts import button, label, row

DAYS = ("Mon", "Tue", "Wed", "Thu", "Fri")
LONGEST_DAYS = 60
ONE_COLUMN = 6


class BaysDialog(QDialog):
    """Names by bay, days of the helper, days for parts."""

    def __init__(self, shop: Shop, keep: Callable[[Shop], None], parent: QWidget) -> None:
        super().__init__(parent)
        self._shop, self._keep = shop, keep
        self.setWindowTitle("The bays")
        dress(self)
        self.resize(520, 360)
        body = QVBoxLayout(self)
        body.setContentsMargins(22, 20, 22, 18)
        body.setSpacing(10)
        body.addWidget(label("The bays", "title"))
        self._names: list[QLineEdit] = []
        grid = QGridLayout()
        grid.setHorizontalSpacing(14)
        # Twelve in one column would not fit a small screen.
        rows = -(-shop.bays // (1 if shop.bays <= ONE_COLUMN else 2))
        for i in range(shop.bays):
            edit = QLineEdit(shop.who_in(i + 1))
            edit.setAccessibleName(f"Who works in bay {i + 1}")
            edit.setPlaceholderText("who works there")
            self._names.append(edit)
            grid.addWidget(label(f"bay {i + 1}", "strong"), i % rows, i // rows * 2)
            grid.addWidget(edit, i % rows, i // rows * 2 + 1)
        body.addLayout(grid)
        self._days = [QCheckBox(day) for day in DAYS]
        for i, box in enumerate(self._days):
            box.setAccessibleName(f"The helper is there on {DAYS[i]}")
            box.setChecked(i in shop.helper_days)
        body.addLayout(row(label("helper", "strong"), *self._days, 1))
        self._lead = QLineEdit(str(shop.lead_days))
        self._lead.setAccessibleName("Working days from an order to its parts")
        body.addLayout(
            row(label("parts come after", "strong"), self._lead, label("working days"), 1)
        )
        self._said = label("", "trouble", wrap=True)
        body.addWidget(self._said)
        body.addStretch(1)
        take = button("Keep it", self.accept, "primary")
        body.addLayout(row(1, button("Leave it", self.reject, "plain"), take))

    def accept(self) -> None:
        """Keep it, where it is said right."""
        text = self._lead.text().strip()
        if not text.isdecimal() or int(text) > LONGEST_DAYS:
            self._said.setText(f"“{text}” is no count of days from 0 to {LONGEST_DAYS}.")
            self._lead.setFocus()
            return
        self._keep(
            msgspec.structs.replace(
                self._shop,
                who=tuple(e.text().strip()[:80] for e in self._names),
                helper_days=tuple(i for i, box in enumerate(self._days) if box.isChecked()),
                lead_days=int(text),
            )
        )
        super().accept()
