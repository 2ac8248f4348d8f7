"""The figures of a source of this job, to be given before it is used or after."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import Qt, QTimer
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QDialog, QLineEdit, QVBoxLayout, QWidget

from zombrel.actions.signals import change_source
from zombrel.catalog.check import source_troubles
from zombrel.catalog.form.fields import Path, put
from zombrel.catalog.form.ready import spec
from zombrel.catalog.sources import source_shelf
from zombrel.job.model import by_id
from zombrel.job.problem import Problem
from zombrel.job.source import Source
from zombrel.store.prefs import user_sources
from zombrel.ui.session import Session
from zombrel.ui.theme import dress
from zombrel.ui.widgets.parts import button, label, row, scroller
from zombrel.ui.widgets.record_form import RecordForm

SKIP = ("id", "zone", "quantity", "device", "pin")
"""Where it lies is the plan's, what it tells the signal's, what it is an output of the device's."""


def turned_source(source: Source, tag: str) -> Source:
    """``source`` as another kind, with the figures that the shelf has for it.

    Raises:
        Problem: the shelf has none of that kind.
    """
    return put(source, ("spec",), spec(tag, source, source_shelf(user_sources())[0]))


class SourceDialog(QDialog):
    """Every figure of one source."""

    def __init__(self, session: Session, source: Source, parent: QWidget) -> None:
        super().__init__(parent)
        self._session, self._old, self.source = session, source, source
        self.setWindowTitle(source.name)
        dress(self)
        self.resize(620, 600)
        self.form = RecordForm(session)
        self.form.changed.connect(self._put)
        self._said = label("", "trouble", wrap=True)
        self._said.hide()
        body = QVBoxLayout(self)
        body.setContentsMargins(22, 18, 22, 16)
        body.setSpacing(10)
        body.addWidget(label(source.name, "title", wrap=True))
        words = "Correct what this vehicle has otherwise. How sure it is, say in Survey (F2)."
        body.addWidget(label(words, "quiet", wrap=True))
        body.addWidget(scroller(self.form, "Figures"), 1)
        body.addWidget(self._said)
        leave = button("Leave it", self.reject, "plain")
        leave.setAutoDefault(False)
        keep = button("Keep   Ctrl Enter", self.keep, "primary", "Keep")
        body.addLayout(row(1, leave, keep))
        self._show()
        first = self.form.first()
        if first is not None:
            first.setFocus(Qt.FocusReason.OtherFocusReason)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Enter takes a field and goes on; with Ctrl it keeps the whole."""
        enter = event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter)
        if enter and event.modifiers() & Qt.KeyboardModifier.ControlModifier:
            self.setFocus(Qt.FocusReason.OtherFocusReason)  # takes what is being typed
            self.keep()
        elif enter and isinstance(self.focusWidget(), QLineEdit):
            self.focusNextChild()
        else:
            super().keyPressEvent(event)

    def _show(self) -> None:
        self.form.show_record(self.source, skip=SKIP)

    def _put(self, path: Path, value: object) -> None:
        try:
            if path == ("spec",):
                self.source = turned_source(self.source, str(value))
            else:
                self.source = put(self.source, path, value)
        except Problem as problem:
            self._refuse(str(problem))
            self.form.refuse(path, str(problem))
            return
        self._said.hide()
        QTimer.singleShot(0, self._show)

    def _refuse(self, words: str) -> None:
        self._said.setText(words)
        self._said.show()

    def keep(self) -> None:
        """Take what was changed, as one edit."""
        for words in source_troubles(self.source):
            self._refuse(words)
            return
        edit = change_source(self._old, self.source)
        if edit is None or self._session.do(f"{self.source.name}: its figures", edit):
            self.accept()


def open_source(session: Session, key: str, parent: QWidget) -> None:
    """Show the figures of a source to be changed."""
    source = by_id(session.history.present.sources, key)
    if source is not None:
        SourceDialog(session, source, parent).open()


def figures_button(session: Session, source: Source, parent: QWidget) -> QWidget:
    """A button that opens the figures of ``source``."""
    act = partial(open_source, session, source.id, parent)
    return button("Figures", act, "plain", f"Figures of {source.name}")
