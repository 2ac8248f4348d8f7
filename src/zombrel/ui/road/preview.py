"""What a table is taken for before it is read: columns, units, why; corrected and remembered."""

from __future__ import annotations

from functools import partial
from pathlib import Path

from PySide6.QtWidgets import QDialog, QGridLayout, QVBoxLayout, QWidget

from zombrel.logs.table.columns import Guess
from zombrel.logs.table.read import preview
from zombrel.logs.units import UNITS
from zombrel.ui.session import Session
from zombrel.ui.theme import dress
from zombrel.ui.widgets.choice import Choice
from zombrel.ui.widgets.marks import Mark
from zombrel.ui.widgets.parts import button, clip, label, row, scroller

HEADS = ("", "column", "is", "unit", "because")


class Preview(QDialog):
    """A row for each column; a unit that nobody can tell must be chosen."""

    def __init__(
        self, session: Session, path: Path, parent: QWidget, stated: dict[str, str] | None = None
    ) -> None:
        super().__init__(parent)
        self._session, self._path = session, path
        self.setWindowTitle(f"{path.name}: what its columns are")
        dress(self)
        self.resize(820, 560)
        self._seen = preview(path)
        kept = dict(session.prefs.log_units)
        before = dict(kept.get(self._seen.signature, ())) if stated is None else stated
        self.stated: dict[str, str] = dict(before)
        self._boxes: dict[str, Choice] = {}
        grid = QGridLayout()
        grid.setHorizontalSpacing(14)
        grid.setVerticalSpacing(6)
        grid.setColumnStretch(4, 1)
        for k, head in enumerate(HEADS):
            grid.addWidget(label(head, "small"), 0, k)
        for i, g in enumerate(preview(path, self.stated).columns, 1):
            self._row(grid, i, g)
        inside = QWidget()
        inside.setLayout(grid)
        self._said = label("", "trouble", wrap=True)
        leave = button("Leave it", self.reject, "plain")
        self._keep = button("Read it", self.accept, "primary")
        body = QVBoxLayout(self)
        body.setContentsMargins(22, 18, 22, 16)
        body.addWidget(label(self.windowTitle(), "title", wrap=True))
        body.addWidget(label("; ".join(self._seen.layout.why) + ".", "quiet", wrap=True))
        body.addWidget(scroller(inside, "Columns"), 1)
        body.addWidget(self._said)
        body.addLayout(row(1, leave, self._keep))
        self._judge()

    def _row(self, grid: QGridLayout, i: int, g: Guess) -> None:
        grid.addWidget(Mark("watch" if g.asked else "good", 16), i, 0)
        grid.addWidget(label(clip(g.name, 30), "strong13"), i, 1)
        grid.addWidget(label("time" if g.time else g.what, "quiet"), i, 2)
        box = Choice()
        box.setAccessibleName(f"Unit of {g.name}")
        units = ["s", "ms", "min"] if g.time else list(UNITS)
        now = {1.0: "s", 0.001: "ms", 60.0: "min"}.get(g.time, "s") if g.time else g.unit
        box.addItems(["choose" if g.asked else "none", *units])
        box.setCurrentText("choose" if g.asked else now or "none")
        box.activated.connect(partial(self._chosen, g, box))
        box.setEnabled(g.form in ("number", "suffix"))
        self._boxes[g.name] = box
        grid.addWidget(box, i, 3)
        grid.addWidget(label(g.why, "small", wrap=True), i, 4)

    def _chosen(self, g: Guess, box: Choice, i: int) -> None:
        if i:
            self.stated[g.name] = box.currentText()
        else:
            self.stated.pop(g.name, None)
        self._judge()

    def _judge(self) -> None:
        asked = [g for g in preview(self._path, self.stated).columns if g.asked]
        self._keep.setEnabled(not asked)
        names = ", ".join(g.name for g in asked)
        self._said.setText(f"Nothing says the unit of {names}: choose it." if asked else "")

    def accept(self) -> None:
        """Take it so, and remember it for files with the same headings."""
        self._session.remember_units(self._seen.signature, tuple(self.stated.items()))
        super().accept()
