"""A part of the shelf as a form: a device as rows of pins, a source or the rules as fields."""

from __future__ import annotations

from functools import partial

import msgspec
from PySide6.QtCore import QEvent, Qt, QTimer, Signal
from PySide6.QtGui import QKeySequence
from PySide6.QtWidgets import QLineEdit, QMenu, QVBoxLayout, QWidget

from zombrel.calibrate.settings.setting import names
from zombrel.catalog.form.fields import Path, at, put, shapes_of, unsaid, without
from zombrel.catalog.form.pins import PinRow, pin_rows
from zombrel.catalog.form.ready import PARTS, ROWS, turned, with_copy, with_part
from zombrel.catalog.form.troubles import in_words, place_of
from zombrel.catalog.sheets import shelf
from zombrel.job.model import House
from zombrel.job.problem import Problem
from zombrel.job.sheet import Control, Curves, DeviceSheet, InputSheet
from zombrel.job.source import Source
from zombrel.store.prefs import user_sheets
from zombrel.ui.form.gives import Gives
from zombrel.ui.form.record_form import Named, RecordForm
from zombrel.ui.form.source_form import turned_source
from zombrel.ui.session import Session
from zombrel.ui.set.cards import Entry
from zombrel.ui.set.touch import TouchView
from zombrel.ui.shelf.trial import Trial
from zombrel.ui.theme import dress
from zombrel.ui.widgets.commands import Command, Commanded
from zombrel.ui.widgets.parts import button, clear, column, label, row, scroller

Record = DeviceSheet | Source | House
WHOLE = ("inputs", "outputs", "supplies", "controls")
"""What of a device is listed at the left, and no field of the device itself."""
PINS_PX = 226
KEPT = 100
"""So many steps can be taken back."""


