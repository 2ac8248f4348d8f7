"""The fields of one record, made from its type: typed, chosen, ticked, with rows inside."""

from __future__ import annotations

from functools import partial

import msgspec
from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QFocusEvent
from PySide6.QtWidgets import (
    QGridLayout,
    QPlainTextEdit,
    QVBoxLayout,
    QWidget,
)

from zombrel.catalog.form.fields import Field as Place
from zombrel.catalog.form.fields import Path, Shape, choice_words, fields, tag_of
from zombrel.catalog.form.ready import ROWS
from zombrel.catalog.form.text import shown, taken, unit_of
from zombrel.job.problem import Problem
from zombrel.ui.session import Session
from zombrel.ui.theme import dress, font
from zombrel.ui.widgets.choice import Choice
from zombrel.ui.widgets.figure import Field
from zombrel.ui.widgets.paint import Pill, Words
from zombrel.ui.widgets.parts import button, clear, label, row, set_role

NAME_PX = 172
ACROSS = 3
"""Choices that can be ticked stand so many to a line."""
FIGURE_PX, WIDE_PX, YES_PX, NOTE_PX = 180, 600, 84, 92
LINES_PX = 20
TALL = ("lines", "pairs", "named", "spots")
"""Filled in on several lines."""
MOST_LINES = 9

Named = dict[tuple[str, str], tuple[str, ...]]
"""(class of a record, field) -> the names it may hold."""


class Lines(QPlainTextEdit):
    """A few lines to type or to paste a table into; Tab goes on."""

    left = Signal()

    def __init__(self, name: str, hint: str) -> None:
        super().__init__()
        self.setTabChangesFocus(True)
        self.setAccessibleName(name)
        self.setPlaceholderText(hint)
        self.setFont(font(13))

    def focusOutEvent(self, event: QFocusEvent) -> None:
        super().focusOutEvent(event)
        self.left.emit()


