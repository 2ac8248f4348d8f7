"""What was found: one card a hit, walked by arrows, taken by Enter."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import TYPE_CHECKING

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QVBoxLayout, QWidget

from zombrel.book.entry import KINDS, OF_A_MODEL, SAME_MODEL, TAKEN, Summary
from zombrel.job.ledger import MEANING
from zombrel.ui.session import Session
from zombrel.ui.widgets.paint import Panel
from zombrel.ui.widgets.parts import button, clear, column, label, row

if TYPE_CHECKING:
    from zombrel.store.book.book import Hit

MOST = 30
"""So many cards are shown; a word more finds fewer."""
NUMBER_PX = 52
NAMED = 4
"""So many jobs that have the same are named."""


class HitList(QWidget):
    """Cards below one another; one of them is chosen."""

    use = Signal(object)
    """The hit that is to be taken over."""
    show_job = Signal(str)
    """The path of a job that is to be opened."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._cards: list[tuple[Panel, Callable[[], None]]] = []
        self._chosen = 0
        self._body = QVBoxLayout(self)
        self._body.setContentsMargins(0, 0, 6, 0)
        self._body.setSpacing(8)

    def show_hits(self, hits: tuple[Hit, ...]) -> None:
        """Hits of a search; those that say the same on one card."""
        self._begin()
        alike: dict[tuple[str, str], list[Hit]] = {}
        for hit in hits:
            alike.setdefault((hit.entry.kind, hit.entry.text), []).append(hit)
        for first, *others in list(alike.values())[:MOST]:
            also = dict.fromkeys(h.job.number for h in others if h.job.number != first.job.number)
            self._hit(first, tuple(also))
        if len(alike) > MOST:
            more = f"and {len(alike) - MOST} more: another word finds fewer"
            self._body.addWidget(label(more, "quiet"))
        self._end()

    def show_jobs(self, jobs: tuple[tuple[Summary, str], ...], now: tuple[str, str]) -> None:
        """All jobs, where nothing is searched for; ``now`` is number and title of the open one."""
        self._begin()
        for about, path in jobs:
            devices = ", ".join(name for _, name in about.devices) or "no device yet"
            open_it = partial(self.show_job.emit, path)
            act = button("Open", open_it, "plain", f"Open job {about.number or about.title}")
            if (about.number, about.title) == now:
                act.setEnabled(False)
                act.setText("open here")
            self._card(about.number, about.title, devices, about.state, act, open_it)
        self._end()

    def say(self, words: str) -> None:
        """Words in place of cards."""
        self._begin()
        self._body.addWidget(label(words, "quiet", wrap=True))
        self._end()

    def _begin(self) -> None:
        clear(self._body)
        self._cards, self._chosen = [], 0

    def _end(self) -> None:
        self._body.addStretch(1)
        self.walk(0)

    def _hit(self, hit: Hit, also: tuple[str, ...]) -> None:
        words = self._session.words(hit.entry.text)
        kind, known = KINDS[hit.entry.kind], hit.entry.known
        how = MEANING[known].removesuffix(" on this car") if known else "nobody said how"
        told = f"{kind}, {how}"
        if also:
            rest = ", …" if len(also) > NAMED else ""
            told += f"; the same on {', '.join(also[:NAMED])}{rest}"
        other = hit.like < SAME_MODEL
        only = other and hit.entry.kind in OF_A_MODEL
        if other:
            told += "; another model: only to be looked at" if only else "; another model"
        takes = hit.entry.kind in TAKEN and not only
        if takes:
            act = partial(self.use.emit, hit)
            name = f"Use in this job: {words}"
            push = button("Use in this job", act, "", name)
        else:
            act = partial(self.show_job.emit, hit.path)
            push = button("Open", act, "plain", f"Open job {hit.job.number}")
        self._card(hit.job.number, hit.job.vehicle or hit.job.title, words, told, push, act)

    def _card(
        self, number: str, head: str, text: str, told: str, act: QWidget, run: Callable[[], None]
    ) -> None:
        card = Panel("card")
        name = label(number, "petrol")
        name.setFixedWidth(NUMBER_PX)
        words = column(
            label(head, "strong"), label(text, "", wrap=True), label(told, "small", wrap=True),
            spacing=2,
        )  # fmt: skip
        line = row(column(name, 1), words, column(1, act, 1), spacing=8)
        line.setStretch(1, 1)
        line.setContentsMargins(14, 10, 14, 10)
        card.setLayout(line)
        card.setAccessibleName(f"{number} {head}: {text}")
        self._cards.append((card, run))
        self._body.addWidget(card)

    def walk(self, by: int) -> QWidget | None:
        """Choose another card; the one that is chosen now."""
        if not self._cards:
            return None
        self._chosen = min(max(self._chosen + by, 0), len(self._cards) - 1)
        for i, (card, _) in enumerate(self._cards):
            card.set_kind("selected" if i == self._chosen else "card")
        return self._cards[self._chosen][0]

    def take(self) -> None:
        """Do what the chosen card offers."""
        if self._cards:
            self._cards[self._chosen][1]()
