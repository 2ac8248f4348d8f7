"""A wire's ends, colour and what it carries: for a new one, or one that was drawn wrong."""

from __future__ import annotations

from PySide6.QtWidgets import QComboBox, QDialog, QFormLayout, QVBoxLayout, QWidget

from zombrel.actions.wires import new_wire, rejoin
from zombrel.harness.ends import end_words
from zombrel.harness.missing import COLOURS, SIGNAL_MM2, places
from zombrel.job.edits import Edit
from zombrel.job.model import Job, by_id
from zombrel.job.wiring import End, Wire
from zombrel.ui.session import Session
from zombrel.ui.theme import dress
from zombrel.ui.widgets.choice import Choice
from zombrel.ui.widgets.parts import button, label, row

CARRIES = ("signal", "power", "ground")


def new_name(job: Job) -> str:
    """A name free for the next wire."""
    i = 1
    while by_id(job.wires, f"W{i}") is not None:
        i += 1
    return f"W{i}"


class WireDialog(QDialog):
    """From, to, colour, what it carries."""

    def __init__(self, session: Session, wire: Wire | None, parent: QWidget) -> None:
        super().__init__(parent)
        self._session, self._wire = session, wire
        self.made = wire.id if wire is not None else new_name(session.job)
        self.setWindowTitle(f"Wire {self.made}")
        dress(self)
        self._ends = list(places(session.job))
        known = {(e.place, e.pin) for e, _ in self._ends}
        for end in (wire.a, wire.b) if wire is not None else ():
            if (end.place, end.pin) not in known:
                self._ends.append((end, end_words(session.job, end)))
        self.a, self.b = self._combo("From"), self._combo("To")
        self.colour = Choice()
        self.colour.setEditable(True)
        self.colour.setAccessibleName("Colour")
        self.colour.addItems(["red", "black", "brown", *COLOURS])
        self.carries = Choice()
        self.carries.setAccessibleName("Carries")
        self.carries.addItems(CARRIES)
        if wire is not None:
            self._choose(self.a, wire.a)
            self._choose(self.b, wire.b)
            self.colour.setCurrentText(wire.colour)
            self.carries.setCurrentText(wire.carries)
        form = QFormLayout()
        form.setVerticalSpacing(10)
        for words, field in (
            ("From", self.a),
            ("To", self.b),
            ("Colour", self.colour),
            ("Carries", self.carries),
        ):
            form.addRow(label(words, "quiet"), field)
        body = QVBoxLayout(self)
        body.setContentsMargins(22, 18, 22, 16)
        body.setSpacing(12)
        body.addWidget(label(f"Wire {self.made}", "title"))
        body.addWidget(
            label(
                "Type in a field to find the place. Another end takes the wire's way with it: "
                "run it again on the plan.",
                "quiet",
                wrap=True,
            )
        )
        body.addLayout(form)
        self._said = label("", "trouble", wrap=True)
        self._said.hide()
        body.addWidget(self._said)
        body.addLayout(
            row(1, button("Leave it", self.reject, "plain"), button("Keep", self.keep, "primary"))
        )
        self.setMinimumWidth(480)

    def _combo(self, name: str) -> QComboBox:
        box = Choice()
        box.setAccessibleName(name)
        box.setEditable(True)
        box.setInsertPolicy(QComboBox.InsertPolicy.NoInsert)
        box.addItems([words for _, words in self._ends])
        box.setMinimumContentsLength(30)
        completer = box.completer()
        if completer is not None:
            from PySide6.QtCore import Qt

            completer.setFilterMode(Qt.MatchFlag.MatchContains)
            completer.setCompletionMode(completer.CompletionMode.PopupCompletion)
        return box

    def _choose(self, box: QComboBox, end: End) -> None:
        for i, (listed, _) in enumerate(self._ends):
            if (listed.place, listed.pin) == (end.place, end.pin):
                box.setCurrentIndex(i)
                return

    def _end(self, box: QComboBox) -> End | None:
        text = box.currentText().strip().casefold()
        return next((e for e, words in self._ends if words.casefold() == text), None)

    def keep(self) -> None:
        """Make the wire, or say what is wrong with it."""
        a, b = self._end(self.a), self._end(self.b)
        colour = self.colour.currentText().strip()
        trouble = (
            f"“{self.a.currentText()}” is no place of this job; choose one from the list."
            if a is None
            else f"“{self.b.currentText()}” is no place of this job; choose one from the list."
            if b is None
            else "A wire needs two different ends."
            if a == b
            else "Give the wire a colour."
            if not colour
            else ""
        )
        if trouble or a is None or b is None:
            self._said.setText(trouble)
            self._said.show()
            return
        if self._session.do(f"Wire {self.made}", self._edit(a, b, colour)):
            self.accept()

    def _edit(self, a: End, b: End, colour: str) -> Edit:
        carries = self.carries.currentText()
        if self._wire is None:
            return new_wire(self.made, a, b, colour, carries, SIGNAL_MM2)
        return rejoin(self._wire, a, b, colour, carries)
