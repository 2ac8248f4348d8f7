"""The front door: devices, vehicle, the first questions, and a first number at once."""

from __future__ import annotations

import itertools
from functools import partial

from PySide6.QtCore import QStringListModel, Qt
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QCompleter, QMenu, QSizePolicy, QVBoxLayout, QWidget

from zombrel.actions import parts
from zombrel.actions.notes import put_fact
from zombrel.behaviour.questions import questions, unserved
from zombrel.catalog.sheets import shelf
from zombrel.job.sheet import DeviceSheet
from zombrel.job.stages import STAGE_NAMES, Stage
from zombrel.store.prefs import user_sheets
from zombrel.ui.session import Session
from zombrel.ui.start.earlier import Earlier
from zombrel.ui.start.first import FirstNumber
from zombrel.ui.start.rows import QuestionRow, ServedRow, SourceRow
from zombrel.ui.theme import dress
from zombrel.ui.widgets.figure import Field
from zombrel.ui.widgets.offer import offer_best
from zombrel.ui.widgets.parts import (
    button,
    card,
    clear,
    clip,
    column,
    in_lines,
    label,
    row,
    scroller,
)

ROOM = 380
"""Least width for chips [px]."""
LONGEST = 34
"""Characters of a device's name on its chip."""
WHAT = (
    "Name the devices and the vehicle. Zombrel asks only for what these two need, and says what "
    "each device will read before a wire is cut."
)


GOES: dict[Stage, str] = {
    "survey": "what the vehicle is, what is fitted, how each fact is known",
    "source": "where every signal comes from, and what the device makes of it",
    "wire": "every conductor, fuse, ground and joint, and where it runs",
    "set": "dials, switches and curves as they will be touched",
    "prove": "one test at a time: what must be seen, and what else it may mean",
    "road": "shown speed against true speed, once the brake is proven",
    "handover": "the owner's sheet, the drawing, labels and lists",
}
"""What is done in each stage, for one who is new here."""


def how_it_goes() -> QWidget:
    """The stages of a job in a line each."""
    shown, inner = card(margins=12)
    inner.addWidget(label("How a job goes", "quiet"))
    for stage, words in GOES.items():
        name = label(STAGE_NAMES[stage], "strong13")
        name.setFixedWidth(84)
        line = row(name, label(words, "quiet", wrap=True))
        line.setStretch(1, 1)
        inner.addLayout(line)
    return shown


class DeviceField(Field):
    """Type a part of a device's name: what fits is offered, Enter takes the first."""

    def __init__(self, page: StartStage) -> None:
        super().__init__(page.session, "What is fitted: type a device or its maker")
        self._page = page
        self.setPlaceholderText("type a device or its maker")
        self._names = QStringListModel(self)
        self._completer = QCompleter(self._names, self)
        self._completer.setCaseSensitivity(Qt.CaseSensitivity.CaseInsensitive)
        self._completer.setFilterMode(Qt.MatchFlag.MatchContains)
        self._completer.setMaxVisibleItems(12)
        self.setCompleter(self._completer)
        dress(self._completer.popup())
        self._completer.activated.connect(self._take)
        self.returnPressed.connect(self._enter)

    def offer(self, names: list[str]) -> None:
        """The names on the shelf."""
        if self._names.stringList() != names:
            self._names.setStringList(names)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() == Qt.Key.Key_Down and not self._completer.popup().isVisible():
            self._completer.setCompletionPrefix(self.text())
            self._completer.complete()
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and not self.text().strip():
            self._page.begin()
        else:
            super().keyPressEvent(event)

    def _take(self, name: str) -> None:
        self._page.add_named(name)
        self.clear()

    def _enter(self) -> None:
        text = self.text().strip().lower()
        found = [n for n in self._names.stringList() if text in n.lower()]
        if text and not found:
            self.refuse(f"No device here is called “{self.text()}”: try its maker, or the shelf.")
            return
        self.accept()
        if text:
            self._take(found[0])


