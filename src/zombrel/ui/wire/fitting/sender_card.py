"""One sender: its thread, that of its hole, what seals it, the adapter between."""

from __future__ import annotations

from PySide6.QtCore import QTimer
from PySide6.QtWidgets import QVBoxLayout, QWidget

from zombrel.actions.fitting import put_threads
from zombrel.actions.signals import change_source
from zombrel.catalog.form.fields import Path, put, shapes_of
from zombrel.harness.fitting import threads
from zombrel.job.model import by_id
from zombrel.job.problem import Problem
from zombrel.job.source import Source
from zombrel.ui.form.record_form import RecordForm
from zombrel.ui.session import Session
from zombrel.ui.widgets.parts import card, clear, label
from zombrel.ui.wire.fitting.said import say_findings

OWN = ("thread", "port", "adapter")
RULES = ("thread does not fit", "taped")


class SenderCard(QWidget):
    """Two threads, and how they go together."""

    def __init__(self, session: Session, source: str) -> None:
        super().__init__()
        self._session, self._id = session, source
        self._name = label("", "head", wrap=True)
        self._form = RecordForm(session)
        self._form.changed.connect(self._put)
        self._said = QVBoxLayout()
        self._said.setSpacing(6)
        self._how = label("", "quiet", wrap=True)
        holder, inner = card(margins=14)
        inner.addWidget(self._name)
        inner.addWidget(self._form)
        inner.addLayout(self._said)
        inner.addWidget(self._how)
        inner.addStretch(1)
        body = QVBoxLayout(self)
        body.setContentsMargins(0, 0, 0, 0)
        body.addWidget(holder, 1)

    def focus_first(self) -> None:
        first = self._form.first()
        if first is not None:
            first.setFocus()

    @property
    def _source(self) -> Source | None:
        return by_id(self._session.job.sources, self._id)

    def _put(self, path: Path, value: object) -> None:
        old = self._source
        if old is None:
            return
        try:
            new = put(old, path, value)
        except Problem as problem:
            self._form.refuse(path, str(problem))
            return
        if path == ("adapter",):
            edit = change_source(old, new)
        else:
            edit = put_threads(old.id, new.thread, new.port)
        if edit is not None:
            words = f"{old.name}: its thread"
            QTimer.singleShot(0, self, lambda: self._session.do(words, edit))

    def refresh(self) -> None:
        source = self._source
        if source is None:
            return
        self._name.setText(source.name)
        every = tuple(shapes_of(Source))
        self._form.show_record(source, skip=tuple(n for n in every if n not in OWN))
        clear(self._said)
        said = source.thread and source.port
        how = "Measure over the crests, count the turns in a centimetre, look whether it is taper."
        if said:
            one_wire = bool(getattr(source.spec, "one_wire", False))
            f = threads.fit(source.thread, source.port, one_wire)
            how = f"Tight by {f.seal}." if f.fits else f"Between them: {f.adapter}."
            if one_wire:
                how += " Its body is its ground: nothing is wound round the thread."
        fine = "It goes in." if said and not source.adapter else ""
        say_findings(self._said, self._session, source.id, RULES, fine)
        self._how.setText(how)
