"""One change to a connector: its steps and parts while planned, what was metered once made."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import Protocol

from PySide6.QtWidgets import QBoxLayout, QLineEdit

from zombrel.actions.plugs.made import make, metered, unmake
from zombrel.actions.wires import put_change, remove_change
from zombrel.harness.plugs import changes, moves
from zombrel.job.edits import Edit
from zombrel.job.model import by_id
from zombrel.job.problem import Problem
from zombrel.job.wiring import Change
from zombrel.ui.session import Session
from zombrel.ui.widgets.choice import Choice
from zombrel.ui.widgets.paint import Panel
from zombrel.ui.widgets.parts import button, card, label, row
from zombrel.ui.widgets.tip import tip

GOES = {
    "move": "Goes to connector.cavity",
    "remap": "Goes to connector.cavity",
    "jumper": "Joins connector.cavity",
    "swap": "The other cavity",
    "cycle": "Where each goes in turn, 5, 7, 2",
    "rotate": "By how many places, +1 or -1",
}
"""Kinds that say where to, and how it is asked."""


class Shower(Protocol):
    """The page that a change is shown on."""

    after: bool
    """The face after the change, or as it was found, is shown."""

    def show_item(self, item: str) -> None:
        """Bring a change forward."""
        ...

    def toggle_after(self) -> None:
        """Before and after."""
        ...


class ChangeCard(Panel):
    """A line of it, or all of it where it is the chosen one."""

    def __init__(self, session: Session, page: Shower, change: Change, chosen: bool) -> None:
        super().__init__("card")
        self._session, self._page, self._change = session, page, change
        holder, inner = card()
        self.setLayout(inner)
        holder.deleteLater()
        name = f"{change.id}: {change.kind} at cavity {change.cavity}, {change.state}"
        if not chosen:
            show = button("Show", partial(page.show_item, change.id), "plain", f"Show {change.id}")
            line = row(label(name, "strong13", wrap=True), show)
            line.setStretch(0, 1)
            inner.addLayout(line)
            return
        self.set_kind("selected")
        found = change.state != "planned"
        sides = ("As built", "As found") if found else ("Before", "After")
        words = sides[0] if page.after else sides[1]
        after = button(words, page.toggle_after, "plain", "Face before or after")
        tip(after, "B")
        inner.addLayout(
            row(label(name, "head", wrap=True), after, button("Drop", self._drop, "plain"))
        )
        if change.note:
            inner.addWidget(label(change.note, "quiet", wrap=True))
        if found:
            self._made(inner)
        else:
            self._planned(inner)

    def _planned(self, inner: QBoxLayout) -> None:
        job, change = self._session.job, self._change
        if change.kind in GOES:
            edit = QLineEdit(change.to)
            edit.setAccessibleName(GOES[change.kind])
            edit.setPlaceholderText(GOES[change.kind])
            edit.editingFinished.connect(lambda: self._put("to", edit.text().strip()))
            inner.addLayout(row(label("goes to", "quiet"), edit))
        else:
            box = Choice()
            box.setAccessibleName("Our wire")
            box.addItems(["no wire of ours", *(w.id for w in job.wires)])
            box.setCurrentText(change.wire or "no wire of ours")
            box.activated.connect(lambda i: self._put("wire", box.currentText() if i else ""))
            inner.addLayout(row(label("our wire", "quiet"), box, 1))
        for trouble in changes.troubles(job, change):
            inner.addWidget(label(f"◆ {trouble}", "trouble", wrap=True))
        for i, step in enumerate(changes.steps(job, change)):
            inner.addWidget(label(f"{i + 1}. {step}", "quiet", wrap=True))
        parts = ", ".join(p.name for p in changes.parts(job, change))
        inner.addWidget(label(f"Lay out: {parts or 'nothing new'}.", "strong13", wrap=True))
        self._many(inner)
        inner.addLayout(row(button("It is made", self._make, "primary"), 1))

    def _many(self, inner: QBoxLayout) -> None:
        """Of a change that moves several terminals: the meter's check, and the way back."""
        change = self._change
        c = by_id(self._session.job.connectors, change.connector)
        if c is None or change.kind not in moves.MANY:
            return
        for told in moves.checks(c, change):
            inner.addWidget(label(f"Check {told}.", "quiet", wrap=True))
        back = moves.way_back(c, change)
        if back:
            inner.addWidget(label(back, "quiet", wrap=True))

    def _made(self, inner: QBoxLayout) -> None:
        """A change that stands on the car: what was metered, and the way back."""
        change = self._change
        when = f", {change.when}" if change.when else ""
        inner.addWidget(
            label(f"{changes.KINDS[change.kind]}. {change.state}{when}.", "quiet", True)
        )
        if change.metered:
            inner.addWidget(label(f"Metered: {change.metered}", "strong13", wrap=True))
        else:
            edit = QLineEdit()
            edit.setAccessibleName("What the meter showed")
            edit.setPlaceholderText("what the meter showed, then Enter")
            edit.returnPressed.connect(lambda: self._metered(edit.text()))
            inner.addWidget(edit)
        undo = button("Take it back on the car", self._unmake, "plain")
        inner.addLayout(row(undo, 1))

    # ---- acting

    def _drop(self) -> None:
        self._page.after = False
        self._session.do(f"Change {self._change.id} dropped", remove_change(self._change))

    def _put(self, field: str, value: str) -> None:
        if getattr(self._change, field) != value:
            edit = put_change(self._change, field, value)
            self._session.do(f"{self._change.id}: {field}", edit)

    def _act(self, words: str, made: Callable[[], Edit]) -> None:
        try:
            edit = made()
        except Problem as problem:
            self._session.said.emit("trouble", self._session.words(str(problem)))
            return
        self._page.after = False
        self._session.do(words, edit)

    def _make(self) -> None:
        s, change = self._session, self._change
        self._act(f"{change.id} is made", lambda: make(s.history.present, change, s.now()))

    def _metered(self, said: str) -> None:
        s, change = self._session, self._change
        self._act(
            f"{change.id} is proven", lambda: metered(s.history.present, change, said, s.now())
        )

    def _unmake(self) -> None:
        job, change = self._session.history.present, self._change
        self._act(f"{change.id} taken back", lambda: unmake(job, change))
