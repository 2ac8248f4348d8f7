"""The parts shelf: device sheets, kinds of source and diagnostic connectors, as data."""

from __future__ import annotations

from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING

import msgspec
from PySide6.QtCore import Qt
from PySide6.QtWidgets import QPlainTextEdit, QVBoxLayout, QWidget

from zombrel.actions import parts
from zombrel.actions.notes import house_rules
from zombrel.catalog.diagnostic import Diagnostic, diagnostic
from zombrel.catalog.parse import parse_sheet, parse_source
from zombrel.catalog.sheets import shelf
from zombrel.catalog.sources import source_shelf
from zombrel.intake.record import record
from zombrel.job.model import House
from zombrel.job.problem import Problem
from zombrel.job.quantity import QUANTITIES
from zombrel.job.sheet import DeviceSheet
from zombrel.job.source import Source
from zombrel.store.prefs import user_sheets, user_sources
from zombrel.store.shelf_files import is_own, keep, read_own, text_of, throw_away
from zombrel.ui.session import Session
from zombrel.ui.set.cards import ENTRY_WIDTH, Entry, TableView
from zombrel.ui.shelf.form_view import FormView, Record
from zombrel.ui.shelf.from_bus import BusSources
from zombrel.ui.shelf.house import house_rows, read_house, short
from zombrel.ui.shelf.plug import show_plug, side_words
from zombrel.ui.theme import dress, font
from zombrel.ui.widgets.marks import Mark
from zombrel.ui.widgets.parts import button, clear, column, label, row, scroller
from zombrel.ui.wire.plugs.face_view import FaceView

if TYPE_CHECKING:
    pass

Part = DeviceSheet | Source | Diagnostic | House


