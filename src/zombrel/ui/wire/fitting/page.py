"""Fitting: a list of what is fitted, and the chosen one with what stands against it."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import Protocol, cast

from PySide6.QtWidgets import QMenu, QStackedWidget, QVBoxLayout, QWidget

from zombrel.actions.fitting import add_hose
from zombrel.actions.plugs.retrofit import add_retrofit
from zombrel.catalog.form.applies import applies
from zombrel.harness.fitting import kit
from zombrel.harness.laid import laid
from zombrel.job.follow.query import Watch
from zombrel.job.model import Job, by_id
from zombrel.job.records.fitting import Medium
from zombrel.job.value import Value
from zombrel.ui.session import Session
from zombrel.ui.set.cards import ENTRY_WIDTH, Entry
from zombrel.ui.theme import dress
from zombrel.ui.widgets.commands import Command, Commanded
from zombrel.ui.widgets.parts import button, clear, label, row, scroller
from zombrel.ui.wire.fitting.device_card import DeviceCard
from zombrel.ui.wire.fitting.hose_card import HoseCard
from zombrel.ui.wire.fitting.kit_card import KitCard
from zombrel.ui.wire.fitting.retrofit_card import RetrofitCard
from zombrel.ui.wire.fitting.sender_card import SenderCard

MEDIA: tuple[Medium, ...] = (
    "vacuum",
    "boost",
    "fuel",
    "fuel with ethanol",
    "diesel",
    "coolant",
    "oil",
    "water",
)
KIT = "kit"


class FitCard(Protocol):
    """One thing that is fitted."""

    def refresh(self) -> None:
        """Show it as it stands."""
        ...

    def focus_first(self) -> None:
        """Take the keyboard."""
        ...


class Item(Value, frozen=True):
    """One line of the list."""

    key: str
    group: str
    name: str
    make: Callable[[Session], QWidget]

    @property
    def shown(self) -> tuple[str, str, str]:
        """What the list says of it."""
        return self.key, self.group, self.name


def items(job: Job) -> list[Item]:
    """Devices, senders that are screwed in, hoses, the kit."""
    found = [Item(d.id, "Devices", d.name, partial(_make, DeviceCard, d.id)) for d in job.devices]
    used = {c.source for c in job.chains}
    found += [
        Item(s.id, "Senders", s.name, partial(_make, SenderCard, s.id))
        for s in job.sources
        if s.id in used and applies(s, "thread")
    ]
    found += [Item(h.id, "Hoses", h.name, partial(_make, HoseCard, h.id)) for h in job.hoses]
    found += [
        Item(r.id, "Retrofits", r.name, partial(_make, RetrofitCard, r.id)) for r in job.retrofits
    ]
    return [*found, Item(KIT, "Kit", "What the kit holds", KitCard)]


def _make(kind: Callable[[Session, str], QWidget], key: str, session: Session) -> QWidget:
    return kind(session, key)


def stands(session: Session, key: str) -> tuple[str, str]:
    """(words, mark) of one line: what stands against it, or how it sits."""
    job = session.job
    about = [f for f in session.assessment.findings if key in f.about and f.rule in RULES]
    if key == KIT:
        if not job.kit:
            return "nobody has looked into it", "open"
        lacking = len(kit.missing(laid(job)))
        return (f"lacks {lacking}", "watch") if lacking else ("all is there", "good")
    level = {f.level for f in about}
    mark = "trouble" if "trouble" in level else "watch" if "watch" in level else ""
    device, hose = by_id(job.devices, key), by_id(job.hoses, key)
    if device is not None:
        zone = by_id(job.zones, device.zone)
        where = zone.name.lower() if zone is not None else "in no zone yet"
        how = device.mount.how or "not fixed yet"
        good = "good" if zone is not None and device.mount.how else "open"
        return f"{where}, {'set in a hole' if how == 'hole' else how}", mark or good
    if hose is not None:
        return f"{hose.medium}, {hose.grade or 'stuff not said'}", mark or "good"
    retrofit = by_id(job.retrofits, key)
    if retrofit is not None:
        count = len(retrofit.functions)
        return f"{count} function{'' if count == 1 else 's'}", mark or "good"
    source = by_id(job.sources, key)
    if source is None or not (source.thread and source.port):
        return "thread not looked at", mark or "open"
    return f"{source.thread} in {source.port}", mark or "good"


RULES = (
    "place does not suit",
    "mounting does not hold",
    "hose does not do",
    "thread does not fit",
    "taped",
    "retrofit lacks",
    "retrofit not said",
)
"""What of the findings belongs here."""


class FittingPage(Commanded, QWidget):
    """The list at the left, the chosen thing at the right."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._chosen = ""
        self._items: dict[str, Item] = {}
        self._entries: dict[str, Entry] = {}
        self._cards: dict[str, QWidget] = {}
        self._shown = Watch()
        inside = QWidget()
        self._list = QVBoxLayout(inside)
        self._list.setContentsMargins(0, 0, 6, 8)
        self._list.setSpacing(4)
        self._left = scroller(inside, "What is fitted")
        self._left.setFixedWidth(ENTRY_WIDTH + 18)
        self._pane = QStackedWidget()
        self._area = scroller(self._pane, "The chosen thing")
        self._new = button("Hose   H", self.ask_hose, "", "New hose")
        self._more = button("Retrofit   R", self.add_retrofit, "", "New retrofit")
        left = QVBoxLayout()
        left.addWidget(self._left, 1)
        left.addLayout(row(self._new, self._more, 1, spacing=6))
        body = row(left, self._area, spacing=10)
        body.setStretch(1, 1)
        self.setLayout(body)

    def commands(self) -> tuple[Command, ...]:
        return (
            Command("Next thing", "PgDown", partial(self._step, 1)),
            Command("Thing before", "PgUp", partial(self._step, -1)),
            Command("New hose", "H", self.ask_hose),
            Command("New retrofit", "R", self.add_retrofit),
        )

    def _step(self, by: int) -> None:
        keys = list(self._items)
        if self._chosen in keys:
            self.show_item(keys[(keys.index(self._chosen) + by) % len(keys)])

    def ask_hose(self) -> None:
        """Ask what a new hose carries."""
        menu = QMenu(self)
        dress(menu)
        for medium in MEDIA:
            words = medium.capitalize()
            menu.addAction(words).triggered.connect(lambda _=False, m=medium: self.add_hose(m))
        menu.popup(self._new.mapToGlobal(self._new.rect().topLeft()))

    def add_hose(self, medium: Medium) -> None:
        """A hose, to be described."""
        key, edit = add_hose(self._session.job, medium)
        if self._session.do(f"Hose {key}", edit):
            self.show_item(key)

    def add_retrofit(self) -> None:
        """A module of the maker's own, to be described."""
        key, edit = add_retrofit(self._session.job)
        if self._session.do(f"Retrofit {key}", edit):
            self.show_item(key)

    # ---- showing

    def show_item(self, item: str) -> None:
        """A device, sender or hose by its id, or ``kit``."""
        self._chosen = item
        self.refresh()
        self._area.verticalScrollBar().setValue(0)
        if self._chosen in self._entries:
            self._left.ensureWidgetVisible(self._entries[self._chosen])
        self.focus_first()

    def focus_first(self) -> None:
        card = self._cards.get(self._chosen)
        if card is not None:
            cast("FitCard", card).focus_first()

    def refresh(self) -> None:
        found = items(self._session.job)
        if [i.shown for i in found] != [i.shown for i in self._items.values()]:
            self._rebuild(found)
        if self._chosen not in self._items:
            self._chosen = next(iter(self._items))
        for key, entry in self._entries.items():
            words, mark = stands(self._session, key)
            entry.show_entry(self._items[key].name, words, mark)
            entry.setChecked(key == self._chosen)
        if self._chosen not in self._cards:
            made = self._items[self._chosen].make(self._session)
            self._cards[self._chosen] = made
            self._pane.addWidget(made)
        card = self._cards[self._chosen]
        self._pane.setCurrentWidget(card)
        cast("FitCard", card).refresh()
        self._pane.setMinimumHeight(card.minimumSizeHint().height())

    def _rebuild(self, found: list[Item]) -> None:
        self._items = {i.key: i for i in found}
        for key in set(self._cards) - set(self._items):
            gone = self._cards.pop(key)
            self._pane.removeWidget(gone)
            gone.deleteLater()
        clear(self._list)
        self._entries, group = {}, ""
        for item in found:
            if item.group != group:
                group = item.group
                self._list.addWidget(label(group, "small"))
            entry = Entry(item.key)
            entry.clicked.connect(lambda _=False, k=item.key: self.show_item(k))
            self._entries[item.key] = entry
            self._list.addWidget(entry)
        self._list.addStretch(1)
