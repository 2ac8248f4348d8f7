"""What came of drawing the missing wires."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QDialog, QVBoxLayout, QWidget

from zombrel.actions.drawing import Drawing, NotDrawn, draw_all
from zombrel.harness.ends import end_words
from zombrel.harness.laid import laid
from zombrel.job.model import index
from zombrel.ui.session import Session
from zombrel.ui.theme import dress
from zombrel.ui.widgets.marks import Mark
from zombrel.ui.widgets.parts import button, column, label, row, scroller
from zombrel.units.measure import area_of, length_of


def draw_and_tell(session: Session, parent: QWidget) -> None:
    """Draw every missing wire as one act, then say what was drawn and what was not."""
    drawing = draw_all(session.history.present)
    if drawing.edit is not None and not session.do("Missing wires drawn", drawing.edit):
        return
    DrawnDialog(session, drawing, parent).open()


class DrawnDialog(QDialog):
    """Wires drawn, with where their length comes from; pins left, each with its mend."""

    def __init__(self, session: Session, drawing: Drawing, parent: QWidget) -> None:
        super().__init__(parent)
        self._session = session
        self.setWindowTitle("Missing wires")
        dress(self)
        self.resize(640, 560)
        inside = QWidget()
        lines = QVBoxLayout(inside)
        lines.setSpacing(6)
        body = QVBoxLayout(self)
        body.setContentsMargins(22, 18, 22, 18)
        count = len(drawing.drawn)
        many = "1 wire drawn" if count == 1 else f"{count} wires drawn"
        left = len(drawing.not_drawn)
        words = many if count else "Nothing could be drawn"
        body.addWidget(label(words + (f", {left} left" if left else ""), "title", wrap=True))
        body.addWidget(scroller(inside, "What was drawn"), 1)
        close = button("Done", self.accept, "primary", "Close")
        undo = button("Take it back", self._undo)
        undo.setVisible(drawing.edit is not None)
        body.addLayout(row(close, undo, 1))
        for missed in drawing.not_drawn:
            lines.addWidget(self._missed(missed))
        runs = index(laid(session.history.present).wires)
        for wire in drawing.drawn:
            run = runs.get(wire.id, wire)
            ends = f"{end_words(session.job, wire.a)} to {end_words(session.job, wire.b)}"
            how = "by the plan" if wire.id not in drawing.guessed else "guessed: measure it"
            if wire.id in drawing.placed:
                how = "by the plan, if its ends lie where they usually do"
            size = f"{area_of(wire.area_mm2)} {wire.colour}, {length_of(run.length_m)}, {how}"
            mark = "watch" if wire.id in drawing.guessed | drawing.placed else "good"
            lines.addWidget(self._line(mark, f"{wire.id}: {ends}", size))
        if not session.job.zones:
            go = partial(self._go, "wire:plan")
            lines.addLayout(row(button("Take a vehicle plan for the lengths", go), 1))
        lines.addStretch(1)
        close.setFocus(Qt.FocusReason.OtherFocusReason)

    def _line(self, mark: str, head: str, more: str) -> QWidget:
        shown = QWidget()
        text = column(label(head, "strong13", wrap=True), label(more, "quiet", wrap=True))
        text.setSpacing(1)
        line = row(Mark(mark), text, spacing=9)
        line.setStretch(1, 1)
        shown.setLayout(line)
        return shown

    def _missed(self, missed: NotDrawn) -> QWidget:
        shown = self._line("trouble", f"{missed.what}: not drawn", f"{missed.why}.".capitalize())
        layout = shown.layout()
        assert layout is not None  # _line gave it one
        layout.addWidget(button(missed.mend, partial(self._go, missed.where)))
        return shown

    def _go(self, where: str) -> None:
        self.accept()
        self._session.goto.emit(where)

    def _undo(self) -> None:
        self._session.undo()
        self.accept()
