"""Set: everything that is set on a device or worked out for it, one thing at a time."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from PySide6.QtGui import QResizeEvent
from PySide6.QtWidgets import QLabel, QSizePolicy, QStackedWidget, QVBoxLayout, QWidget

from zombrel.behaviour import tables
from zombrel.behaviour.wanted import wanted
from zombrel.calibrate.settings.setting import said
from zombrel.job.model import Device, Job, by_id
from zombrel.job.problem import Problem
from zombrel.job.sheet import TABLE, Control, Plug
from zombrel.job.value import Value
from zombrel.signals.reduce import input_of
from zombrel.ui.session import Session
from zombrel.ui.set.cards import ENTRY_WIDTH, Card, Entry
from zombrel.ui.set.control import ControlCard, standing
from zombrel.ui.set.curve import CurveCard
from zombrel.ui.set.scale import ScaleCard
from zombrel.ui.set.whole_job import BlendCard, GearsCard, SupplyCard, TableCard, TimingCard
from zombrel.ui.widgets.commands import Command, Commanded
from zombrel.ui.widgets.paint import Pill
from zombrel.ui.widgets.parts import clear, label, row, scroller

NARROW = 780
"""Below this width a card stacks the object over its words [px]."""


class Item(Value, frozen=True):
    """One thing in the list."""

    key: str
    group: str
    """Device it belongs to, or "" for the job."""
    make: Callable[[Session], Card]


def _chain_card(kind: type[ScaleCard | CurveCard], chain: str, session: Session) -> Card:
    return kind(session, chain)


def _control_card(device: str, pin: str, session: Session) -> Card:
    return ControlCard(session, device, pin)


def _supply_card(device: str, session: Session) -> Card:
    return SupplyCard(session, device)


def _table_card(table: tables.Table, note: str, session: Session) -> Card:
    return TableCard(session, table, note)


def items(job: Job) -> list[Item]:
    """Everything there is to set, device by device, then what belongs to the job."""
    found: list[Item] = []
    for device in job.devices:
        for chain in job.chains:
            if chain.device != device.id:
                continue
            _, sheet = input_of(job, chain)
            if sheet.numbers is not None:
                found.append(Item(chain.id, device.id, partial(_chain_card, ScaleCard, chain.id)))
            elif sheet.takes not in ("pulses", "contact"):
                found.append(Item(chain.id, device.id, partial(_chain_card, CurveCard, chain.id)))
        for control in device.sheet.controls:
            key = f"{device.id}/{control.pin}"
            found.append(Item(key, device.id, partial(_control_card, device.id, control.pin)))
        if device.sheet.capacitor_discharge:
            found.append(Item(f"{device.id}/supply", device.id, partial(_supply_card, device.id)))
        if any(isinstance(c.setting, Plug) and c.means == "idle" for c in device.sheet.controls):
            note = "High idle may only rise when all of these hold; it must fall back at once."
            found.append(
                Item(
                    f"{device.id}/interlocks",
                    device.id,
                    partial(_table_card, tables.high_idle(), note),
                )
            )
    v = job.vehicle
    if v.torque:
        found.append(Item("gears", "", GearsCard))
    if v.initial_deg is not None or v.mechanical:
        found.append(Item("timing", "", TimingCard))
    if any(c.quantity == "blend" for c in job.chains):
        found.append(Item("blend", "", BlendCard))
    return found


JOB_ITEMS = {
    "gears": ("Gears and shift points", "wheel torque, rev-match"),
    "timing": ("Ignition advance", "parts against the lamp"),
    "blend": ("Fuel blend", "mixing and headroom"),
}


class SetStage(Commanded, QWidget):
    """A list of what there is to set, and the chosen one as the object to touch."""

    title = "Set"

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._items: dict[str, Item] = {}
        self._entries: dict[str, Entry] = {}
        self._heads: dict[str, QLabel] = {}
        self._cards: dict[str, Card] = {}
        self._chosen = ""
        inside = QWidget()
        self._list = QVBoxLayout(inside)
        self._list.setContentsMargins(0, 0, 6, 8)
        self._list.setSpacing(4)
        self._left = scroller(inside, "What there is to set")
        self._left.setFixedWidth(ENTRY_WIDTH + 18)
        self._pane = QStackedWidget()
        self._area = scroller(self._pane, "Chosen setting")
        self._none = label(
            "No device of this job has a setting yet. Add devices in Survey and give their "
            "inputs a source.",
            "quiet",
            wrap=True,
        )
        body = row(self._left, self._area, spacing=10)
        body.setStretch(1, 1)
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.addWidget(self._none)
        outer.addLayout(body, 1)

    @property
    def subtitle(self) -> str:
        """How to use it."""
        return "turn them here, then set the device the same"

    # ---- what there is

    def refresh(self) -> None:
        """Show the list, and the chosen thing."""
        job = self._session.job
        now = items(job)
        keys = [i.key for i in now]
        if keys != list(self._items):
            self._rebuild(now)
        self._none.setVisible(not now)
        self._left.setVisible(bool(now))
        self._area.setVisible(bool(now))
        if not now:
            return
        if self._chosen not in self._items:
            self._chosen = keys[0]
        for group, head in self._heads.items():
            if device := by_id(self._session.job.devices, group):
                head.setText(device.name)
        for key, entry in self._entries.items():
            entry.show_entry(*entry_words(self._session, key))
            entry.setChecked(key == self._chosen)
        self._show()

    def _rebuild(self, now: list[Item]) -> None:
        clear(self._list)
        for card in self._cards.values():
            self._pane.removeWidget(card)
            card.deleteLater()
        self._cards = {}
        self._items = {i.key: i for i in now}
        self._entries = {}
        self._heads = {}
        group = None
        for item in now:
            if item.group != group:
                group = item.group
                self._heads[group] = label("The whole job", "small")
                self._list.addWidget(self._heads[group])
            entry = Entry(item.key)
            entry.clicked.connect(lambda _=False, k=item.key: self.select(k))
            self._entries[item.key] = entry
            self._list.addWidget(entry)
        self._list.addStretch(1)

    def _show(self) -> None:
        if self._chosen not in self._cards:
            shown = self._items[self._chosen].make(self._session)
            shown.set_narrow(self._narrow())
            self._cards[self._chosen] = shown
            self._pane.addWidget(shown)
        card = self._cards[self._chosen]
        self._pane.setCurrentWidget(card)
        card.refresh()
        # a stack takes the room of its largest page unless the others ask for none
        for other in self._cards.values():
            wanted = QSizePolicy.Policy.Preferred if other is card else QSizePolicy.Policy.Ignored
            other.setSizePolicy(wanted, wanted)
        self._pane.setMinimumHeight(card.minimumSizeHint().height())
        chain = by_id(self._session.job.chains, self._chosen)
        if chain is not None:
            self._session.watch(chain.quantity)
        device_id, _, pin = self._chosen.partition("/")
        device = by_id(self._session.job.devices, device_id)
        control = device.sheet.control(pin) if device is not None and pin else None
        if device is not None and control is not None and control.of:
            sheet = device.sheet.input(control.of)
            if sheet is not None:
                self._session.watch(sheet.quantity)

    # ---- moving about

    def select(self, key: str) -> None:
        """Choose one thing and give it the keyboard."""
        self._chosen = key
        self.refresh()
        self._area.verticalScrollBar().setValue(0)
        if key in self._entries:
            self._left.ensureWidgetVisible(self._entries[key])
        if key in self._cards:
            self._cards[key].take_focus()

    def commands(self) -> tuple[Command, ...]:
        return (
            Command("Next setting", "PgDown", partial(self._step, 1)),
            Command("Setting before", "PgUp", partial(self._step, -1)),
            Command("Set it as it should stand", "S", partial(self._press, "_set")),
            Command("It was read back", "R", partial(self._press, "_back", "_read_back")),
            Command("Why it should stand there", "W", partial(self._press, "_why")),
        )

    def _press(self, *names: str) -> bool:
        """Press a button of the chosen card, where it has it and can be pressed."""
        card = self._cards.get(self._chosen)
        for name in names:
            found = getattr(card, name, None)
            if isinstance(found, Pill) and found.isVisible() and found.isEnabled():
                found.click()
                return True
        return False

    def _step(self, by: int) -> None:
        keys = list(self._items)
        if self._chosen in keys:
            self.select(keys[(keys.index(self._chosen) + by) % len(keys)])

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        for card in self._cards.values():
            card.set_narrow(self._narrow())

    def _narrow(self) -> bool:
        return self.width() - self._left.width() < NARROW

    def focus_first(self) -> None:
        """Keyboard focus for one who just came here."""
        if self._chosen in self._cards:
            self._cards[self._chosen].take_focus()

    def show_item(self, item: str) -> None:
        """Bring one thing forward."""
        if item in self._items:
            self.select(item)


def entry_words(session: Session, key: str) -> tuple[str, str, str]:
    """(name, where it stands, mark) of one line of the list."""
    job = session.job
    if key in JOB_ITEMS:
        name, words = JOB_ITEMS[key]
        return name, words, "open"
    chain = by_id(job.chains, key)
    if chain is not None:
        device, sheet = input_of(job, chain)
        at = device.setting(chain.pin)
        levels = [
            f.level for f in session.assessment.findings if f.chain == key and f.stage == "set"
        ]
        mark = "trouble" if "trouble" in levels else "watch" if levels else "good"
        if session.assessment.chain(key).problem:
            mark = "open"
        if sheet.curves is not None:
            said = (
                f"own table, {len(device.table(chain.pin))} points"
                if at == TABLE
                else (f"curve {at}" if at else "not set")
            )
        elif sheet.numbers is not None:
            said = f"stands at {at}" if at else "not set"
        else:
            said = "fixed curve"
        settable = sheet.setting is not None
        return chain.pin, said, mark if at or not settable else "open"
    device_id, _, pin = key.partition("/")
    owner = by_id(job.devices, device_id)
    control = owner.sheet.control(pin) if owner is not None else None
    if owner is None or control is None:
        if pin == "supply":
            return "Current and supply", "over engine speed, cranking", "open"
        return "Interlocks", "every state", "open"
    return _control_words(job, owner, control)


def _control_words(job: Job, device: Device, control: Control) -> tuple[str, str, str]:
    try:
        want = wanted(job, device, control)
    except Problem:
        want = None
    mark, _ = standing(device, control, want)
    at = device.setting(control.pin)

    words = f"stands at {said(control.setting, at)}" if at else "not noted"
    if want is not None and want.at != at:
        words += f", to {said(control.setting, want.at)}"
    return control.label[0].upper() + control.label[1:], words, mark
