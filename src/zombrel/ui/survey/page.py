"""Survey: the facts of the vehicle, each with how it is known; devices; what the car offers."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from functools import partial

import msgspec
from PySide6.QtCore import Qt
from PySide6.QtGui import QResizeEvent
from PySide6.QtWidgets import (
    QBoxLayout,
    QComboBox,
    QMenu,
    QSizePolicy,
    QVBoxLayout,
    QWidget,
)

from zombrel.actions import parts
from zombrel.actions.notes import put_fact
from zombrel.actions.signals import remove_source
from zombrel.behaviour.questions import missing, questions
from zombrel.calibrate.tyre import parse as parse_tyre
from zombrel.catalog.cautions import cautions
from zombrel.catalog.sheets import shelf
from zombrel.catalog.sources import source_shelf
from zombrel.findings.explain import explain_fact
from zombrel.job import facts
from zombrel.job.edits import fact
from zombrel.job.facts import FactSheet
from zombrel.job.follow.query import Watch
from zombrel.job.ledger import MEANING, RANK, evidence, provenance
from zombrel.job.model import RUNGS, Device, Job
from zombrel.job.problem import Problem
from zombrel.job.sheet import DeviceSheet
from zombrel.job.source import Source
from zombrel.job.typed import facts as typed
from zombrel.store.prefs import user_sheets, user_sources
from zombrel.ui.form.figures import figures_button
from zombrel.ui.session import Session
from zombrel.ui.survey.before import BeforeLog
from zombrel.ui.survey.comes_back import ComesBack
from zombrel.ui.theme import dress
from zombrel.ui.widgets.choice import Choice
from zombrel.ui.widgets.commands import Command, Commanded
from zombrel.ui.widgets.figure import Field
from zombrel.ui.widgets.marks import Mark
from zombrel.ui.widgets.paint import Panel, Pill, Words
from zombrel.ui.widgets.parts import button, card, clear, column, label, row, scroller
from zombrel.ui.widgets.tip import tip
from zombrel.ui.widgets.why import show_why
from zombrel.units import MILE
from zombrel.units.measure import short_of

EMPTY = Job()
"""What a fact is that nobody has said."""


TWO_PX = 620
"""Facts stand in two columns from this width on."""


class KnownButton(Pill):
    """How one thing is known: a shape, a word, and a menu to write the ledger."""

    def __init__(self, session: Session, path: str, words: str) -> None:
        super().__init__("", "known")
        self._session, self._path, self._words = session, path, words
        self.setFixedWidth(106)
        self.clicked.connect(lambda _=False: self.ask())

    def refresh(self) -> None:
        known = provenance(self._session.job, self._path)
        sure = known is not None and RANK[known] >= RANK["counted"]
        shape = "✓" if sure else "□" if known is None else "▵"
        self.setText(f"{shape} {known or 'not said'}")
        t = self._session.theme
        self.ink = t.good if sure else t.quiet if known is None else t.watch
        meaning = MEANING[known] if known else "nobody has said how this is known"
        self.setAccessibleName(f"{self._words}, known by: {meaning}. Press to change.")
        tip(self, meaning)

    def ask(self) -> None:
        """Choose how it is known."""
        menu = QMenu(self)
        dress(menu)
        for rung in RUNGS:
            push_button = menu.addAction(f"{rung}: {MEANING[rung]}")
            push_button.triggered.connect(lambda _=False, r=rung: self._write(r))
        menu.popup(self.mapToGlobal(self.rect().bottomLeft()))

    def _write(self, rung: str) -> None:
        s = self._session
        edit = evidence(s.job, self._path, rung, when=s.now())  # type: ignore[arg-type]
        s.do(f"{self._words}: {rung}", edit)


class FactRow(Commanded, QWidget):
    """One fact: label, field, unit, how it is known."""

    def __init__(self, session: Session, sheet: FactSheet, width: int = 104) -> None:
        super().__init__()
        self._session, self.sheet = session, sheet
        name = label(sheet.label, "quiet", wrap=True)
        name.setFixedWidth(width)
        self.field: Field | QComboBox
        if sheet.kind in ("choice", "yesno"):
            self.field = self._combo()
        else:
            self.field = Field(session)
            self.field.setPlaceholderText(sheet.hint or "unknown")
            self.field.editingFinished.connect(self._entered)
            self.field.textEdited.connect(self._typing)
        self.field.setAccessibleName(sheet.label)
        tip(self.field, sheet.hint)
        self._unit = label("", "quiet")
        self._unit.setFixedWidth(38)
        self.known = KnownButton(session, sheet.path, sheet.label)
        if sheet.group in facts.TOLD:  # how a job is called is not evidence
            self.known.hide()
        self._live = label("", "small")
        self._lay_out(name)

    def _lay_out(self, name: Words) -> None:
        sheet = self.sheet
        if sheet.kind in ("text", "ratios", "pairs"):
            name = label(sheet.label, "quiet", wrap=sheet.kind == "pairs")
            head = row(name, self._live, 1, self.known)
            if sheet.kind == "pairs":
                self._unit.setMinimumWidth(0)
                self._unit.setMaximumWidth(1000)
                head = row(name, self._unit, self.known)
                head.setStretch(0, 1)
            self.setLayout(column(head, self.field, spacing=3))
            return
        line = row(name, self.field, self._unit, self.known, spacing=6)
        line.setStretch(1, 1)
        self.setLayout(line)

    def _combo(self) -> QComboBox:
        box = Choice()
        words = [w for _, w in self.sheet.choices] or ["yes", "no"]
        box.addItems(["not known", *words])
        box.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        box.setMinimumContentsLength(8)
        box.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        box.activated.connect(lambda _: self._entered())
        return box

    def _typing(self, text: str) -> None:
        """Keep what is being typed, and say at once what a tyre size comes to."""
        self._session.draft(self.sheet.path, text)
        self._say_tyre(text)

    def _say_tyre(self, text: str) -> None:
        if self.sheet.path != "vehicle.tyre":
            return
        try:
            around = parse_tyre(text).rolling_circumference
            per, far = ("km", 1000) if self._session.units.distance == "km" else ("mile", MILE)
            self._live.setText(f"{short_of(around)} a turn, {far / around:.1f} per {per}")
        except Problem:
            self._live.setText("not a size yet" if text.strip() else "")

    def _text(self) -> str:
        if isinstance(self.field, QComboBox):
            text = self.field.currentText()
            return "" if text == "not known" else text
        return self.field.text()

    def _entered(self) -> None:
        s = self._session
        if self._text() == typed.show(s.job, self.sheet, s.units):
            if isinstance(self.field, Field):
                self.field.accept()
            return
        try:
            value = typed.parse(self.sheet, self._text(), s.units)
        except Problem as problem:
            self._bad(str(problem))
            return
        if self.sheet.path == "vehicle.tyre" and value and not self._tyre_ok(str(value)):
            return
        done = s.do(
            f"{self.sheet.label}: {self._text() or 'not known'}",
            put_fact(self.sheet.path, value),
        )
        if isinstance(self.field, Field) and done:
            self.field.accept()
            self.refresh(force=True)

    def _tyre_ok(self, text: str) -> bool:
        try:
            parse_tyre(text)
        except Problem as problem:
            self._bad(str(problem))
            return False
        return True

    def _bad(self, words: str) -> None:
        if isinstance(self.field, Field):
            self.field.refuse(words)
        else:
            self._session.said.emit("trouble", words)

    def commands(self) -> tuple[Command, ...]:
        """What keys do in the field of a fact."""
        return (
            Command("Take back what is half typed", "Escape", partial(self.refresh, force=True)),
            Command("How sure a fact is", "F2", self.known.ask),
            Command("Why a fact is wanted", "F3", self.why),
        )

    def being_typed(self) -> bool:
        """What is typed, or was refused, is not written over."""
        field = self.field
        if not isinstance(field, Field):
            return field.hasFocus()
        return field.isModified() and (field.hasFocus() or bool(field.refused))

    def refresh(self, force: bool = False) -> None:
        s = self._session
        text = typed.show(s.job, self.sheet, s.units)
        if isinstance(self.field, QComboBox):
            self.field.setCurrentText(text or "not known")
        elif force or not self.being_typed():
            if self.field.text() != text:
                self.field.setText(text)
                self.field.setCursorPosition(0)
            self._say_tyre(text)
            self.field.accept()
        unit = typed.unit_of(self.sheet, s.units)
        self._unit.setText(unit)
        self._unit.setVisible(bool(unit))
        self.known.refresh()

    def why(self) -> None:
        """How this fact is known, with its history."""
        s = self._session
        show_why(explain_fact(s.job, self.sheet, s.units), self.window(), self._session.units)


class SurveyStage(QWidget):
    """Facts, devices and sources."""

    title = "Survey"

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._rows: dict[str, FactRow] = {}
        self._more: dict[str, Pill] = {}
        self._unfolded: set[str] = set()
        self._shown_sources, self._shown_devices = Watch(), Watch()
        inside = QWidget()
        columns = row(spacing=12)
        left, right = QVBoxLayout(), QVBoxLayout()
        for side in (left, right):
            side.setSpacing(10)
            side.setContentsMargins(0, 0, 0, 0)
            half = QWidget()
            half.setLayout(side)
            half.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Preferred)
            columns.addWidget(half, 1)
        for group, side in (("Driveline", left), ("Lamps", left), ("Car", left)):
            side.addWidget(self._group(group))
        found = self._group(facts.BEFORE)
        self.before = BeforeLog(session)
        layout = found.layout()
        assert layout is not None  # a card has one
        layout.addWidget(self.before)
        left.addWidget(found)
        right.addWidget(self._group("Job"))
        right.addWidget(self._group("Engine"))
        self._devices, self._device_list = card(margins=10)
        self._sources, self._source_list = card(margins=10)
        right.addWidget(self._devices)
        self.back = ComesBack(self._session)
        back, lines = card(margins=10)
        lines.addWidget(self.back)
        self.back.shown.connect(back.setVisible)
        back.hide()
        right.addWidget(back)
        right.addWidget(self._sources)
        self._cautions, self._caution_list = card(margins=10)
        right.addWidget(self._cautions)
        left.addStretch(1)
        right.addStretch(1)
        inside.setLayout(columns)
        columns.setContentsMargins(0, 0, 6, 8)
        self._columns = columns
        self._area = scroller(inside, "Facts of the vehicle")
        self.setLayout(column(self._area))

    def resizeEvent(self, event: QResizeEvent) -> None:
        """Side by side where there is room, else one below the other."""
        super().resizeEvent(event)
        way = QBoxLayout.Direction
        side = self.width() >= TWO_PX
        self._columns.setDirection(way.LeftToRight if side else way.TopToBottom)

    @property
    def subtitle(self) -> str:
        """How many facts are missing."""
        unknown = missing(self._session.job)
        if not self._session.job.devices:
            return "add the devices wanted; then it asks for what they use"
        if not unknown:
            return "every fact that is asked is entered"
        return f"{len(unknown)} missing: " + ", ".join(f.label.lower() for f in unknown[:3])

    def _group(self, group: str) -> Panel:
        frame, inner = card(margins=10)
        more = button("", partial(self._unfold, group), "plain")
        self._more[group] = more
        head = row(label(group, "head"), 1, more)
        inner.addLayout(head)
        for sheet in (*facts.JOB, *facts.BASELINE, *facts.VEHICLE):
            if sheet.group == group:
                inner.addWidget(self._fact(sheet))
        return frame

    def _unfold(self, group: str) -> None:
        """Show every fact of a group, or only what is asked and what is known."""
        self._unfolded ^= {group}
        self._fold()

    def _fold(self) -> None:
        """What no device asks and nobody has said stands back."""
        job = self._session.job
        asked = {q.sheet.path for q in questions(job)}
        hidden: dict[str, int] = {}
        for path, line in self._rows.items():
            group = line.sheet.group
            if group not in self._more:
                continue
            said = fact(job, path) != fact(EMPTY, path) or provenance(job, path) is not None
            back = not (said or path in asked or group in facts.TOLD or line.being_typed())
            hidden[group] = hidden.get(group, 0) + back
            line.setVisible(not back or group in self._unfolded)
        for group, more in self._more.items():
            count = hidden.get(group, 0)
            more.setVisible(bool(count))
            more.setText("Fewer" if group in self._unfolded else f"{count} more")
            more.setAccessibleName(f"{more.text()} of {group}")

    def _fact(self, sheet: FactSheet) -> FactRow:
        line = FactRow(self._session, sheet)
        self._rows[sheet.path] = line
        return line

    def show_item(self, item: str) -> None:
        """Put the cursor into the field of a fact."""
        if item == "sources":
            self._area.ensureWidgetVisible(self._sources)
        elif item in self._rows:
            found = self._rows[item]
            if found.isHidden():
                self._unfold(found.sheet.group)
            self._area.ensureWidgetVisible(found, 0, 60)
            found.field.setFocus(Qt.FocusReason.OtherFocusReason)

    def focus_first(self) -> None:
        """Keyboard focus for one who just came here."""
        unknown = missing(self._session.job)
        path = unknown[0].path if unknown else "vehicle.tyre"
        self._rows[path].field.setFocus(Qt.FocusReason.OtherFocusReason)

    def take_draft(self, path: str, text: str) -> None:
        """Put back what was being typed when the program was killed."""
        found = self._rows.get(path)
        if found is not None and isinstance(found.field, Field):
            found.field.setText(text)
            found.field.setModified(True)
            found.field.setFocus(Qt.FocusReason.OtherFocusReason)

    def refresh(self) -> None:
        """Show the facts."""
        s = self._session
        for watch, show in (
            (self._shown_devices, self._show_devices),
            (self._shown_sources, self._show_sources),
        ):
            if watch.due(s.present, s.theme):
                with watch.making(s.theme):
                    show()
        for line in self._rows.values():
            line.refresh()
        self.before.refresh()
        self.back.refresh()
        self._fold()

    # ---- devices

    def _show_devices(self) -> None:
        job = self._session.job
        clear(self._device_list)
        add = button("Add a device", self._ask_device)
        self._device_list.addLayout(row(label("Devices wanted", "head"), 1, add))
        for device in job.devices:
            self._device_list.addWidget(self._device(device))
        if not job.devices:
            self._device_list.addWidget(
                label("None yet. Add the devices the owner wants.", "quiet", True)
            )
        clear(self._caution_list)
        self._caution_list.addWidget(label("Take care", "head"))
        for caution in cautions(job, "wire")[:4]:
            line = row(Mark("watch"), label(caution.text, "quiet", wrap=True))
            line.setStretch(1, 1)
            line.setAlignment(Qt.AlignmentFlag.AlignTop)
            self._caution_list.addLayout(line)

    def _device(self, device: Device) -> QWidget:
        job = self._session.job
        have = {c.pin for c in job.chains if c.device == device.id}
        inputs = [i for i in device.sheet.inputs if i.required]
        missing = [i.pin for i in inputs if i.pin not in have]
        words = f"no source yet for {', '.join(missing)}" if missing else "every input has a source"
        if not inputs:
            words = "needs no signal"
        mark = Mark("watch" if missing else "good")
        text = column(
            label(f"{device.name}, {device.sheet.maker} {device.sheet.model}"),
            label(words, "small", wrap=True),
            spacing=0,
        )
        drop = button("Remove", lambda: self._drop(device), "plain", f"Remove {device.name}")
        line = row(mark, text, drop)
        line.setStretch(1, 1)
        shown = QWidget()
        shown.setLayout(line)
        return shown

    def _drop(self, device: Device) -> None:
        edit = parts.leave_out(self._session.job, device)
        self._session.do(f"Remove {device.name} with all that is only for it", edit)

    def _ask_device(self) -> None:
        sheets, troubles = shelf(user_sheets())
        names = [f"{s.name}, {s.maker} {s.model}" for s in sheets]
        self._ask(names, [partial(self.add_device, s) for s in sheets], troubles, self._devices)

    def _ask(
        self,
        names: Sequence[str],
        adds: Sequence[Callable[[], None]],
        troubles: Sequence[str],
        under: QWidget,
    ) -> None:
        """A menu of what the shelf holds, where something is added from it."""
        menu = QMenu(self)
        dress(menu)
        for name, add in zip(names, adds, strict=True):
            menu.addAction(name).triggered.connect(lambda _=False, add=add: add())
        menu.addSeparator()
        own = menu.addAction("Make or change one in the parts shelf…")
        own.triggered.connect(lambda _=False: self._session.goto.emit("shelf"))
        for trouble in troubles:
            self._session.said.emit("watch", trouble)
        menu.popup(under.mapToGlobal(under.rect().topLeft()))

    def add_device(self, sheet: DeviceSheet) -> None:
        """Add a device of this kind to the job."""
        self._session.do(f"Add {sheet.name}", parts.add_device(self._session.job, sheet))

    # ---- sources

    def _show_sources(self) -> None:
        job = self._session.job
        sheets = facts.source_facts(job)
        for path in [p for p in self._rows if p.startswith("sources.")]:
            del self._rows[path]
        clear(self._source_list)
        add = button("Add a source", self._ask_source)
        head = row(label("What this car offers", "head", wrap=True), add)
        head.setStretch(0, 1)
        self._source_list.addLayout(head)
        used = {c.source for c in job.chains}
        for source in job.sources:
            state = "in use" if source.id in used else "not used"
            place = f"{source.place}, " if source.place else ""
            about = label(f"{place}{source.minutes:.0f} min, {state}", "small", wrap=True)
            line = row(column(label(source.name, wrap=True), about, spacing=0))
            line.setStretch(0, 1)
            line.addWidget(figures_button(self._session, source, self.window()))
            line.addWidget(self._remover(source))
            self._source_list.addLayout(line)
            for sheet in sheets:
                if sheet.path.startswith(f"sources.{source.id}."):
                    short = msgspec.structs.replace(sheet, label=sheet.short)
                    fact_row = FactRow(self._session, short)
                    self._rows[sheet.path] = fact_row
                    self._source_list.addWidget(fact_row)
        if not job.sources:
            self._source_list.addWidget(
                label(
                    "Nothing noted yet. Add where speed, engine speed and brake can be had.",
                    "quiet",
                    wrap=True,
                )
            )

    def _remover(self, source: Source) -> Pill:
        job = self._session.job
        used = any(c.source == source.id for c in job.chains)
        words = f"Remove {source.name}{' with the signals from it' if used else ''}"
        return button(
            "Remove",
            lambda: self._session.do(words, remove_source(self._session.history.present, source)),
            "plain",
            f"Remove {source.name}",
        )

    def _ask_source(self) -> None:
        sources, troubles = source_shelf(user_sources())
        names = [f"{s.name}   ({s.quantity})" for s in sources]
        self._ask(names, [partial(self.add_source, s) for s in sources], troubles, self._sources)

    def add_source(self, source: Source) -> None:
        """Add a source of this kind with usual figures to be corrected."""
        self._session.do(f"Add {source.name}", parts.add_source(self._session.job, source))
