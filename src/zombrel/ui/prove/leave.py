"""Why a gate is left: written, printed, and it stays shut."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtWidgets import QDialog, QVBoxLayout, QWidget

from zombrel.ui.session import Session
from zombrel.ui.theme import dress
from zombrel.ui.widgets.figure import Field
from zombrel.ui.widgets.parts import button, label, row


class LeaveDialog(QDialog):
    """One sentence; without one nothing is left."""

    def __init__(
        self, session: Session, name: str, leave: Callable[[str], None], parent: QWidget
    ) -> None:
        super().__init__(parent)
        self._leave = leave
        self.setWindowTitle(f"Leave out: {name}")
        dress(self)
        self.setMinimumWidth(480)
        self.reason = Field(session, "Why it is left out")
        body = QVBoxLayout(self)
        body.setContentsMargins(22, 20, 22, 18)
        body.setSpacing(12)
        body.addWidget(label(f"Leave out: {name}", "title", wrap=True))
        words = (
            "A gate cannot be overruled: road and engine stay shut. Why it was left is written "
            "here and printed with the job."
        )
        body.addWidget(label(words, wrap=True))
        body.addWidget(self.reason)
        go = button("Leave it out", self.take, "primary")
        body.addLayout(row(go, button("Back", self.reject, "plain"), 1))
        self.reason.returnPressed.connect(self.take)
        self.reason.setFocus()

    def take(self) -> None:
        """Take the reason, if there is one."""
        text = self.reason.text().strip()
        if not text:
            self.reason.refuse("Say why it is left out; it is printed.")
            return
        self._leave(text)
        self.accept()