class FormView(Commanded, QWidget):
    """The part that is edited, one pin of it open."""

    edited = Signal(object)
    """The part as it is now."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._record: Record | None = None
        self._open: Path = ()
        self._stands = ""
        """Where the drawn setting was put by hand; empty: where it should."""
        self._past: list[Record] = []
        self._entries: dict[Path, Entry] = {}
        inside = QWidget()
        self._list = QVBoxLayout(inside)
        self._list.setContentsMargins(0, 0, 6, 0)
        self._list.setSpacing(4)
        self._pins = scroller(inside, "Pins")
        self._add = button("Add a pin ▾   P", self._ask_part, name="Add a pin or control")
        self._like = button("Like another's ▾", self._ask_like, name="A pin like another device's")
        self._left = QWidget()
        left = column(self._pins, self._add, self._like, spacing=6)
        left.setStretch(0, 1)
        self._left.setLayout(left)
        self._left.setFixedWidth(PINS_PX + 12)
        self._head, self._does = label("", "head", wrap=True), label("", "quiet", wrap=True)
        self._out = button("Take this pin out", self._take_out, "plain")
        self.touch = TouchView(session)
        self.touch.moved.connect(self._moved)
        self.trial, self.gives = Trial(session), Gives(session)
        self._drawn = QWidget()
        drawn = row(self.touch, self.trial, spacing=12)
        drawn.setContentsMargins(0, 0, 8, 0)
        drawn.setStretch(1, 1)
        self._drawn.setLayout(drawn)
        self.form = RecordForm(session)
        self.form.changed.connect(self._put)
        self.form.rows_changed.connect(self._rows)
        body = QWidget()
        title = row(column(self._head, self._does, spacing=0), self._out)
        title.setStretch(0, 1)
        lines = column(title, self._drawn, self.gives, self.form, spacing=9)
        lines.setContentsMargins(12, 8, 6, 8)
        lines.setStretch(3, 1)
        body.setLayout(lines)
        self._right = scroller(body, "Fields")
        outer = row(self._left, self._right, spacing=6)
        outer.setStretch(1, 1)
        self.setLayout(outer)
        session.changed.connect(self._try)
        dress(self)

    def commands(self) -> tuple[Command, ...]:
        """What can be done to a device."""
        if not isinstance(self._record, DeviceSheet):
            return ()
        return (Command("Add a pin or control", "P", self._ask_part),)

    # ---- shown

    def show_part(self, record: Record, fresh: bool) -> None:
        """Show a part; ``fresh``: another than before, with nothing to take back."""
        if fresh:
            self._past.clear()
            self._open, self._stands = (), ""
        self._record = record
        is_device = isinstance(record, DeviceSheet)
        self._left.setVisible(is_device)
        if isinstance(record, DeviceSheet):
            rows = pin_rows(record)
            if self._open and self._open not in [r.path for r in rows]:
                self._open = ()
            self._show_pins(record, rows)
        self._show_open()

    def _show_pins(self, sheet: DeviceSheet, rows: tuple[PinRow, ...]) -> None:
        wanted = [(), *(r.path for r in rows)]
        if list(self._entries) != wanted:
            clear(self._list)
            self._entries = {}
            for path in wanted:
                entry = Entry(repr(path))
                entry.clicked.connect(partial(self.open_pin, path))
                self._entries[path] = entry
                self._list.addWidget(entry)
            self._list.addStretch(1)
        mark = "watch" if unsaid(sheet) else "good"
        self._entries[()].show_entry("The device itself", sheet.name, mark)
        for r in rows:
            self._entries[r.path].show_entry(r.pin, r.does, "watch" if r.unsaid else "good")
        for path, entry in self._entries.items():
            entry.setChecked(path == self._open)

    def in_words(self, trouble: str) -> str:
        """What is wrong with the part, by its labels; its pin is marked in the list."""
        if self._record is None:
            return trouble
        where = place_of(trouble)[:2]
        entry = self._entries.get(where)
        if entry is not None:
            name = at(self._record, where).pin if where else "The device itself"
            entry.show_entry(name, "cannot be so", "trouble")
        return in_words(trouble, self._record)

    def open_pin(self, path: Path, _: bool = False) -> None:
        """Open one pin, or the device itself."""
        self._open, self._stands = path, ""
        for key, entry in self._entries.items():
            entry.setChecked(key == path)
        if path in self._entries:
            self._pins.ensureWidgetVisible(self._entries[path])
        self._show_open()
        self._right.verticalScrollBar().setValue(0)

    def _show_open(self) -> None:
        record = self._record
        if record is None:
            return
        part = at(record, self._open)
        skip = () if self._open else WHOLE
        self.form.show_record(part, self._open, skip, _names_in(record))
        self._out.setVisible(bool(self._open))
        rows = pin_rows(record) if isinstance(record, DeviceSheet) else ()
        line = next((r for r in rows if r.path == self._open), None)
        self._head.setVisible(line is not None)
        missing = line.unsaid if line is not None else unsaid(part)
        words = ""
        if line is not None:
            by = f"set by {line.set_by}" if line.set_by and line.set_by != "fixed" else ""
            words = "; ".join(x for x in (line.does, line.takes, by) if x)
        if missing:
            words += f"{'. ' if words else ''}Not said, and a verdict hangs on it: "
            words += f"{', '.join(f'“{name}”' for name in missing)}."
        self._does.setVisible(bool(words))
        self._does.setText(words)
        self._does.set_role("watch" if missing else "quiet")
        if line is not None:
            self._head.setText(line.pin)
        self._try()

    def _try(self) -> None:
        """Draw the setting of the open pin, and try it on the job."""
        if self._record is None or not self.isVisibleTo(self.window()):
            return
        self.gives.setVisible(isinstance(self._record, Source))
        if isinstance(self._record, Source):
            self.gives.show_source(self._record)
        part = at(self._record, self._open)
        is_input = isinstance(part, InputSheet)
        self.trial.setVisible(is_input)
        stands = self._stands
        if is_input and isinstance(self._record, DeviceSheet):
            stands = self.trial.show_pin(self._record, part.pin, self._stands)
        setting = part.setting if isinstance(part, InputSheet | Control) else None
        drawable = setting is not None and not isinstance(setting, Curves)
        if setting is not None and drawable:
            try:
                places = names(setting)
            except Problem:
                places = ()
            drawable = bool(places)
            if stands not in places:
                stands = places[0] if drawable else ""
        self.touch.setVisible(drawable)
        if drawable and setting is not None:
            self.touch.show_setting(setting, stands, "", part.pin)
        self._drawn.setVisible(is_input or drawable)

    def showEvent(self, event: object) -> None:
        super().showEvent(event)  # type: ignore[arg-type]
        self._try()

    def _moved(self, to: str) -> None:
        self._stands = to
        self._try()

    # ---- changed

    def _put(self, path: Path, value: object) -> None:
        record = self._record
        assert record is not None  # its form called
        try:
            if path[-1] == "setting" and isinstance(record, DeviceSheet):
                self._stands = ""
                changed: Record = turned(record, path[:-1], str(value))
            elif path[-1] == "spec" and isinstance(record, Source):
                changed = turned_source(record, str(value))
            else:
                changed = put(record, path, value)
        except Problem as problem:
            self._session.said.emit("trouble", str(problem))
            self.form.refuse(path, str(problem))
            return
        self._take(changed)

    def _take(self, changed: Record) -> None:
        assert self._record is not None  # it is what changed
        self._past = [*self._past, self._record][-KEPT:]
        self._record = changed
        # After the event that changed it: its field may be made anew.
        QTimer.singleShot(0, partial(self.edited.emit, changed))

    def _rows(self, path: Path, n: int) -> None:
        record = self._record
        assert record is not None  # its form called
        try:
            if n >= 0:
                self._take(without(record, (*path, n)))
                return
            kind = next(k for k in ROWS if _lists(record, path, k))
            self._take(put(record, path, (*at(record, path), ROWS[kind])))
        except Problem as problem:
            self._session.said.emit("trouble", str(problem))

    def _take_out(self) -> None:
        if isinstance(self._record, DeviceSheet) and self._open:
            path, self._open = self._open, ()
            self._take(without(self._record, path))

    @property
    def can_take_back(self) -> bool:
        """Whether something was changed since the part was taken up."""
        return bool(self._past)

    def take_back(self) -> bool:
        """Undo the last change to the part; whether there was one."""
        if not self._past:
            return False
        self._record = self._past.pop()
        self.edited.emit(self._record)
        return True

    def event(self, event: QEvent) -> bool:
        """Ctrl+Z takes back what was done to the part, before anything of the job."""
        undo = QKeySequence.StandardKey.Undo
        if event.type() == QEvent.Type.ShortcutOverride and event.matches(undo):  # type: ignore[attr-defined]
            if self._past:
                event.accept()
        elif (
            event.type() == QEvent.Type.KeyPress
            and event.matches(undo)  # type: ignore[attr-defined]
            and self.take_back()
        ):
            return True
        return super().event(event)

    # ---- put in

    def _ask_part(self) -> None:
        menu = QMenu(self)
        dress(menu)
        for name in PARTS:
            menu.addAction(name).triggered.connect(partial(self.add_part, name))
        menu.popup(self._add.mapToGlobal(self._add.rect().bottomLeft()))

    def add_part(self, name: str, _: bool = False) -> None:
        """Put a ready pin or control into the device, and open it."""
        if isinstance(self._record, DeviceSheet):
            self._open_new(*with_part(self._record, name))

    def _ask_like(self) -> None:
        menu = QMenu(self)
        dress(menu)
        for other in shelf(user_sheets())[0]:
            inner = menu.addMenu(other.name)
            dress(inner)
            for r in pin_rows(other):
                act = inner.addAction(f"{r.pin}: {r.does}")
                act.triggered.connect(partial(self.add_like, other, r.pin))
        menu.popup(self._like.mapToGlobal(self._like.rect().bottomLeft()))

    def add_like(self, other: DeviceSheet, pin: str, _: bool = False) -> None:
        """Put in a pin like that of another device, and open it."""
        if isinstance(self._record, DeviceSheet):
            self._open_new(*with_copy(self._record, other, pin))

    def _open_new(self, sheet: DeviceSheet, pin: str) -> None:
        self._open = next(r.path for r in pin_rows(sheet) if r.pin == pin)
        self._stands = ""
        self._take(sheet)
        QTimer.singleShot(0, self.focus_fields)

    def focus_fields(self) -> None:
        """Put the keyboard into the first field."""
        first = self.form.first()
        if first is not None:
            first.setFocus(Qt.FocusReason.OtherFocusReason)
        if isinstance(first, QLineEdit):
            first.selectAll()


def _names_in(record: Record) -> Named:
    """The pins that other parts of a device may name."""
    if not isinstance(record, DeviceSheet):
        return {}
    inputs = ("", *(i.pin for i in record.inputs))
    ratios = ("", *(c.pin for c in record.controls if c.means == "ratio"))
    return {
        ("Control", "of"): inputs,
        ("OutputSheet", "of"): inputs,
        ("OutputSheet", "ratio"): ratios,
    }


def _lists(record: msgspec.Struct, path: Path, kind: type) -> bool:
    """Whether the list at ``path`` is of records of ``kind``."""
    owner = at(record, path[:-1])
    return kind in shapes_of(type(owner))[str(path[-1])].kinds  # type: ignore[arg-type]