class RecordForm(QWidget):
    """Every field of a record that applies, and the records in it."""

    changed = Signal(object, object)
    """(path, value) that somebody gave."""
    rows_changed = Signal(object, int)
    """(path of a list of records, number of the one to take out; -1 to add one)."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._grid = QGridLayout(self)
        self._grid.setContentsMargins(0, 0, 8, 0)
        self._grid.setHorizontalSpacing(10)
        self._grid.setVerticalSpacing(7)
        self._grid.setColumnStretch(1, 1)
        self._shape: object = None
        self._places: dict[Path, Place] = {}
        self._widgets: dict[Path, QWidget] = {}
        self._notes: dict[Path, Words] = {}
        self._skip: frozenset[str] = frozenset()
        self._base: Path = ()
        self._named: Named = {}
        self._filling = False

    def show_record(
        self,
        record: msgspec.Struct,
        path: Path = (),
        skip: tuple[str, ...] = (),
        named: Named | None = None,
    ) -> None:
        """Show ``record``, which stands at ``path`` of what is edited; fields in ``skip`` not.

        ``named`` are the names that a field of a record may hold.
        """
        self._named = named or {}
        self._skip, self._base = frozenset(skip), path
        places = [p for p in self._all(record, path, "") if p.name not in self._skip]
        shape = (self._session.units, [(p.path, p.owner, p.shape.how, _size(p)) for p in places])
        self._places = {p.path: p for p in places}
        if shape != self._shape:
            self._shape = shape
            self._build(places)
        self._fill()

    def _all(self, record: msgspec.Struct, path: Path, of: str) -> list[Place]:
        found: list[Place] = []
        for plain in fields(record, path, of):
            names = self._named.get((plain.owner, plain.name))
            place = plain if names is None else plain.but(shape=Shape("choice", names))
            found.append(place)
            if place.shape.how == "block" and place.value is not None:
                found += self._all(place.value, place.path, place.of)
            if place.shape.how == "rows":
                for n, inner in enumerate(place.value):
                    found += self._all(inner, (*place.path, n), place.of)
        return found

    # ---- made

    def _build(self, places: list[Place]) -> None:
        had = next((p for p, w in self._widgets.items() if w.hasFocus()), None)
        clear(self._grid)
        self._widgets, self._notes = {}, {}
        for line, place in enumerate(places):
            self._line(line, place)
        self._grid.setRowStretch(len(places), 1)
        for pill in self.findChildren(Pill):
            pill.setAutoDefault(False)  # Enter in a field of a dialog presses none of them
        dress(self)
        if had in self._widgets:
            self._widgets[had].setFocus(Qt.FocusReason.OtherFocusReason)

    def _line(self, line: int, place: Place) -> None:
        name = label(place.say.label, "quiet", wrap=True)
        name.setFixedWidth(NAME_PX)
        if len(place.path) > len(self._base) + 1 and isinstance(place.path[-2], int):
            name.setText(f"{place.path[-2] + 1}. {place.say.label}")
        note = label("", "small", wrap=True)
        self._notes[place.path] = note
        tall = place.shape.how in (*TALL, "choices", "rows")
        side = Qt.AlignmentFlag.AlignTop if tall else Qt.AlignmentFlag.AlignVCenter
        self._grid.addWidget(name, line, 0, side)
        if place.shape.how == "rows":
            self._grid.addLayout(self._rows(place), line, 1)
            return
        widget = self._widget(place)
        self._widgets[place.path] = widget
        note.setFixedWidth(NOTE_PX)
        cell = row(widget, note)
        if widget.maximumWidth() > WIDE_PX:
            cell.setStretch(0, 1)
        else:
            cell.addStretch(1)
        self._grid.addLayout(cell, line, 1)

    def _rows(self, place: Place) -> QVBoxLayout:
        kind = place.shape.kinds[0]
        noun = _NOUNS[kind.__name__]
        box = QVBoxLayout()
        box.setSpacing(4)
        for n, _ in enumerate(place.value):
            out = button(
                f"Take {noun} {n + 1} out",
                partial(self.rows_changed.emit, place.path, n),
                "plain",
                f"Take {noun} {n + 1} out of {place.say.label.lower()}",
            )
            box.addLayout(row(out, 1))
        if kind in ROWS:
            add = partial(self.rows_changed.emit, place.path, -1)
            box.addLayout(row(button(f"Add a {noun}", add), 1))
        return box

    def _widget(self, place: Place) -> QWidget:
        how, path = place.shape.how, place.path
        name = place.say.label
        if how in ("choice", "block"):
            box = Choice()
            box.addItems([words for _, words in choice_words(place)])
            box.setAccessibleName(name)
            box.activated.connect(partial(self._chosen, path))
            return box
        if how == "yes":
            tick = button("", None, "toggle", name)
            tick.setCheckable(True)
            tick.setFixedWidth(YES_PX)
            tick.clicked.connect(lambda _=False, p=path, t=tick: self._give(p, t.isChecked()))
            return tick
        if how == "choices":
            return self._ticks(place)
        if how in TALL:
            lines = Lines(name, place.say.hint)
            lines.left.connect(partial(self._typed, path))
            return lines
        field = Field(self._session, name, place.say.hint)
        field.setPlaceholderText(place.say.unsaid)
        if place.shape.how in ("figure", "whole"):
            field.setMaximumWidth(FIGURE_PX)
        field.editingFinished.connect(partial(self._typed, path))
        return field

    def _ticks(self, place: Place) -> QWidget:
        inside = QWidget()
        grid = QGridLayout(inside)
        grid.setContentsMargins(0, 0, 0, 0)
        grid.setSpacing(5)
        for n, (value, words) in enumerate(choice_words(place)):
            tick = button(words, None, "toggle", f"{place.say.label}: {words}")
            tick.setCheckable(True)
            tick.setProperty("value", value)
            tick.clicked.connect(partial(self._ticked, place.path))
            grid.addWidget(tick, n // ACROSS, n % ACROSS)
        grid.setColumnStretch(ACROSS, 1)
        return inside

    # ---- shown

    def _fill(self) -> None:
        self._filling = True
        for path, widget in self._widgets.items():
            place = self._places[path]
            self._show(widget, place)
            note = self._notes[path]
            unit = unit_of(place, self._session.units)
            usual = "usual" if place.usual and place.shape.how == "figure" else ""
            if place.unsaid:
                note.set_role("watch")
                note.setText(" · ".join(x for x in (unit, "not said") if x))
            else:
                note.set_role("small")
                empty = place.say.unsaid and place.usual
                note.setText(" · ".join(x for x in (unit, "" if empty else usual) if x))
        self._filling = False

    def _show(self, widget: QWidget, place: Place) -> None:
        value = place.value
        if isinstance(widget, Choice):
            now = tag_of(value) if place.shape.how == "block" else str(value)
            widget.setCurrentIndex([v for v, _ in choice_words(place)].index(now))
        elif isinstance(widget, Lines):
            if not widget.hasFocus():
                text = shown(place, self._session.units)
                if widget.toPlainText() != text:
                    widget.setPlainText(text)
                self._bad(widget, "")
            lines = min(max(widget.document().blockCount(), 2), MOST_LINES)
            widget.setFixedHeight(lines * LINES_PX + 16)
        elif isinstance(widget, Field):
            if not widget.hasFocus() or not widget.isModified():
                widget.setText(shown(place, self._session.units))
                widget.setCursorPosition(0)
                widget.accept()
        elif place.shape.how == "yes":
            widget.setChecked(bool(value))  # type: ignore[attr-defined]
            widget.setText("yes" if value else "no")  # type: ignore[attr-defined]
        else:
            for tick in _ticks_of(widget):
                tick.setChecked(tick.property("value") in value)

    # ---- given

    def _give(self, path: Path, value: object) -> None:
        if not self._filling:
            self.changed.emit(path, value)

    def _chosen(self, path: Path, index: int) -> None:
        self._give(path, choice_words(self._places[path])[index][0])

    def _ticked(self, path: Path, _: bool = False) -> None:
        on = [t.property("value") for t in _ticks_of(self._widgets[path]) if t.isChecked()]
        self._give(path, tuple(on))

    def _typed(self, path: Path) -> None:
        widget = self._widgets.get(path)
        place = self._places.get(path)
        if self._filling or place is None or not isinstance(widget, Field | Lines):
            return
        text = widget.text() if isinstance(widget, Field) else widget.toPlainText()
        try:
            value = taken(place, text, self._session.units)
        except Problem as problem:
            self._refuse(widget, str(problem))
            return
        if value == place.value:
            self._accept(widget)
            return
        self._accept(widget)
        self.changed.emit(path, value)

    def refuse(self, path: Path, words: str) -> None:
        """Mark the field at ``path``: what it was given cannot be."""
        widget = self._widgets.get(path)
        if isinstance(widget, Field | Lines):
            self._refuse(widget, words)

    def _refuse(self, widget: Field | Lines, words: str) -> None:
        if isinstance(widget, Field):
            widget.refuse(words)
        else:
            self._bad(widget, words)
            self._session.said.emit("trouble", words)

    def _accept(self, widget: Field | Lines) -> None:
        if isinstance(widget, Field):
            widget.accept()
        else:
            was = widget.accessibleDescription()
            self._bad(widget, "")
            if was:
                self._session.mended.emit(was)

    def _bad(self, widget: Lines, words: str) -> None:
        set_role(widget, "bad", "true" if words else "false")
        widget.setAccessibleDescription(words)

    def first(self) -> QWidget | None:
        """The first of its fields."""
        return next(iter(self._widgets.values()), None)


_NOUNS = {
    "Dial": "dial",
    "Preset": "curve",
    "Need": "need",
    "HouseFigure": "figure",
    "OwnerLine": "line",
}


def _size(place: Place) -> object:
    if place.shape.how == "rows":
        return len(place.value)
    return tag_of(place.value) if place.shape.how == "block" else None


def _ticks_of(widget: QWidget) -> list[Pill]:
    return list(widget.findChildren(Pill))
