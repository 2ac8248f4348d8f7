"""A dialog of many fields: Enter takes one and goes on, Ctrl and Enter keeps the whole."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import Qt
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QDialog, QHBoxLayout, QLineEdit, QWidget

from zombrel.ui.form.record_form import RecordForm
from zombrel.ui.session import Session
from zombrel.ui.theme import dress
from zombrel.ui.widgets.parts import button, label, row


class FormDialog(QDialog):
    """Fields of a record, what is wrong with them, Leave and Keep."""

    def __init__(self, session: Session, title: str, parent: QWidget) -> None:
        super().__init__(parent)
        self._session = session
        self.setWindowTitle(title)
        dress(self)
        self.form = RecordForm(session)
        self._said = label("", "trouble", wrap=True)
        self._said.hide()

    def _footer(self, keep: Callable[[], None]) -> QHBoxLayout:
        """Leave and Keep; ``keep`` takes what the fields hold."""
        self._keep = keep
        leave = button("Leave it", self.reject, "plain")
        take = button("Keep   Ctrl Enter", keep, "primary", "Keep")
        for either in (leave, take):
            either.setAutoDefault(False)
        return row(1, leave, take)

    def focus_first(self) -> None:
        """Put the keyboard into the first field."""
        first = self.form.first()
        if first is not None:
            first.setFocus(Qt.FocusReason.OtherFocusReason)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        enter = event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter)
        if enter and event.modifiers() & Qt.KeyboardModifier.ControlModifier:
            self.setFocus(Qt.FocusReason.OtherFocusReason)  # takes what is being typed
            self._keep()
        elif enter and isinstance(self.focusWidget(), QLineEdit):
            self.focusNextChild()
        else:
            super().keyPressEvent(event)

    def refuse(self, words: str) -> None:
        """Say what is wrong; the dialog stays open."""
        self._said.setText(words)
        self._said.setVisible(bool(words))
