"""Where the job book lies: on this machine, or on a server that several bays share."""

from __future__ import annotations

import msgspec
from PySide6.QtWidgets import QDialog, QLineEdit, QVBoxLayout, QWidget

from zombrel.job.problem import Problem
from zombrel.ui.session import Session
from zombrel.ui.theme import dress
from zombrel.ui.widgets.background import Background
from zombrel.ui.widgets.parts import button, label, row


class ServerDialog(QDialog):
    """An address and a password, tried before it is taken."""

    def __init__(self, session: Session, parent: QWidget) -> None:
        super().__init__(parent)
        self._session = session
        self.background = Background(self)
        self.setWindowTitle("Where the book lies")
        dress(self)
        self.resize(620, 300)
        self.address = QLineEdit(session.prefs.book_server)
        self.address.setAccessibleName("Address of the server")
        self.address.setPlaceholderText("postgresql://user@server/zombrel; empty: this machine")
        self.password = QLineEdit()
        self.password.setEchoMode(QLineEdit.EchoMode.Password)
        self.password.setAccessibleName("Password, kept in the system's keyring")
        self.password.setPlaceholderText("password, if it wants one; kept in the system's keyring")
        self._said = label("", "trouble", wrap=True)
        body = QVBoxLayout(self)
        body.setContentsMargins(22, 20, 22, 18)
        body.setSpacing(10)
        body.addWidget(label("Where the book lies", "title"))
        words = (
            "Several bays share one book on a PostgreSQL server (docs/shared-book.md says how to "
            "start one). What goes over the wire is encrypted. Jobs stay in their files."
        )
        body.addWidget(label(words, "quiet", wrap=True))
        body.addWidget(self.address)
        body.addWidget(self.password)
        body.addWidget(self._said)
        body.addStretch(1)
        take = button("Try it and take it", self.accept, "primary")
        body.addLayout(row(1, button("Leave it", self.reject, "plain"), take))
        self.address.setFocus()

    def accept(self) -> None:
        """Take it when it answers."""
        address, word = self.address.text().strip(), self.password.text()

        def work() -> int:
            from zombrel.store.book.book import Book
            from zombrel.store.book.engines import Postgres, keep_password

            if address:
                Postgres(address)  # says what is wrong with it before a password is kept
                if word:
                    keep_password(address, word)
            with Book.opened(where=address) as book:
                return len(book.jobs(True))

        self.background.start("Asking the server", work, self._took, self._failed)

    def _failed(self, problem: Problem) -> None:
        self._said.setText(str(problem))
        self.address.setFocus()

    def _took(self, jobs: int) -> None:
        s = self._session
        address = self.address.text().strip()
        s.set_prefs(msgspec.structs.replace(s.prefs, book_server=address))
        where = f"at {address}" if address else "on this machine"
        s.said.emit("good", f"The book lies {where}: {jobs} jobs.")
        super().accept()
