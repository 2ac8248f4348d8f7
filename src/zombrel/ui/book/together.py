"""One job in several bays: what is edited is taken in hand, work is brought together."""

from __future__ import annotations

from functools import partial
from typing import TYPE_CHECKING

import msgspec
from PySide6.QtCore import QTimer
from PySide6.QtWidgets import QLineEdit

from zombrel.book.merge import shared_as, touched
from zombrel.job.differences import into
from zombrel.job.model import Job
from zombrel.job.problem import Problem
from zombrel.job.value import Value
from zombrel.ui.session import Session
from zombrel.ui.widgets.background import Background
from zombrel.ui.widgets.paint import Panel
from zombrel.ui.widgets.parts import button, column, label, row

if TYPE_CHECKING:
    from zombrel.store.book.shared import Sent

SOON_MS = 500
"""A part is taken in hand once the hand has rested so long."""
FEW = 3


class Link(Value, frozen=True):
    """A shared job, and a version of it."""

    id: int
    version: int


class Told(Value, frozen=True):
    """What the server said of parts in hand."""

    holds: tuple[str, ...]
    meets: tuple[str, ...]
    """What somebody else has in hand that was edited here."""


class Together(Panel):
    """A card: whether the job is shared, who has what in hand, and bringing it together."""

    def __init__(self, session: Session) -> None:
        super().__init__("card")
        self._session = session
        self.background, self._holding = Background(self), Background(self)
        self._seen: Job | None = None
        self._taken: set[str] = set()
        self._wanted: set[str] = set()
        self._soon = QTimer(self)
        self._soon.setSingleShot(True)
        self._soon.setInterval(SOON_MS)
        self._soon.timeout.connect(self._hold)
        self._words = label("", "quiet", wrap=True)
        self._who = QLineEdit(session.prefs.who)
        self._who.setAccessibleName("Who works here")
        self._who.setPlaceholderText("who works here")
        self._who.editingFinished.connect(self._named)
        self._place = QLineEdit(session.prefs.place)
        self._place.setAccessibleName("Which bay this is")
        self._place.setPlaceholderText("which bay")
        self._place.editingFinished.connect(self._named)
        self._put = button("Share it", self.put_up, "", "Put this job where the other bays have it")
        self._bring = button("Bring together", self.bring, "primary", "Bring both works together")
        line = row(self._who, self._place, self._put, self._bring)
        line.setStretch(0, 1)
        body = column(self._words, line, spacing=6)
        body.setContentsMargins(14, 10, 14, 10)
        self.setLayout(body)
        session.changed.connect(self.refresh)
        self.refresh()

    @property
    def link(self) -> Link | None:
        """The shared job that is open, and the version that it went on from: part of the job, so
        that taking a merge back takes that back too."""
        number, _, version = self._session.history.present.shared.partition(".")
        return Link(int(number), int(version)) if number else None

    def _named(self) -> None:
        s = self._session
        who, place = self._who.text().strip(), self._place.text().strip()
        s.set_prefs(msgspec.structs.replace(s.prefs, who=who, place=place))

    def refresh(self) -> None:
        """Show how the job stands, and take in hand what was edited."""
        s = self._session
        link, on_server = self.link, bool(s.prefs.book_server)
        self.setVisible(on_server)
        self._put.setVisible(link is None)
        self._bring.setVisible(link is not None)
        if link is None:
            self._words.setText("Only in this bay: share it, and the others work on it too.")
            self._seen = None
            return
        if not self._words.text().startswith("Shared"):
            self._words.setText(f"Shared, version {link.version}.")
        job = s.history.present
        if self._seen is not None and on_server:
            self._wanted |= set(touched(self._seen, job)) - self._taken
            if self._wanted:
                self._soon.start()
        self._seen = job

    # ---- parts in hand

    def _hold(self) -> None:
        link, prefs = self.link, self._session.prefs
        if link is None or not prefs.who or self._holding.busy:
            return
        wanted, self._wanted = sorted(self._wanted), set()
        since = self._session.now()[11:16]
        work = partial(_held, link.id, wanted, prefs.who, prefs.place or "another bay", since)
        self._taken |= set(wanted)
        self._holding.start("Taking it in hand", work, self._told, self._away, quiet=True)

    def _told(self, told: Told) -> None:
        link = self.link
        version = "" if link is None else f", version {link.version}"
        hands = "; ".join(told.holds[:FEW]) or "nothing in hand"
        self._words.setText(f"Shared{version}. {hands}.")
        if told.meets:
            self._session.said.emit("watch", told.meets[0])

    def _away(self, problem: Problem) -> None:
        self._words.setText(f"Shared; {problem}")

    # ---- bringing together

    def put_up(self) -> None:
        """The job is the other bays' too from now on."""
        s = self._session
        job, who, at = s.history.present, s.prefs.who, s.now()[:16]

        def work() -> int:
            from zombrel.store.book.book import Book
            from zombrel.store.book.shared import Shared

            with Book.opened() as book:
                return Shared(book).put_up(job, who, at)

        def done(key: int) -> None:
            s.do("Shared with the other bays", shared_as(key, 1))
            s.said.emit("good", f"Shared as number {key}: the other bays fetch it by that.")

        self.background.start("Sharing it", work, done, self._failed)

    def bring(self) -> None:
        """Send mine, take theirs; where they differ both are kept and told."""
        s, link = self._session, self.link
        if link is None:
            return
        job, who, at = s.history.present, s.prefs.who, s.now()[:16]

        def work() -> Sent:
            from zombrel.store.book.book import Book
            from zombrel.store.book.shared import Shared

            with Book.opened() as book:
                held = Shared(book)
                sent = held.send(link.id, link.version, job, who, at)
                for part in self._taken:
                    held.let_go(link.id, part, who)
            return sent

        self.background.start(
            "Bringing it together", work, partial(self._brought, job), self._failed
        )

    def _brought(self, sent_as: Job, sent: Sent) -> None:
        s = self._session
        if s.history.present is not sent_as:
            s.said.emit("watch", "You went on meanwhile: bring it together once more.")
            return
        if sent.job != sent_as:
            s.do("Brought together with the other bays", into(sent_as, sent.job))
        self._taken, self._seen = set(), s.history.present
        self._words.setText(f"Shared, version {sent.version}. Nothing in hand.")
        if sent.apart:
            more = f" and {len(sent.apart) - 1} more" if len(sent.apart) > 1 else ""
            told = f"Both changed {sent.apart[0].words}{more}. Yours is kept beside theirs."
            s.said.emit("watch", told)
        else:
            s.said.emit("good", f"Brought together: version {sent.version}. Save it.")

    def _failed(self, problem: Problem) -> None:
        self._session.said.emit("trouble", str(problem))


def _held(key: int, wanted: list[str], who: str, place: str, since: str) -> Told:
    from zombrel.store.book.book import Book
    from zombrel.store.book.shared import Shared

    meets = []
    with Book.opened() as book:
        held = Shared(book)
        for part in wanted:
            try:
                held.hold(key, part, who, place, since)
            except Problem as problem:
                meets.append(str(problem))
        return Told(tuple(h.words for h in held.holds(key)), tuple(meets))
