"""A field for one figure: units are understood, what is refused stays in it and is marked."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QEvent, QRectF
from PySide6.QtGui import QKeyEvent, QKeySequence, QPainter, QPaintEvent
from PySide6.QtWidgets import QLineEdit

from zombrel.job.problem import Problem
from zombrel.job.typed.read import read
from zombrel.ui.session import Session
from zombrel.ui.widgets.marks import draw_mark
from zombrel.ui.widgets.parts import set_role
from zombrel.ui.widgets.tip import tip

MARK_PX = 15


class Field(QLineEdit):
    """A line to type in, that can be refused: outline, mark and words, until it is mended."""

    def __init__(self, session: Session, name: str = "", hint: str = "") -> None:
        super().__init__()
        self._session, self._hint = session, hint
        self.refused = ""
        """What is wrong with it; empty when nothing is."""
        if name:
            self.setAccessibleName(name)
        tip(self, hint)

    def event(self, event: QEvent) -> bool:
        """Ctrl+Z in a field that holds nothing new undoes the job's edit, not the typing."""
        if (
            event.type() == QEvent.Type.ShortcutOverride
            and isinstance(event, QKeyEvent)
            and event.matches(QKeySequence.StandardKey.Undo)
            and not self.isModified()
        ):
            event.ignore()
            return False
        return super().event(event)

    def refuse(self, words: str) -> None:
        """Mark the field and say what is wanted; the text stays."""
        self._show(words)
        self._session.said.emit("trouble", words)

    def accept(self) -> None:
        """The text is right now: mark and banner go."""
        if self.refused:
            was = self.refused
            self._show("")
            self._session.mended.emit(was)
        self.setModified(False)

    def _show(self, words: str) -> None:
        self.refused = words
        set_role(self, "bad", "true" if words else "false")
        tip(self, words or self._hint)
        self.setAccessibleDescription(words)
        self.setTextMargins(0, 0, MARK_PX + 4 if words else 0, 0)
        self.update()

    def paintEvent(self, event: QPaintEvent) -> None:
        super().paintEvent(event)
        if self.refused:
            p = QPainter(self)
            p.setRenderHint(QPainter.RenderHint.Antialiasing)
            place = (self.width() - MARK_PX - 6, (self.height() - MARK_PX) / 2)
            draw_mark(p, QRectF(*place, MARK_PX, MARK_PX), "trouble", self._session.theme)


class FigureField(Field):
    """A field for a figure of one kind."""

    def __init__(
        self,
        session: Session,
        what: str,
        name: str,
        unit: Callable[[], str] | str = "",
        hint: str = "",
    ) -> None:
        """``unit`` is what a figure typed without one is in: a word, or who knows it."""
        super().__init__(session, name, hint)
        self.what, self._unit = what, unit

    def take(self, quiet: bool = False) -> float | None:
        """The figure in the unit of its kind; None while there is none, or it cannot be.

        ``quiet`` says nothing of a refused text, as while it is being typed.
        """
        text = self.text().strip()
        if not text:
            self.accept()
            return None
        try:
            value = read(
                self.what, text, self._unit if isinstance(self._unit, str) else self._unit()
            )
        except Problem as problem:
            if not quiet:
                name = self.accessibleName()
                self.refuse(f"{name}: {problem}" if name else str(problem))
            return None
        self.accept()
        return value
