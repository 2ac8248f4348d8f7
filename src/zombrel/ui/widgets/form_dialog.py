"""A dialog of many fields: Enter takes one and goes on, Ctrl and Enter keeps the whole."""

from __future__ import annotations

from PySide6.QtCore import Qt
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QDialog, QHBoxLayout, QLineEdit, QWidget

from zombrel.ui.session import Session
from zombrel.ui.theme import dress
from zombrel.ui.widgets.parts import button, label, row
from zombrel.ui.widgets.record_form import RecordForm


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

    def _footer(self) -> QHBoxLayout:
        leave = button("Leave it", self.reject, "plain")
        keep = button("Keep   Ctrl Enter", self.keep, "primary", "Keep")
        for either in (leave, keep):
            either.setAutoDefault(False)
        return row(1, leave, keep)

    def focus_first(self) -> None:
        """Put the keyboard into the first field."""
        first = self.form.first()
        if first is not None:
            first.setFocus(Qt.FocusReason.OtherFocusReason)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        enter = event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter)
        if enter and event.modifiers() & Qt.KeyboardModifier.ControlModifier:
            self.setFocus(Qt.FocusReason.OtherFocusReason)  # takes what is being typed
            self.keep()
        elif enter and isinstance(self.focusWidget(), QLineEdit):
            self.focusNextChild()
        else:
            super().keyPressEvent(event)

    def refuse(self, words: str) -> None:
        """Say what is wrong; the dialog stays open."""
        self._said.setText(words)
        self._said.setVisible(bool(words))

    def keep(self) -> None:
        """Take what the fields hold."""
        raise NotImplementedError
