"""Files of the book: folders, backups, what shops give one another, calendar and order list."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING, Any, Protocol

from PySide6.QtWidgets import QFileDialog, QMenu, QWidget

from zombrel.actions.begin import name_of
from zombrel.intake.name import file_name
from zombrel.job.model import Job
from zombrel.job.problem import Problem
from zombrel.job.records.kept_plug import KeptPlug
from zombrel.job.sheet import DeviceSheet
from zombrel.store.atomic import write_atomically
from zombrel.ui.book.asked import Asked, everything
from zombrel.ui.book.choosing import ChooseDialog, Thing
from zombrel.ui.session import Session
from zombrel.ui.theme import dress
from zombrel.ui.widgets.background import Background
from zombrel.ui.widgets.commands import Command

if TYPE_CHECKING:
    from zombrel.store.book.exchange import Offered

STATES = {"new": "", "same": "is here already", "differs": "another of that name is here"}


class Page(Protocol):
    """What files need of the page."""

    background: Background

    @property
    def asked(self) -> Asked | None:
        """What was read last."""
        ...

    def took(self, asked: Asked) -> None:
        """Show what was read."""
        ...


class BookFiles:
    """What is done with files on the page's behalf."""

    def __init__(self, session: Session, page: Page, parent: QWidget) -> None:
        self._session, self._page, self._parent = session, page, parent

    def commands(self) -> tuple[Command, ...]:
        """Each with a key of its own."""
        return (
            Command("Job book: add a folder…", "F5", self.ask_folder),
            Command("Job book: back up…", "F6", self.ask_backup),
            Command("Job book: restore…", "F7", self.ask_restore),
            Command("Job book: give to another shop…", "F8", self.ask_give),
            Command("Job book: take what another shop gives…", "F9", self.ask_take),
            Command("Job book: where it lies…", "F10", self.ask_server),
            Command("Job book: jobs that several bays work on…", "F11", self.ask_shared),
            Command("Job book: who may what…", "F12", self.ask_rights),
        )

    def show_menu(self, below: QWidget) -> None:
        """All of them in a menu."""
        menu = QMenu(self._parent)
        dress(menu)
        for command in self.commands():
            words = command.words.removeprefix("Job book: ")
            act = menu.addAction(f"{words[0].upper()}{words[1:]}\t{command.keys}")
            act.triggered.connect(lambda _=False, run=command.run: run())
        menu.popup(below.mapToGlobal(below.rect().bottomLeft()))

    def _soft(self, problem: Problem) -> None:
        self._session.said.emit("trouble", str(problem))

    def save(self, words: str, start: str, kind: str, make: Callable[[], bytes]) -> None:
        """Ask for a name and write what ``make`` gives."""
        name, _ = QFileDialog.getSaveFileName(self._parent, words, start, f"{words} ({kind})")
        if not name:
            return
        try:
            write_atomically(Path(name), make())
        except Problem as problem:
            self._soft(problem)
            return
        self._session.said.emit("good", f"Written to {name}.")

    # ---- folders

    def ask_folder(self) -> None:
        """Which folder of jobs."""
        folder = QFileDialog.getExistingDirectory(self._parent, "A folder of jobs")
        if folder:
            self.add_folder(Path(folder))

    def add_folder(self, folder: Path) -> None:
        """Jobs in ``folder`` belong to the book from now on."""
        from zombrel.store.book.book import Book

        def work() -> Asked:
            with Book.opened() as book:
                book.watch(folder)
            return self._anew()

        self._page.background.start("Reading the folder", work, self._page.took, self._soft)

    def _anew(self, from_share: float = 0.0) -> Asked:
        tell = self._page.background.tell
        job = self._session.history.present
        share = 1 - from_share
        return everything(job, self._page.asked, lambda x: tell(from_share + share * x))

    # ---- backups

    def ask_backup(self) -> None:
        """Where the backup goes."""
        start = f"shop-{self._session.now()[:10]}.zip"
        name, _ = QFileDialog.getSaveFileName(self._parent, "Back up", start, "Backup (*.zip)")
        if name:
            self.back_up(Path(name))

    def back_up(self, target: Path) -> None:
        """Everything of the shop into one file, read again before it is called done."""
        from zombrel.store.book.backup import backup
        from zombrel.store.book.book import Book

        def work() -> int:
            with Book.opened() as book:
                book.refresh()
                return backup(book, target, self._page.background.tell)

        def done(count: int) -> None:
            said = f"{count} files backed up to {target}; each was read again and is whole."
            self._session.said.emit("good", said)

        self._page.background.start("Backing up", work, done, self._soft)

    def ask_restore(self) -> None:
        """Which backup."""
        name, _ = QFileDialog.getOpenFileName(self._parent, "Restore", "", "Backup (*.zip)")
        if name:
            self.restore(Path(name))

    def restore(self, source: Path) -> None:
        """Put back what is missing; nothing is written over."""
        from zombrel.store.book.backup import restore
        from zombrel.store.book.book import Book

        def work() -> tuple[Any, Asked]:
            tell = self._page.background.tell
            with Book.opened() as book:
                told = restore(book, source, lambda share: tell(0.5 * share))
            return told, self._anew(0.5)

        def done(result: tuple[Any, Asked]) -> None:
            told, asked = result
            self._page.took(asked)
            self._session.said.emit(
                "good",
                f"{len(told.put_back)} files put back, {len(told.same)} were there as they are, "
                f"{len(told.beside)} lie beside what differs.",
            )

        self._page.background.start("Restoring", work, done, self._soft)

    def ask_server(self) -> None:
        """This machine, or a server."""
        from zombrel.ui.book.server import ServerDialog

        dialog = ServerDialog(self._session, self._parent.window())
        dialog.accepted.connect(self._moved)
        dialog.open()

    def ask_shared(self) -> None:
        """Jobs on the server, and what is kept beside the open one."""
        from zombrel.ui.book.shared_dialog import SharedDialog, listed

        s = self._session
        if not s.prefs.book_server:
            s.said.emit("watch", "The book lies on this machine: only a server shares jobs (F10).")
            return

        def done(found: Any) -> None:
            SharedDialog(s, found, self._parent.window()).open()

        work = partial(listed, s.history.present.shared)
        self._page.background.start("Asking the server", work, done, self._soft)

    def ask_rights(self) -> None:
        """Accounts, and who may change the house rules."""
        from zombrel.ui.book.rights import RightsDialog, people

        s = self._session
        if not s.prefs.book_server:
            s.said.emit(
                "watch",
                "The book lies on this machine, and whoever sits at it may change all of it: only "
                "a server tells people apart (F10).",
            )
            return

        def done(found: Any) -> None:
            RightsDialog(s, found, self._parent.window()).open()

        self._page.background.start("Asking the server", people, done, self._soft)

    def _moved(self) -> None:
        self._page.background.start("Reading the book", self._anew, self._page.took, self._soft)

    # ---- between shops

    def ask_give(self) -> None:
        """What goes to another shop: this job, sheets of one's own, connectors that were kept."""
        from zombrel.catalog.sheets import shelf
        from zombrel.store.plug_library import kept_plugs
        from zombrel.store.prefs import user_sheets
        from zombrel.store.shelf_files import is_own

        job = self._session.history.present
        used = {d.sheet.id for d in job.devices}
        own = [s for s in shelf(user_sheets())[0] if is_own(user_sheets(), s.id)]
        things = [Thing(f"This job: {name_of(job)}", True, job)]
        things += [
            Thing(f"Device sheet {s.name}, {s.maker} {s.model}", s.id in used, s) for s in own
        ]
        things += [Thing(f"Pin-out: {p.words}", False, p) for p in kept_plugs()[0]]
        words = (
            "The job goes as a copy without the owner's name, notes, photos, logs, seals and who "
            "was there. Sheets and connectors are those of this shop."
        )
        window = self._parent.window()
        ChooseDialog(window, "Give to another shop", words, things, "Write it…", self._give).open()

    def _give(self, chosen: list[Any]) -> None:
        from zombrel.store.book.exchange import give

        job = self._session.history.present
        sheets = [x for x in chosen if isinstance(x, DeviceSheet)]
        plugs = [x for x in chosen if isinstance(x, KeptPlug)]
        jobs = [x for x in chosen if isinstance(x, Job)]
        what = (job.number or name_of(job)) if jobs else "sheets"
        start = file_name(f"{what}-for-another-shop", ".zip")
        made = partial(give, job.house.name, sheets, plugs, jobs)
        self.save("Give", start, "*.zip", made)

    def ask_take(self) -> None:
        """What another shop gives."""
        name, _ = QFileDialog.getOpenFileName(self._parent, "Take", "", "From another shop (*.zip)")
        if name:
            self.take(Path(name))

    def take(self, source: Path) -> None:
        """Read it, show it, and take what is chosen."""
        from zombrel.store.book.exchange import look

        def done(result: tuple[str, tuple[Offered, ...]]) -> None:
            shop, offered = result
            things = [
                Thing(
                    f"{o.words} ({STATES[o.state]})" if STATES[o.state] else o.words,
                    o.state == "new",
                    o,
                )
                for o in offered
            ]
            words = (
                "It was read and checked; nothing is written yet. What comes from another shop is "
                "known from another car at most. A sheet that differs replaces yours if you choose "
                "it."
            )
            head = f"From {shop or 'a shop without a name'}"
            window = self._parent.window()
            ChooseDialog(window, head, words, things, "Take what is chosen", self._taken).open()

        work = partial(look, source)
        self._page.background.start("Looking at it", work, done, self._soft)

    def _taken(self, offered: list[Offered]) -> None:
        from zombrel.store.book.exchange import accept

        def work() -> tuple[int, Asked]:
            return len(accept(offered)), self._anew()

        def done(result: tuple[int, Asked]) -> None:
            self._page.took(result[1])
            self._session.said.emit("good", f"{result[0]} taken; connectors are to be counted.")

        self._page.background.start("Taking it", work, done, self._soft)
