"""The order of the proof at the left: every step, how it stands, what is a gate."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from PySide6.QtCore import QSignalBlocker, QSize, Qt
from PySide6.QtWidgets import QListWidget, QListWidgetItem

from zombrel.diagnose.step import StepSheet

SIGNS = {
    "passed": "✓",
    "failed": "◆",
    "stale": "▵",
    "not reached": "▵",
    "blocked": "◇",
    "open": "□",
}
WORDS = {
    "open": "not tried",
    "passed": "proven",
    "failed": "failed",
    "stale": "prove again: something it rests on was changed",
    "not reached": "left out",
    "blocked": "blocked",
}
ROW_PX = 38


class Order(QListWidget):
    """The steps in their order; the chosen one is worked at the right of it."""

    def __init__(self, choose: Callable[[str], None]) -> None:
        super().__init__()
        self._choose = choose
        self._ids: tuple[str, ...] = ()
        self.setAccessibleName("Steps in their order")
        self.setProperty("plain", "true")
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setTextElideMode(Qt.TextElideMode.ElideRight)
        self.setUniformItemSizes(True)
        self.setFocusPolicy(Qt.FocusPolicy.ClickFocus)
        self.currentRowChanged.connect(self._chosen)

    def show_steps(self, found: Sequence[tuple[StepSheet, str]], now: str) -> None:
        """List steps with how each stands; ``now`` is the one at work."""
        with QSignalBlocker(self):
            self._ids = tuple(step.id for step, _ in found)
            while self.count() > len(found):
                self.takeItem(self.count() - 1)
            for i, (step, state) in enumerate(found):
                item = self.item(i)
                if item is None:
                    item = QListWidgetItem()
                    item.setSizeHint(QSize(10, ROW_PX))
                    self.addItem(item)
                gate = "   gate" if step.gate and state != "passed" else ""
                text = f"{SIGNS[state]}  {step.short}{gate}"
                if item.text() != text:
                    item.setText(text)
                    said = f"{step.short}: {WORDS[state]}{', gate' if step.gate else ''}"
                    item.setToolTip(said)
                    item.setData(Qt.ItemDataRole.AccessibleTextRole, said)
            if now in self._ids:
                at = self._ids.index(now)
                self.setCurrentRow(at)
                self.scrollToItem(self.item(at))

    def _chosen(self, at: int) -> None:
        if 0 <= at < len(self._ids):
            self._choose(self._ids[at])