class ShelfStage(QWidget):
    """A list at the left; the chosen part as text that can be edited, with what it says."""

    title = "Parts shelf"

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._bus = BusSources(session, self, self._from_bus_kept)
        self.background = self._bus.background
        self._session = session
        self._chosen = ""
        self._entries: dict[str, Entry] = {}
        self._parts: dict[str, Part] = {}
        self._undo: tuple[Path, str, str] | None = None
        inside = QWidget()
        self._list = QVBoxLayout(inside)
        self._list.setContentsMargins(0, 0, 6, 8)
        self._list.setSpacing(4)
        self._left = scroller(inside, "Parts")
        self._left.setFixedWidth(ENTRY_WIDTH + 18)
        self._head = label("", "head")
        self._note = label("", "quiet", wrap=True)
        self._mark, self._words = Mark("open", 18), label("", "", wrap=True)
        self.text = QPlainTextEdit()
        self.text.setFont(font(13, mono=True))
        self.text.setTabChangesFocus(True)
        self.text.setAccessibleName("The part as text")
        self.text.textChanged.connect(self._typed)
        self._keep = button("Keep it", self._save, "primary", "Keep this part")
        self._use = button("Add to this job", self._add_to_job)
        self._copy = button("New from this", self._new_from)
        self._as_form = button("Form", partial(self.show_as, "form"), "toggle", "As a form")
        self._as_text = button("Text", partial(self.show_as, "text"), "toggle", "As text")
        for chip in (self._as_form, self._as_text):
            chip.setCheckable(True)
        self._back = button("Take back", self._take_back, "plain", "Take the last change back")
        self.form = FormView(session)
        self.form.edited.connect(self._edited)
        self._view = "form"
        self._throw = button("Throw mine away", self._delete, "plain")
        self._revert = button("Bring it back", self._bring_back)
        self._revert.hide()
        self._turn = button("Turn it round (M)", self._flip)
        self.face = FaceView(session)
        self.face.setMinimumHeight(220)
        self._table = TableView()
        self._lay_out()
        dress(self)
        self._load()

    def _lay_out(self) -> None:
        state = row(self._head, self._mark, self._words, spacing=8)
        state.setStretch(2, 1)
        says = QWidget()
        self._says = QVBoxLayout(says)
        self._says.setContentsMargins(0, 0, 0, 0)
        self._says.setSpacing(8)
        for w in (self.face, self._table):
            self._says.addWidget(w)
        self._says.addStretch(1)
        self._right = scroller(says, "What the part says")
        self._right.setMinimumWidth(350)
        middle = row(self.form, self.text, self._right, spacing=12)
        middle.setStretch(0, 5)
        middle.setStretch(1, 3)
        middle.setStretch(2, 2)
        new = (
            button("New device sheet", partial(self._start, "device")),
            button("New source", partial(self._start, "source")),
            button("From a bus file…", self._bus.ask, name="Sources from a bus description"),
        )
        acts = row(
            self._as_form,
            self._as_text,
            self._keep,
            self._use,
            self._copy,
            self._back,
            self._throw,
            self._revert,
            self._turn,
            1,
        )
        pane = column(acts, state, self._note, spacing=6)
        pane.addLayout(middle, 1)
        left = column(self._left, *new, spacing=6)
        left.setStretch(0, 1)
        body = row(left, spacing=12)
        body.addLayout(pane, 1)
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.addLayout(body, 1)

    @property
    def subtitle(self) -> str:
        """Where one's own parts are kept."""
        return "your own are plain files and outlive every job"

    # ---- the list

    def _load(self) -> None:
        """Read what is on the shelf."""
        sheets, troubles = shelf(user_sheets())
        sources, more = source_shelf(user_sources())
        for trouble in (*troubles, *more):
            self._session.said.emit("watch", trouble)
        self._parts = {f"device/{s.id}": s for s in sheets}
        self._parts |= {f"source/{s.id}": s for s in sources}
        self._parts["house/rules"] = self._session.job.house
        self._parts |= {f"plug/{d.connector.id}": d for d in diagnostic()}
        clear(self._list)
        self._entries = {}
        group = ""
        heads = {
            "device": "Device sheets",
            "source": "Sources",
            "plug": "Diagnostic connectors",
            "house": "This job's house rules",
        }
        for key, part in self._parts.items():
            kind = key.partition("/")[0]
            if kind != group:
                group = kind
                self._list.addWidget(label(heads[kind], "small"))
            entry = Entry(key)
            entry.clicked.connect(lambda _=False, k=key: self.select(k))
            entry.show_entry(*self._entry_words(key, part))
            self._entries[key] = entry
            self._list.addWidget(entry)
        self._list.addStretch(1)
        if self._chosen not in self._parts:
            self._chosen = next(iter(self._parts), "")
        self.select(self._chosen)

    def _entry_words(self, key: str, part: Part) -> tuple[str, str, str]:
        if isinstance(part, Diagnostic):
            return part.connector.name, part.source, "good"
        if isinstance(part, House):
            return "House rules", "limits, schools and weights", "good"
        own = is_own(self._folder(key), part.id)
        mine = "yours" if own else "shipped"
        if isinstance(part, DeviceSheet):
            return part.name, f"{part.maker} {part.model}, {mine}", "good"
        return part.name, f"{QUANTITIES[part.quantity].title}, {mine}", "good"

    @staticmethod
    def _folder(key: str) -> Path:
        return user_sheets() if key.startswith("device/") else user_sources()

    def select(self, key: str) -> None:
        """Show one part."""
        self._chosen = key
        for name, entry in self._entries.items():
            entry.setChecked(name == key)
        part = self._parts.get(key)
        if key in self._entries:
            self._left.ensureWidgetVisible(self._entries[key])
        is_plug = isinstance(part, Diagnostic)
        for chip in (self._as_form, self._as_text):
            chip.setVisible(not is_plug)
        self._keep.setVisible(not is_plug)
        self._copy.setVisible(not is_plug and key != "house/rules")
        self._use.setVisible(key != "house/rules")
        self._turn.setVisible(is_plug)
        self.face.setVisible(is_plug)
        if isinstance(part, Diagnostic):
            self._head.setText(part.connector.name)
            self._note.setText(
                f"After {part.source}. Cavities differ by protocol and by vehicle: "
                "count and measure before anything is joined."
            )
            self._throw.hide()
            self._say("good", show_plug(part, self.face, self._table))
        elif part is not None:
            self._begin(self._session.job.house if isinstance(part, House) else part)
        self._show_view()

    # ---- as a form, or as text

    def _begin(self, item: Record) -> None:
        """Take up a part to be looked at and changed."""
        self.form.show_part(item, fresh=True)
        self._write(item)

    def _begin_new(self, item: DeviceSheet | Source) -> None:
        """Take up a part that the shelf does not have: none of its own is the chosen one."""
        self._begin(item)
        for entry in self._entries.values():
            entry.setChecked(False)
        self.focus_part()

    def _write(self, item: Record) -> None:
        """Put a part into the text, which says what is wrong with it."""
        self.text.setPlainText(text_of(item, whole=isinstance(item, House)))
        self._typed()

    def _edited(self, item: Record) -> None:
        self.form.show_part(item, fresh=False)
        self._write(item)
        self._back.setVisible(self.form.can_take_back)

    def _take_back(self) -> None:
        self.form.take_back()

    def show_as(self, view: str) -> None:
        """Show the part as a form or as text; what was changed in one is in the other."""
        if view == "form" and self._view != "form":
            kinds: dict[str, type[Record]] = {"house": House, "device": DeviceSheet}
            kind = kinds.get(self._kind(), Source)
            try:
                item: Record = record(self.text.toPlainText().encode(), kind)
            except Problem as problem:
                self._session.said.emit("trouble", f"Mend the text first: {problem}")
                self._show_view()
                return
            self.form.show_part(item, fresh=True)
        self._view = view
        self._show_view()

    def _kind(self) -> str:
        return self._chosen.partition("/")[0]

    def _show_view(self) -> None:
        plug = self._kind() == "plug"
        form = self._view == "form" and not plug
        self.form.setVisible(form)
        self.text.setVisible(not form and not plug)
        self._right.setVisible(not form)
        self._as_form.setChecked(form)
        self._as_text.setChecked(not form)
        self._back.setVisible(form and self.form.can_take_back)

    # ---- the text, checked as it is typed

    def _house(self) -> House:
        return read_house(self.text.toPlainText())

    def _item(self) -> DeviceSheet | Source:
        text = self.text.toPlainText()
        return parse_sheet(text) if self._chosen.startswith("device/") else parse_source(text)

    def _typed_house(self) -> None:
        """The job's house rules: kept in the job, undone like any edit."""
        self._throw.hide()
        self._use.setEnabled(False)
        self._head.setText("House rules of this job")
        words = "Where schools differ, the shop chooses once: findings and the finder go by it."
        if self._view == "text":
            words += (
                " Under figures put any of the lower lines otherwise, as "
                '{"id": "minutes, join", "value": 5}.'
            )
        self._note.setText(words)
        try:
            house = self._house()
        except Problem as problem:
            self._say("trouble", str(problem))
            self._keep.setEnabled(False)
            return
        changed = house != self._session.job.house
        self._keep.setEnabled(changed)
        self._say(
            "watch" if changed else "good",
            "Sound; not kept yet." if changed else "As this job has them.",
        )
        self._table.show_rows(("rule", "stands at", ""), house_rows(house))

    def _typed(self) -> None:
        if self._chosen == "house/rules":
            self._typed_house()
            return
        try:
            item = self._item()
        except Problem as problem:
            form = self._view == "form"
            self._say("trouble", self.form.in_words(str(problem)) if form else str(problem))
            self._keep.setEnabled(False)
            self._use.setEnabled(False)
            return
        part = self._parts.get(self._chosen)
        changed = item != part
        own = is_own(self._folder(self._chosen), item.id)
        self._keep.setEnabled(changed)
        self._use.setEnabled(True)
        self._throw.setVisible(own)
        self._say_use(item)
        self._head.setText(item.name)
        what = "Yours." if own else "Shipped; keeping it makes a copy of your own that replaces it."
        if f"{self._kind()}/{item.id}" not in self._parts:
            what = "New."
        self._note.setText(f"{what} Kept in {_home(self._folder(self._chosen))}.")
        self._say(
            "watch" if changed else "good",
            "Sound; not kept yet." if changed else "Sound, every field checked.",
        )
        self._summarise(item)

    def _say_use(self, item: DeviceSheet | Source) -> None:
        """A device that the job has as it was before is changed there, not fitted twice."""
        words = "Add to this job"
        if isinstance(item, DeviceSheet) and parts.change_sheet(self._session.job, item):
            words = "Change it in this job"
        self._use.setText(words)
        self._use.setAccessibleName(words)

    def _say(self, mark: str, words: str) -> None:
        self._mark.show_mark(mark)
        self._words.setText(words)
        self._words.set_role(mark if mark != "good" else "")

    def _summarise(self, item: DeviceSheet | Source) -> None:
        rows: list[tuple[str, ...]] = []
        if isinstance(item, Source):
            tag = str(item.spec.__struct_config__.tag)
            rows = [("gives", item.quantity), ("kind", tag), ("place", item.place or "not said")]
            rows.append(("work", f"{item.minutes:.0f} min"))
            for name in item.spec.__struct_fields__:
                rows.append((name.replace("_", " "), short(getattr(item.spec, name))))
            self._table.show_rows(("field", "stands at"), tuple(rows))
            return
        for given in item.inputs:
            kind = "" if given.setting is None else str(given.setting.__struct_config__.tag)
            rows.append((given.pin, f"{given.quantity}, {given.takes}", kind))
        for out in item.outputs:
            rows.append((out.pin, f"gives {out.quantity}", ""))
        for control in item.controls:
            rows.append((control.pin, control.label, str(control.setting.__struct_config__.tag)))
        for supply in item.supplies:
            rows.append((supply.pin, supply.kind, f"{supply.amps:g} A"))
        self._table.show_rows(("pin", "what", "set by"), tuple(rows))

    # ---- doing

    def _save(self) -> None:
        s = self._session
        if self._chosen == "house/rules":
            try:
                edit = house_rules(self._house())
            except Problem as problem:
                s.said.emit("trouble", str(problem))
                return
            if s.do("House rules", edit):
                self._typed()
            return
        try:
            item = self._item()
            old = read_own(self._folder(self._chosen), item.id)
            path = keep(self._folder(self._chosen), item)
        except Problem as problem:
            s.said.emit("trouble", str(problem))
            return
        kind = self._chosen.partition("/")[0]
        folder = self._folder(self._chosen)
        self._chosen = f"{kind}/{item.id}"
        self._load()
        self._offer_back((folder, kind, old) if old is not None else None)
        s.said.emit("good", f"Kept in {_home(path)}.")

    def _delete(self) -> None:
        kind, _, key = self._chosen.partition("/")
        folder = self._folder(self._chosen)
        text = throw_away(folder, key)
        if text is None:
            return
        self._load()
        self._offer_back((folder, kind, text))
        self._session.said.emit("good", f"{key} is thrown away. Press “Bring it back” to undo.")

    def _offer_back(self, undo: tuple[Path, str, str] | None) -> None:
        """Offer what was thrown away or written over, until something else is kept."""
        self._undo = undo
        self._revert.setVisible(undo is not None)

    def _bring_back(self) -> None:
        if self._undo is None:
            return
        folder, kind, text = self._undo
        item = parse_sheet(text) if kind == "device" else parse_source(text)
        keep(folder, item)
        self._offer_back(None)
        self._chosen = f"{kind}/{item.id}"
        self._load()

    def _new_from(self) -> None:
        """A copy under a free name, not kept until it is asked for."""
        try:
            item = self._item()
        except Problem as problem:
            self._session.said.emit("trouble", str(problem))
            return
        kind = self._chosen.partition("/")[0]
        n = 2
        while f"{kind}/{item.id}-{n}" in self._parts:
            n += 1
        fresh = msgspec.structs.replace(item, id=f"{item.id}-{n}", name=f"{item.name} {n}")
        self._begin_new(fresh)

    def _start(self, kind: str) -> None:
        """Begin a part from nothing."""
        if kind == "device":
            self.select(next(k for k in self._parts if k.startswith("device/")))
            blank: DeviceSheet | Source = DeviceSheet(
                id="mine", maker="?", model="?", name="New device"
            )
        else:
            self.select(next(k for k in self._parts if k.startswith("source/")))
            part = self._parts[self._chosen]
            assert isinstance(part, Source)  # the list says so
            blank = msgspec.structs.replace(part, id="mine", name="New source")
        self._begin_new(blank)

    def _add_to_job(self) -> None:
        part = self._parts.get(self._chosen)
        job = self._session.job
        if isinstance(part, Diagnostic):
            self._session.do(f"Add {part.connector.name}", parts.add_connector(job, part.connector))
            return
        try:
            item = self._item()
        except Problem as problem:
            self._session.said.emit("trouble", str(problem))
            return
        if isinstance(item, Source):
            edit = parts.add_source(job, item)
        else:
            changed = parts.change_sheet(job, item)
            edit = changed or parts.add_device(job, item)
        if self._session.do(f"{self._use.text()}: {item.name}", edit):
            self._session.said.emit("good", f"{item.name} is in the job; Source and Set know it.")
            self._say_use(item)

    def _flip(self) -> None:
        self.face.turn()
        self._say("good", side_words(self.face))

    def read_bus(self, name: str) -> None:
        """Keep a source for every value of a bus description that means something here."""
        self._bus.read(name)

    def _from_bus_kept(self, sources: tuple[Source, ...]) -> None:
        if sources:
            self._chosen = f"source/{sources[0].id}"
        self._load()

    def focus_part(self) -> None:
        """Put the keyboard into the part that is edited."""
        if self._view == "form":
            self.form.focus_fields()
        else:
            self.text.setFocus(Qt.FocusReason.OtherFocusReason)

    # ---- as every stage

    def refresh(self) -> None:
        """Only the house rules depend on the job."""
        if (
            self._chosen == "house/rules"
            and self._parts.get(self._chosen) != self._session.job.house
        ):
            self._parts[self._chosen] = self._session.job.house
            self.select(self._chosen)

    def focus_first(self) -> None:
        """Keyboard focus for one who just came here."""
        if self._chosen in self._entries:
            self._entries[self._chosen].setFocus(Qt.FocusReason.OtherFocusReason)

    def show_item(self, item: str) -> None:
        """Show one part by its key."""
        if item in self._parts:
            self.select(item)


def _home(path: Path) -> str:
    """A path as a person writes it."""
    return str(path).replace(str(Path.home()), "~", 1)
