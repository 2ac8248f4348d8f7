"""What the kit holds: each part of the job ticked or counted, what is lacking first."""

from __future__ import annotations

from functools import partial

from PySide6.QtWidgets import QGridLayout, QVBoxLayout, QWidget

from zombrel.actions.fitting import empty_kit, tick, tick_all
from zombrel.harness.fitting.kit import KitRow, kit_rows
from zombrel.harness.laid import laid
from zombrel.job.follow.query import Watch
from zombrel.job.problem import Problem
from zombrel.ui.session import Session
from zombrel.ui.widgets.figure import FigureField
from zombrel.ui.widgets.marks import Mark
from zombrel.ui.widgets.parts import button, card, clear, label, row
from zombrel.units.measure import length_of, value_in

HEADS = ("", "part", "needed", "there", "")


class KitCard(QWidget):
    """A row for each part."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._shown = Watch()
        self._count = label("", "strong", wrap=True)
        self._all = button("All of it is there", self.all_there, "primary")
        self._none = button("Empty it", self._empty, "plain", "Empty the kit list")
        holder, inner = card(margins=14)
        head = row(self._count, self._all, self._none)
        head.setStretch(0, 1)
        inner.addLayout(head)
        self._grid = QGridLayout()
        self._grid.setHorizontalSpacing(14)
        self._grid.setVerticalSpacing(5)
        self._grid.setColumnStretch(1, 1)
        inner.addLayout(self._grid)
        inner.addStretch(1)
        body = QVBoxLayout(self)
        body.setContentsMargins(0, 0, 0, 0)
        body.addWidget(holder, 1)

    def focus_first(self) -> None:
        self._all.setFocus()

    def all_there(self) -> None:
        """Everything that is needed is ticked."""
        self._session.do("The kit holds all of it", tick_all(self._session.job))

    def _empty(self) -> None:
        self._session.do("The kit is emptied", empty_kit())

    def _tick(self, r: KitRow) -> None:
        held = 0.0 if r.have >= r.needed else r.needed
        self._session.do(f"Kit: {r.name}", tick(self._session.job, r, held))

    def _typed(self, r: KitRow, edit: FigureField) -> None:
        held = 0.0 if not edit.text().strip() else edit.take()
        if held is None or held == r.have or edit.text() == self._there(r):
            return
        try:
            self._session.do(f"Kit: {r.name}", tick(self._session.job, r, held))
        except Problem as problem:
            self._session.said.emit("trouble", self._session.words(str(problem)))

    def _there(self, r: KitRow) -> str:
        if not r.have:
            return ""
        shown = value_in("length", r.have, self._session.units) if r.unit == "m" else r.have
        return f"{shown:.4g}"

    def refresh(self) -> None:
        s = self._session
        if not self._shown.due(s.present, s.theme, s.units):
            return
        with self._shown.making(s.theme, s.units):
            self._fill()

    def _fill(self) -> None:
        s = self._session
        rows = kit_rows(laid(s.job))
        lacking = sum(r.missing > 0 for r in rows)
        said = f"{lacking} of {len(rows)} parts are lacking." if lacking else "All is there."
        if not s.job.kit:
            said = f"{len(rows)} parts are needed. Tick what lies in the kit, or count it."
        self._count.setText(said if rows else "The job needs no parts yet: add devices in Survey.")
        self._all.setVisible(bool(lacking))
        self._none.setVisible(bool(s.job.kit))
        clear(self._grid)
        for k, head in enumerate(HEADS if rows else ()):
            self._grid.addWidget(label(head, "small"), 0, k)
        for i, r in enumerate(rows, 1):
            self._row(i, r)

    def _row(self, i: int, r: KitRow) -> None:
        s = self._session
        name = s.words(r.name)
        there = r.have >= r.needed
        self._grid.addWidget(Mark("good" if there else "watch" if s.job.kit else "open", 16), i, 0)
        self._grid.addWidget(label(name, "" if not there else "quiet", wrap=True), i, 1)
        needed = s.words(length_of(r.needed, 1)) if r.unit == "m" else f"{r.needed:.0f}"
        self._grid.addWidget(label(needed), i, 2)
        kind = "length" if r.unit == "m" else "number"
        unit = s.units.length if r.unit == "m" else ""
        edit = FigureField(s, kind, f"There: {name}", lambda: unit)
        edit.setText(self._there(r))
        edit.setFixedWidth(76)
        edit.editingFinished.connect(partial(self._typed, r, edit))
        self._grid.addWidget(edit, i, 3)
        words = "Not there" if there else "There"
        pill = button(words, partial(self._tick, r), "plain", f"{words}: {name}")
        self._grid.addWidget(pill, i, 4)
