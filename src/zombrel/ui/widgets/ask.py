"""Ask one question in the window's own manner."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QDialog, QVBoxLayout, QWidget

from zombrel.ui.theme import dress
from zombrel.ui.widgets.marks import Mark
from zombrel.ui.widgets.parts import button, label, row


class Question(QDialog):
    """A title, a sentence, a button for each answer; Escape is the last one."""

    def __init__(self, parent: QWidget, title: str, words: str, answers: tuple[str, ...]) -> None:
        super().__init__(parent)
        self.setWindowTitle(title)
        dress(self)
        self.setMinimumWidth(480)
        self.answer = answers[-1]
        body = QVBoxLayout(self)
        body.setContentsMargins(22, 20, 22, 18)
        body.setSpacing(12)
        head = row(Mark("watch", 24), label(title, "title"), spacing=12)
        head.setStretch(1, 1)
        body.addLayout(head)
        body.addWidget(label(words, wrap=True))
        buttons = [
            button(text, partial(self._give, text), "" if i else "primary")
            for i, text in enumerate(answers)
        ]
        body.addLayout(row(*buttons, 1))
        buttons[0].setFocus(Qt.FocusReason.OtherFocusReason)

    def _give(self, text: str) -> None:
        self.answer = text
        self.accept()


def ask(parent: QWidget, title: str, words: str, answers: tuple[str, ...]) -> str:
    """Wait for an answer; the last of ``answers`` when the question is put aside."""
    question = Question(parent, title, words, answers)
    question.exec()
    return question.answer