class StartStage(QWidget):
    """What is fitted, which vehicle, what is known already."""

    title = "What goes into which vehicle?"
    subtitle = ""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self._sheets: dict[str, DeviceSheet] = {}
        self._rows: dict[str, QuestionRow] = {}
        self._asked: tuple[object, ...] = ()
        self._more_shown = False
        self._device = DeviceField(self)
        self._chips = QVBoxLayout()
        self._chips.setSpacing(6)
        self._vehicle = Field(session, "Which vehicle: name or model")
        self._vehicle.setPlaceholderText("make, model, engine")
        self._vehicle.editingFinished.connect(self._name_entered)
        self._like = button("", self._take_like, "plain")
        self._questions = QVBoxLayout()
        self._questions.setSpacing(4)
        self._more = button("", self._toggle_more, "plain")
        self.earlier = Earlier(session)
        self.first = FirstNumber(session, self.show_item)
        self._lay_out()
        self._read_shelf()

    def _lay_out(self) -> None:
        left, inner = card(margins=12)
        every = button("All devices  ▾", self._all_devices, "plain", "All devices on the shelf")
        inner.addWidget(label("What is fitted", "quiet"))
        inner.addLayout(self._chips)
        entry = row(self._device, every)
        entry.setStretch(0, 1)
        inner.addLayout(entry)
        inner.addSpacing(6)
        inner.addWidget(label("Which vehicle", "quiet"))
        inner.addWidget(self._vehicle)
        inner.addLayout(row(self._like, 1))
        self._head = label("", "quiet")
        inner.addWidget(self._head)
        inner.addLayout(self._questions)
        inner.addLayout(row(self._more, 1))
        self._begin = button("Begin   Enter", self.begin, "primary", "Begin")
        self._best = button("Take the best source for every input", self.take_best)
        actions = row(
            self._begin,
            self._best,
            button("Open a job file", lambda: self.session.ask.emit("open")),
            1,
        )
        inside = QWidget()
        self._how = how_it_goes()
        left_column = column(left, self._how, 1, spacing=12)
        right_column = column(
            label("At once", "quiet"),
            self.first,
            label("Go on with", "quiet"),
            self.earlier,
            1,
            spacing=8,
        )
        halves = []
        for side in (left_column, right_column):
            half = QWidget()
            side.setContentsMargins(0, 0, 0, 0)
            half.setLayout(side)
            half.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Preferred)
            halves.append(half)
        both = row(*halves, spacing=18)
        both.setStretch(0, 6)
        both.setStretch(1, 5)
        body = column(label(WHAT, "quiet", wrap=True), both, spacing=12)
        body.setContentsMargins(0, 0, 6, 8)
        inside.setLayout(body)
        self._area = scroller(inside, "Start")
        self.setLayout(column(self._area, actions, spacing=10))

    # ---- what the window asks

    def focus_first(self) -> None:
        """Keyboard focus for one who just came here, with what the shelf holds now."""
        self._read_shelf()
        self._device.setFocus(Qt.FocusReason.OtherFocusReason)

    def show_item(self, item: str) -> None:
        """Put the cursor into the field of a fact."""
        path = item.removeprefix("survey:")
        if path == "vehicle.name":
            self._vehicle.setFocus(Qt.FocusReason.OtherFocusReason)
        elif path in self._rows:
            found = self._rows[path]
            self._area.ensureWidgetVisible(found, 0, 60)
            found.field.setFocus(Qt.FocusReason.OtherFocusReason)
        elif item:
            self.session.goto.emit(item if ":" in item else f"survey:{item}")

    def refresh(self) -> None:
        """Show the job as far as it has come."""
        job = self.session.job
        self._show_chips()
        if not (self._vehicle.hasFocus() and self._vehicle.isModified()):
            self._vehicle.setText(job.vehicle.name)
        self._show_like()
        self._show_questions()
        self._best.setVisible(bool(unserved(job)))
        self._how.setVisible(not job.devices)
        self.first.refresh()
        self.earlier.refresh()

    # ---- devices

    def _read_shelf(self) -> None:
        sheets, _ = shelf(user_sheets())
        self._sheets = {f"{s.name}, {s.maker} {s.model}": s for s in sheets}
        self._device.offer(list(self._sheets))

    def _show_chips(self) -> None:
        clear(self._chips)
        made = []
        for device in self.session.job.devices:
            drop = partial(self._drop, device.id)
            name = clip(device.name, LONGEST)
            made.append(button(f"{name}   ×", drop, "", f"Remove {device.name}"))
        for chips in in_lines(made, max(ROOM, self.width() // 2 - 110), 6):
            self._chips.addLayout(row(*chips, 1, spacing=6))

    def _all_devices(self) -> None:
        menu = QMenu(self)
        dress(menu)
        for name in self._sheets:
            menu.addAction(name).triggered.connect(lambda _=False, n=name: self.add_named(n))
        menu.addSeparator()
        own = menu.addAction("Make one of your own on the parts shelf…")
        own.triggered.connect(lambda _=False: self.session.goto.emit("shelf"))
        menu.popup(self._device.mapToGlobal(self._device.rect().bottomLeft()))

    def add_named(self, name: str) -> None:
        """Fit a device by its name on the shelf."""
        sheet = self._sheets.get(name)
        if sheet is not None:
            s = self.session
            s.do(f"Add {sheet.name}", parts.add_device(s.job, sheet))
            self._device.setFocus(Qt.FocusReason.OtherFocusReason)

    def _drop(self, key: str) -> None:
        s = self.session
        device = next((d for d in s.job.devices if d.id == key), None)
        if device is not None:
            s.do(
                f"Remove {device.name} with all that is only for it", parts.leave_out(s.job, device)
            )

    # ---- vehicle

    def _name_entered(self) -> None:
        s, name = self.session, self._vehicle.text().strip()
        if name != s.job.vehicle.name:
            s.do(f"Vehicle: {name or 'no name'}", put_fact("vehicle.name", name))

    def _show_like(self) -> None:
        found = self.earlier.like()
        self._like.setVisible(found is not None)
        if found is not None:
            many = "facts" if len(found.facts) > 1 else "fact"
            words = f"Like {found.number or found.name}: take its {len(found.facts)} {many}"
            self._like.setText(f"{words} as “other car, to be checked”")

    def _take_like(self) -> None:
        found = self.earlier.like()
        if found is not None:
            self.session.do(f"Facts of {found.number or found.name}", found.edit)

    # ---- questions

    def _show_questions(self) -> None:
        job, more = self.session.job, self._more_shown
        wanted, asked = unserved(job), questions(job)[1:] if job.devices else ()
        served = {c.quantity: c.source for c in job.chains}
        first = [q for q in asked if q.sheet.needed or more]
        sources = [w for w in wanted if w.required or more]
        key = (
            tuple(served.items()),
            sources,
            [q.sheet.path for q in first],
            self.session.theme,
            self.session.units,
        )
        if key != self._asked:
            within = self._questions_have_focus()
            self._asked = key
            clear(self._questions)
            self._rows = {}
            for want in sources:
                self._questions.addWidget(SourceRow(self.session, want))
            for question in first:
                fact = self._rows[question.sheet.path] = QuestionRow(self.session, question)
                fact.gone_on.connect(self._next_open)
                self._questions.addWidget(fact)
            for quantity, source in served.items():
                self._questions.addWidget(ServedRow(self.session, quantity, source))
            self._order_tabs()
            if within:
                self._next_open("")
        for question in first:
            self._rows[question.sheet.path].show_question(question)
        hidden = len(asked) - len(first) + len(wanted) - len(sources)
        unknown = sum(not q.known for q in first)
        words = f"Asked for these: {unknown} still open" if unknown else "All that is asked is said"
        self._head.setText(words if first or sources or served else "")
        self._more.setVisible(bool(hidden) or more)
        self._more.setText("Fewer" if more else f"{hidden} more that may be said")

    def _order_tabs(self) -> None:
        """Tab goes down the left side, questions and all, before it goes to the right."""
        fields: list[QWidget] = [self._vehicle, self._like]
        for i in range(self._questions.count()):
            line = self._questions.itemAt(i)
            shown = line.widget() if line is not None else None
            if isinstance(shown, SourceRow):
                fields.append(shown.box)
            elif isinstance(shown, QuestionRow):
                fields.append(shown.field)
            elif isinstance(shown, ServedRow):
                fields.append(shown.change)
        for before, after in itertools.pairwise([*fields, self._more, self._begin]):
            QWidget.setTabOrder(before, after)

    def _questions_have_focus(self) -> bool:
        now = self.focusWidget()
        lines = (self._questions.itemAt(i) for i in range(self._questions.count()))
        held = [w for w in (line.widget() for line in lines if line is not None) if w is not None]
        return now is not None and any(w.isAncestorOf(now) for w in held)

    def _next_open(self, path: str) -> None:
        """Go on to what is still to be said: a source first, then the next fact below ``path``."""
        sources = self.findChildren(SourceRow)
        paths = list(self._rows)
        after = paths[paths.index(path) + 1 :] if path in paths else paths
        known = {q.sheet.path for q in questions(self.session.job) if q.known}
        rows = [self._rows[p] for p in after if p not in known]
        if not path and sources:
            self._area.ensureWidgetVisible(sources[0], 0, 60)
            sources[0].box.setFocus(Qt.FocusReason.OtherFocusReason)
        elif rows:
            self._area.ensureWidgetVisible(rows[0], 0, 60)
            rows[0].field.setFocus(Qt.FocusReason.OtherFocusReason)
        else:
            self._begin.setFocus(Qt.FocusReason.OtherFocusReason)

    def _toggle_more(self) -> None:
        self._more_shown = not self._more_shown
        self._show_questions()

    # ---- on

    def take_best(self) -> None:
        """The best source for every input, with what was chosen and why."""
        offer_best(self.session, self.window())

    def begin(self) -> None:
        """Go on to where the work is."""
        job = self.session.job
        if not job.devices:
            self.session.said.emit(
                "open", "Say first what is fitted: type a device and press Enter."
            )
            self._device.setFocus(Qt.FocusReason.OtherFocusReason)
            return
        self.session.goto.emit("source" if job.chains else "survey")
