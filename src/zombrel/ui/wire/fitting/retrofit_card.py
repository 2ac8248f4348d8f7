"""One retrofit: its functions with the circuits each needs, and what it must be taught."""

from __future__ import annotations

import msgspec
from PySide6.QtCore import QTimer
from PySide6.QtWidgets import QGridLayout, QVBoxLayout, QWidget

from zombrel.actions.plugs.retrofit import functions_of, put_retrofit, remove_retrofit, text_of
from zombrel.catalog.form.fields import Path, put
from zombrel.harness.plugs.retrofit import HARM, WORDS, table
from zombrel.job.model import by_id
from zombrel.job.problem import Problem
from zombrel.job.records.retrofit import Retrofit
from zombrel.ui.form.record_form import Lines, RecordForm
from zombrel.ui.session import Session
from zombrel.ui.widgets.choice import Choice
from zombrel.ui.widgets.marks import Mark
from zombrel.ui.widgets.parts import button, card, clear, label, row
from zombrel.ui.wire.fitting.said import say_findings

RULES = ("retrofit lacks", "retrofit not said")
HEADS = ("", "circuit", "here", "in the car at", "so")
MARKS = {"present": "good", "drawn": "good", "elsewhere": "watch", "look": "open"}


class RetrofitCard(QWidget):
    """What it shall do at the top, the circuits below, coding and counts at the side."""

    def __init__(self, session: Session, retrofit: str) -> None:
        super().__init__()
        self._session, self._id = session, retrofit
        self._name = label("", "head", wrap=True)
        self._plug = Choice()
        self._plug.setAccessibleName("Its plug")
        self._plug.activated.connect(self._plugged)
        self._lines = Lines("What it shall do", "Cruise: brake, clutch, speed, set switch")
        self._lines.setFixedHeight(92)
        self._lines.left.connect(self._typed)
        self._wrong = label("", "trouble", wrap=True)
        self._wrong.hide()
        self._form = RecordForm(session)
        self._form.changed.connect(self._put)
        self._said = QVBoxLayout()
        self._said.setSpacing(6)
        self._grid = QGridLayout()
        self._grid.setHorizontalSpacing(14)
        self._grid.setVerticalSpacing(4)
        self._grid.setColumnStretch(4, 1)
        drop = button("Take it out", self._drop, "plain", "Take this retrofit out")
        top, inner = card(margins=14)
        head = row(self._name, drop)
        head.setStretch(0, 1)
        inner.addLayout(head)
        inner.addLayout(row(label("its plug", "quiet"), self._plug, 1))
        words = "What it shall do, a line each with the circuits it needs; none named: all of them."
        inner.addWidget(label(words, "quiet", wrap=True))
        inner.addWidget(self._lines)
        inner.addWidget(self._wrong)
        inner.addLayout(self._said)
        below, circuits = card(margins=14)
        circuits.addWidget(label("Circuits", "head"))
        circuits.addLayout(self._grid)
        circuits.addStretch(1)
        taught, fields = card(margins=14)
        fields.addWidget(label("Coding and counts", "head"))
        fields.addWidget(self._form)
        body = QVBoxLayout(self)
        body.setContentsMargins(0, 0, 0, 0)
        body.setSpacing(10)
        for part in (top, below, taught):
            body.addWidget(part)
        body.addStretch(1)

    @property
    def _retrofit(self) -> Retrofit | None:
        return by_id(self._session.job.retrofits, self._id)

    def focus_first(self) -> None:
        self._plug.setFocus()

    # ---- changing

    def _refuse(self, words: str) -> None:
        self._wrong.setText(words)
        self._wrong.setVisible(bool(words))

    def _give(self, new: Retrofit, words: str) -> None:
        try:
            edit = put_retrofit(self._session.job, new)
        except Problem as problem:
            self._refuse(str(problem))
            return
        self._session.do(f"{new.name}: {words}", edit)

    def _plugged(self, i: int) -> None:
        r, every = self._retrofit, self._session.job.connectors
        key = every[i - 1].id if i else ""
        if r is not None and r.connector != key:
            self._give(msgspec.structs.replace(r, connector=key), "its plug")

    def _typed(self) -> None:
        r = self._retrofit
        if r is None:
            return
        try:
            functions = functions_of(self._lines.toPlainText())
        except Problem as problem:
            self._refuse(str(problem))
            return
        self._refuse("")
        if functions != r.functions:
            self._give(msgspec.structs.replace(r, functions=functions), "what it shall do")

    def _put(self, path: Path, value: object) -> None:
        r = self._retrofit
        if r is None:
            return
        try:
            new = put(r, path, value)
        except Problem as problem:
            self._form.refuse(path, str(problem))
            return
        QTimer.singleShot(0, self, lambda: self._give(new, "coding and counts"))

    def _drop(self) -> None:
        r = self._retrofit
        if r is not None:
            self._session.do(f"{r.name} taken out", remove_retrofit(r))

    # ---- showing

    def refresh(self) -> None:
        r, s = self._retrofit, self._session
        if r is None:
            return
        self._name.setText(r.name)
        names = ["not drawn yet", *(f"{c.id}, {c.name}" for c in s.job.connectors)]
        if [self._plug.itemText(i) for i in range(self._plug.count())] != names:
            self._plug.clear()
            self._plug.addItems(names)
        keys = ["", *(c.id for c in s.job.connectors)]
        self._plug.setCurrentIndex(keys.index(r.connector) if r.connector in keys else 0)
        if not self._lines.hasFocus():
            self._lines.setPlainText(text_of(r.functions))
        self._form.show_record(r, skip=("id", "connector", "functions"))
        clear(self._said)
        fine = "Every circuit is there, and what it must be taught is known." if r.functions else ""
        say_findings(self._said, s, r.id, RULES, fine)
        clear(self._grid)
        self._fill(r)

    def _fill(self, r: Retrofit) -> None:
        works = table(self._session.job, r)
        if not works:
            words = "Name what it shall do: each circuit is then looked for in every plug."
            self._grid.addWidget(label(words, "quiet", wrap=True), 0, 0, 1, len(HEADS))
            return
        for k, head in enumerate(HEADS):
            self._grid.addWidget(label(head, "small"), 0, k)
        i = 1
        for f in works:
            told = "can work" if not f.lacks else f"lacks {len(f.lacks)}"
            named = label(f"{f.name}: {told}", "strong13", wrap=True)
            self._grid.addWidget(named, i, 0, 1, len(HEADS))
            i += 1
            for n in f.needs:
                mark = "trouble" if n.state in HARM else MARKS[n.state]
                self._grid.addWidget(Mark(mark, 16), i, 0)
                cells = (n.circuit, n.here or "no pin", ", ".join(n.there) or "nowhere")
                for k, text in enumerate(cells, 1):
                    self._grid.addWidget(label(text), i, k)
                self._grid.addWidget(label(WORDS[n.state], "quiet", wrap=True), i, 4)
                i += 1
