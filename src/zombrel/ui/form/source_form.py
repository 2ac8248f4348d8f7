"""The figures of a source of this job, to be given before it is used or after."""

from __future__ import annotations

from PySide6.QtCore import QTimer
from PySide6.QtWidgets import QVBoxLayout, QWidget

from zombrel.actions.signals import change_source
from zombrel.catalog.check import source_troubles
from zombrel.catalog.form.fields import Path, put
from zombrel.catalog.form.ready import spec
from zombrel.catalog.sources import source_shelf
from zombrel.job.problem import Problem
from zombrel.job.source import Source
from zombrel.store.prefs import user_sources
from zombrel.ui.form.form_dialog import FormDialog
from zombrel.ui.form.gives import Gives
from zombrel.ui.session import Session
from zombrel.ui.widgets.parts import label, scroller

SKIP = ("id", "zone", "quantity", "device", "pin")
"""Where it lies is the plan's, what it tells the signal's, what it is an output of the device's."""


def turned_source(source: Source, tag: str) -> Source:
    """``source`` as another kind, with the figures that the shelf has for it.

    Raises:
        Problem: the shelf has none of that kind.
    """
    return put(source, ("spec",), spec(tag, source, source_shelf(user_sources())[0]))


class SourceDialog(FormDialog):
    """Every figure of one source."""

    def __init__(self, session: Session, source: Source, parent: QWidget) -> None:
        super().__init__(session, source.name, parent)
        self._old, self.source = source, source
        self.resize(620, 600)
        self.form.changed.connect(self._put)
        self._gives = Gives(session)
        body = QVBoxLayout(self)
        body.setContentsMargins(22, 18, 22, 16)
        body.setSpacing(10)
        body.addWidget(label(source.name, "title", wrap=True))
        words = "Correct what this vehicle has otherwise. How sure it is, say in Survey (F2)."
        body.addWidget(label(words, "quiet", wrap=True))
        body.addWidget(self._gives)
        body.addWidget(scroller(self.form, "Figures"), 1)
        body.addWidget(self._said)
        body.addLayout(self._footer(self.keep))
        self._show()
        self.focus_first()

    def _show(self) -> None:
        self.form.show_record(self.source, skip=SKIP)
        self._gives.show_source(self.source)

    def _put(self, path: Path, value: object) -> None:
        try:
            if path == ("spec",):
                self.source = turned_source(self.source, str(value))
            else:
                self.source = put(self.source, path, value)
        except Problem as problem:
            self.refuse(str(problem))
            self.form.refuse(path, str(problem))
            return
        self.refuse("")
        QTimer.singleShot(0, self._show)

    def keep(self) -> None:
        """Take what was changed, as one edit."""
        for words in source_troubles(self.source):
            self.refuse(words)
            return
        edit = change_source(self._old, self.source)
        if edit is None or self._session.do(f"{self.source.name}: its figures", edit):
            self.accept()
