"""What to expect of one field, large, and what was seen."""

from __future__ import annotations

from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QHBoxLayout, QWidget

from zombrel.diagnose.step import KINDS_OF, Field, over_path
from zombrel.job.problem import Problem
from zombrel.job.typed.kinds import BY_UNIT
from zombrel.ui.session import Session
from zombrel.ui.widgets.figure import FigureField
from zombrel.ui.widgets.paint import Panel
from zombrel.ui.widgets.parts import column, label, row
from zombrel.units import Units
from zombrel.units.measure import Kind, unit

SMALL_UNIT = "mm"
ANSWERS = (" ", "x", "q", "w")
"""Keys of the answers: they answer, also while a field has the keyboard, and never type."""


def shown_unit(name: str, units: Units) -> str:
    """What the unit of a field is for this user."""
    kind: Kind | None = "short" if name == SMALL_UNIT else KINDS_OF.get(name)
    return name if kind is None else unit(kind, units)


class StepField(FigureField):
    """A field whose labelled keys go to the step."""

    def __init__(self, session: Session, what: str, name: str, unit: str, field: Field) -> None:
        super().__init__(session, what, name, unit)
        self._field = field

    def take(self, quiet: bool = False) -> float | None:
        """As any figure; also how a contact stands, or its path to ground."""
        volts = over_path(self._field, self.text())
        if volts is None:
            return super().take(quiet)
        self.accept()
        return volts

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.text().lower() in ANSWERS:
            event.ignore()  # the page takes it
        else:
            super().keyPressEvent(event)


class SeenField(QWidget):
    """What to expect and the field for what was seen; a thing that is or is not has no field."""

    def __init__(self, session: Session, field: Field, shape: str, because: str) -> None:
        """``shape``: ``large``, ``small``, or ``line`` where there are many."""
        super().__init__()
        self._session, self.field = session, field
        self._unit = shown_unit(field.unit, session.units)
        name = f"{field.label}, seen, {self._unit or 'count'}"
        kind = "length" if field.unit == SMALL_UNIT else BY_UNIT.get(field.unit, "number")
        self.edit = StepField(session, kind, name, self._unit, field)
        self.edit.setPlaceholderText("seen")
        self.edit.setMaximumWidth(160)
        if field.yes:
            self.edit.hide()  # shown, without a parent yet, it would be a window of its own
        role = {"large": "expect", "small": "head", "line": "strong13"}[shape]
        self.expect = label(session.words(field.expect), role, wrap=True)
        if shape == "line":
            self.setLayout(self._in_a_line())
            return
        if shape == "large":
            self.edit.setProperty("big", "true")
        frame = Panel("well")
        inner = column(
            label(field.label, "quiet", wrap=True),
            self.expect,
            label(because, "small", wrap=True),
            spacing=2,
        )
        inner.setContentsMargins(14, 9, 14, 9)
        frame.setLayout(inner)
        unit_label = label("" if field.yes else self._unit, "head")
        self.setLayout(column(frame, row(self.edit, unit_label, 1, spacing=8), spacing=6))

    def _in_a_line(self) -> QHBoxLayout:
        name = label(self.field.label, "", wrap=True)
        self.edit.setMaximumWidth(110)
        line = row(name, self.expect, self.edit, label(self._unit, "quiet"), spacing=8)
        line.setStretch(0, 3)
        line.setStretch(1, 3)
        return line

    def value(self) -> float | None:
        """What was typed, in the unit of the step; None when empty.

        Raises:
            Problem: it is no such figure.
        """
        if self.field.yes:
            return None
        value = self.edit.take()
        if self.edit.refused:
            raise Problem(self.edit.refused)
        if value is not None and self.field.unit == SMALL_UNIT:
            return value * 1000  # lengths are read in metres
        return value
