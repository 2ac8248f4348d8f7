"""Signing a job off: what stands against it, what changed since the last time, who signs."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtWidgets import QDialog, QLineEdit, QVBoxLayout, QWidget

from zombrel.actions.begin import name_of
from zombrel.findings.against import against
from zombrel.findings.seals import SHORT, bare, seal, seal_on
from zombrel.intake.name import file_name
from zombrel.job.differences import differences
from zombrel.job.problem import Problem
from zombrel.store.seals import keep, sealed
from zombrel.store.zjob import save
from zombrel.ui.session import Session
from zombrel.ui.theme import dress
from zombrel.ui.widgets.marks import Mark
from zombrel.ui.widgets.parts import button, card, label, row, scroller

FEW = 12
"""So many differences are told."""


def signed_words(session: Session) -> str:
    """How the job stands to its last sign-off, in one line."""
    job = session.history.present
    if not job.seals:
        return "Not signed off yet"
    last = job.seals[-1]
    if seal_on(job):
        return f"Signed off by {last.who}, {last.when}; seal {last.content[:SHORT]}"
    return f"Changed since {last.who} signed it off, {last.when}"


class SignDialog(QDialog):
    """Reasons first; then a name, and a reason where something stands against it."""

    def __init__(self, session: Session, parent: QWidget) -> None:
        super().__init__(parent)
        self._session = session
        self.setWindowTitle("Sign off")
        dress(self)
        self.resize(620, 480)
        self._against = against(session.job, session.assessment)
        inside = QWidget()
        cards = QVBoxLayout(inside)
        cards.setContentsMargins(0, 0, 6, 0)
        cards.setSpacing(8)
        cards.addWidget(self._stands())
        changed = self._changed()
        if changed is not None:
            cards.addWidget(changed)
        cards.addStretch(1)
        self.who = QLineEdit()
        self.who.setAccessibleName("Who signs")
        self.who.setPlaceholderText("name of whoever signs for the shop")
        self.reason = QLineEdit()
        self.reason.setAccessibleName("Why it goes out nevertheless")
        self.reason.setPlaceholderText("why it goes out nevertheless")
        self.reason.setVisible(bool(self._against))
        self._said = label("", "trouble", wrap=True)
        body = QVBoxLayout(self)
        body.setContentsMargins(22, 20, 22, 18)
        body.setSpacing(10)
        body.addWidget(label("Sign off", "title"))
        words = (
            "The job is sealed as it is now: what is changed later does not change what was "
            "signed, and the next sign-off says what differs."
        )
        body.addWidget(label(words, "quiet", wrap=True))
        body.addWidget(scroller(inside, "What to know before signing"), 1)
        body.addWidget(self.who)
        body.addWidget(self.reason)
        body.addWidget(self._said)
        sign = button("Sign off", self.accept, "primary")
        body.addLayout(row(1, button("Leave it", self.reject, "plain"), sign))
        self.who.setFocus()

    def _stands(self) -> QWidget:
        panel, inner = card()
        if not self._against:
            line = row(Mark("good", 18), label("Nothing stands against it.", "strong13", wrap=True))
            line.setStretch(1, 1)
            inner.addLayout(line)
            return panel
        inner.addWidget(label("Stands against it", "head"))
        for words in self._against:
            said = label(self._session.words(words), "", wrap=True)
            line = row(Mark("trouble", 18), said)
            line.setStretch(1, 1)
            inner.addLayout(line)
        inner.addWidget(label("It is printed on the owner's page with the reason.", "small", True))
        return panel

    def _changed(self) -> QWidget | None:
        job = self._session.history.present
        if not job.seals:
            return None
        panel, inner = card()
        last = job.seals[-1]
        inner.addWidget(label(f"Since {last.who} signed it off, {last.when}", "head"))
        try:
            before = sealed(last)
            lines = differences(before, bare(job), FEW)
        except Problem as problem:
            lines = (str(problem),)
        for line in lines or ("Nothing has changed.",):
            inner.addWidget(label(self._session.words(line), "quiet", wrap=True))
        write = button(
            "Write what was signed…", self.write_signed, "plain", "A job file as it was signed off"
        )
        inner.addLayout(row(write, 1))
        return panel

    def write_signed(self) -> None:
        """The job as it was signed off last, as a file of its own."""
        from PySide6.QtWidgets import QFileDialog

        job = self._session.history.present
        last = job.seals[-1]
        start = file_name(f"{name_of(job)}-signed-{last.when[:10]}", ".zjob")
        name, _ = QFileDialog.getSaveFileName(self, "Write what was signed", start, "Job (*.zjob)")
        if not name:
            return
        path = Path(name)
        path = path if path.suffix == ".zjob" else path.with_name(path.name + ".zjob")
        own = self._session.path
        if own is not None and path.absolute() == own.absolute():
            self._said.setText("The job itself lies there: give what was signed another name.")
            return
        try:
            save(sealed(last), path)
        except Problem as problem:
            self._said.setText(str(problem))
            return
        self._said.setText("")
        self._session.said.emit("good", f"Written to {path}, as {last.who} signed it off.")

    def accept(self) -> None:
        """Seal it; what is wrong is said here."""
        s = self._session
        job = s.history.present
        try:
            made, edit = seal(
                job, s.assessment, keep(job), self.who.text(), s.now()[:16], self.reason.text()
            )
        except Problem as problem:
            self._said.setText(str(problem))
            (self.reason if self.who.text().strip() else self.who).setFocus()
            return
        if s.do(f"Signed off by {made.who}", edit):
            s.said.emit("good", f"Signed off: seal {made.content[:SHORT]}.")
        super().accept()
