"""Who works with a book that lies on a server, and who may change the house rules."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import TYPE_CHECKING

from PySide6.QtWidgets import QDialog, QHBoxLayout, QLineEdit, QVBoxLayout, QWidget

from zombrel.job.problem import Problem
from zombrel.ui.session import Session
from zombrel.ui.theme import dress
from zombrel.ui.widgets.background import Background
from zombrel.ui.widgets.parts import button, clear, holder, label, row, scroller

if TYPE_CHECKING:
    from zombrel.store.book.shared import People, Shared


def people() -> People:
    """Asked of the server."""
    return _asked(lambda held: None)


def _asked(change: Callable[[Shared], object]) -> People:
    """Change something, then ask who may what."""
    from zombrel.store.book.book import Book
    from zombrel.store.book.shared import Shared

    with Book.opened() as book:
        held = Shared(book)
        change(held)
        return held.people()


class RightsDialog(QDialog):
    """Names with what each may; what is changed holds at once."""

    def __init__(self, session: Session, found: People, parent: QWidget) -> None:
        super().__init__(parent)
        self._session = session
        self.background = Background(self)
        self.setWindowTitle("Who may what")
        dress(self)
        self.resize(680, 520)
        self._lines = QVBoxLayout()
        self._lines.setSpacing(8)
        self.name = QLineEdit()
        self.name.setAccessibleName("Name, or account of the server")
        self.name.setPlaceholderText("name, or account of the server")
        self.name.returnPressed.connect(self._admit)
        admit = button("Let in", self._admit, "", "Let this account work with the book")
        allow = button("May change rules", self._allow, "", "May change the house rules")
        line = row(self.name, admit, allow)
        line.setStretch(0, 1)
        self._said = label("", "trouble", wrap=True)
        self._words = label("", "quiet", wrap=True)
        body = QVBoxLayout(self)
        body.setContentsMargins(22, 20, 22, 18)
        body.setSpacing(10)
        body.addWidget(label("Who may what", "title"))
        body.addWidget(self._words)
        body.addWidget(scroller(holder(self._lines), "Who may what"), 1)
        body.addLayout(line)
        body.addWidget(self._said)
        done = button("Done", self.accept, "primary")
        done.setAutoDefault(False)
        body.addLayout(row(1, done))
        self._show(found)
        self.name.setFocus()

    def _show(self, found: People) -> None:
        me = found.account or "the account that the book belongs to"
        self._words.setText(
            f"You work as {me}. An account that is let in does all the work and sends it, but "
            "house rules of a shared job are changed only by who is named here: the server refuses "
            "them from any other. Who works by the book's own account is taken at their word."
        )
        clear(self._lines)
        self._lines.addWidget(label("May change the house rules", "head"))
        for name in found.allowed:
            words = f"{name} may not change the house rules any more"
            self._lines.addLayout(self._line(name, words, partial(self._forbidden, name)))
        if not found.allowed:
            self._lines.addWidget(label("Nobody is named, so everybody may.", "quiet", wrap=True))
        self._lines.addWidget(label("Accounts that are let in", "head"))
        for name in found.admitted:
            words = f"{name} is let in no longer"
            self._lines.addLayout(self._line(name, words, partial(self._expelled, name)))
        if not found.admitted:
            self._lines.addWidget(label("None but the book's own.", "quiet", wrap=True))
        self._lines.addStretch(1)
        self._said.setText("")

    @staticmethod
    def _line(name: str, words: str, change: Callable[[], None]) -> QHBoxLayout:
        line = row(label(name, "strong"), button("Not any more", change, "plain", words))
        line.setStretch(0, 1)
        return line

    def _typed(self) -> str:
        name = self.name.text().strip()
        if not name:
            self._said.setText("Type a name first.")
            self.name.setFocus()
        return name

    def _admit(self) -> None:
        if name := self._typed():
            self._do(lambda held: held.admit(name))

    def _allow(self) -> None:
        by = self._session.prefs.who
        if name := self._typed():
            self._do(lambda held: held.allow(name, by))

    def _forbidden(self, name: str) -> None:
        by = self._session.prefs.who
        self._do(lambda held: held.forbid(name, by))

    def _expelled(self, name: str) -> None:
        self._do(lambda held: held.expel(name))

    def _do(self, change: Callable[[Shared], object]) -> None:
        self.background.start(
            "Telling the server", partial(_asked, change), self._show, self._failed
        )

    def _failed(self, problem: Problem) -> None:
        self._said.setText(str(problem))
        self.name.setFocus()
