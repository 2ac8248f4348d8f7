"""Jobs that several bays work on: fetched from the server, and what is kept beside the open one."""

from __future__ import annotations

from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING

import msgspec
from PySide6.QtWidgets import QDialog, QFileDialog, QHBoxLayout, QVBoxLayout, QWidget

from zombrel.book.merge import said
from zombrel.intake.name import file_name
from zombrel.job.problem import Problem
from zombrel.store.zjob import save
from zombrel.ui.session import Session
from zombrel.ui.theme import dress
from zombrel.ui.widgets.background import Background
from zombrel.ui.widgets.parts import button, card, column, holder, label, row, scroller

if TYPE_CHECKING:
    from zombrel.store.book.shared import About, Hold

Listed = tuple[tuple["About", ...], tuple[dict[str, str], ...], tuple["Hold", ...]]
"""Shared jobs; of the one that is open what is kept beside it, and what is in hand."""


def listed(shared: str) -> Listed:
    """Asked of the server; ``shared`` is what the open job says of itself."""
    from zombrel.store.book.book import Book
    from zombrel.store.book.shared import Shared

    number = shared.partition(".")[0]
    with Book.opened() as book:
        held = Shared(book)
        if not number:
            return held.jobs(), (), ()
        return held.jobs(), held.aparts(int(number)), held.holds(int(number))


def _said(path: str, kept: str) -> str:
    """A value that is kept as JSON, as ``units.words`` writes it; what is none, as it stands."""
    try:
        value = msgspec.json.decode(kept)
    except msgspec.DecodeError:
        return kept
    return said(path, value)


class SharedDialog(QDialog):
    """A list to fetch from; what two changed differently below it."""

    def __init__(self, session: Session, found: Listed, parent: QWidget) -> None:
        super().__init__(parent)
        self._session = session
        self.background = Background(self)
        jobs, beside, holds = found
        self.setWindowTitle("Shared jobs")
        dress(self)
        self.resize(680, 520)
        inside = QVBoxLayout()
        inside.setSpacing(8)
        for about in jobs:
            inside.addWidget(self._job(about))
        if not jobs:
            inside.addWidget(label("No job is shared yet: open one, then Share it.", "quiet", True))
        if holds:
            inside.addWidget(label("In hand", "head"))
        for hold in holds:
            inside.addLayout(self._hold(hold))
        if beside:
            inside.addWidget(label("Kept beside the open job", "head"))
        for line in beside:
            theirs, mine = (_said(line["path"], line[who]) for who in ("theirs", "mine"))
            told = f"{line['path']}: the job has {theirs}; {line['who']} had {mine}, {line['at']}"
            inside.addWidget(label(session.words(told), "", wrap=True))
        inside.addStretch(1)
        self._said = label("", "trouble", wrap=True)
        body = QVBoxLayout(self)
        body.setContentsMargins(22, 20, 22, 18)
        body.setSpacing(10)
        body.addWidget(label("Shared jobs", "title"))
        body.addWidget(scroller(holder(inside), "Shared jobs"), 1)
        body.addWidget(self._said)
        body.addLayout(row(1, button("Done", self.accept, "primary")))

    def _job(self, about: About) -> QWidget:
        panel, inner = card(margins=8)
        words = column(
            label(f"{about.number} {about.title}".strip(), "strong"),
            label(f"number {about.id}, version {about.version}, {about.who}, {about.at}", "small"),
            spacing=2,
        )
        name = f"Fetch {about.number}, number {about.id}"
        line = row(words, button("Fetch…", partial(self._ask, about), "", name))
        line.setStretch(0, 1)
        inner.addLayout(line)
        return panel

    def _hold(self, hold: Hold) -> QHBoxLayout:
        line = row(label(hold.words, "", wrap=True))
        line.setStretch(0, 1)
        if hold.who != self._session.prefs.who:
            name = f"Take {hold.part} over from {hold.who}"
            line.addWidget(button("Take over", partial(self._take_over, hold), "plain", name))
        return line

    def _take_over(self, hold: Hold) -> None:
        """From one who went home without putting it down."""
        s = self._session
        number = int(s.history.present.shared.partition(".")[0])

        def work() -> None:
            from zombrel.store.book.book import Book
            from zombrel.store.book.shared import Shared

            since = s.now()[11:16]
            with Book.opened() as book:
                Shared(book).hold(number, hold.part, s.prefs.who, s.prefs.place, since, over=True)

        def done(_: None) -> None:
            self.accept()
            s.said.emit("good", f"{hold.part} is in your hand now, not in {hold.who}'s.")

        self.background.start("Taking it over", work, done, self._failed)

    def _ask(self, about: About) -> None:
        start = file_name(f"{about.number} {about.title}".strip() or "job", ".zjob")
        name, _ = QFileDialog.getSaveFileName(self, "Fetch into", start, "Job (*.zjob)")
        if name:
            self.fetch(about.id, Path(name))

    def fetch(self, key: int, path: Path) -> None:
        """The newest version into a file of this bay, which is opened then."""

        def work() -> None:
            from zombrel.store.book.book import Book
            from zombrel.store.book.shared import Shared

            with Book.opened() as book:
                _, job = Shared(book).fetch(key)
            save(job, path)

        def done(_: None) -> None:
            self.accept()
            self._session.ask.emit(f"path:{path}")

        self.background.start("Fetching it", work, done, self._failed)

    def _failed(self, problem: Problem) -> None:
        self._said.setText(str(problem))
