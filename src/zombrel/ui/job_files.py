"""Jobs in and out of the window: open, save, who else has it, earlier versions, recovery."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtWidgets import QMainWindow, QMenu

from zombrel.intake.name import file_name
from zombrel.job.model import Job
from zombrel.job.problem import Problem
from zombrel.store.open_job import Changed, Held, How, read_job
from zombrel.store.zjob import to_bytes
from zombrel.ui.actions import Actions
from zombrel.ui.session import Session
from zombrel.ui.theme import dress
from zombrel.ui.widgets.background import Background
from zombrel.ui.widgets.paint import Pill

if TYPE_CHECKING:
    from zombrel.store.recovery import Found, Unread

DEMOS = {"0412": "shooting-brake", "0413": "camper", "0409": "club racer"}
FILTER = "Zombrel jobs (*.zjob)"
LARGE_BYTES = 300_000
"""A file of that size holds long logs."""
LARGE = 100_000
"""Lines of logs that are packed in the background."""
MARKS = ("good", "watch", "trouble")
SAVE, THROW, STAY = "Save", "Throw them away", "Stay here"


class JobFiles:
    """Everything the window does with job files; it asks before anything could be lost."""

    def __init__(
        self,
        window: QMainWindow,
        session: Session,
        say: Callable[[str, str], None],
        go: Callable[[str], None],
        take_draft: Callable[[str, str], None],
        take_field: Callable[[], None],
    ) -> None:
        self._window, self._session = window, session
        self._say, self._go, self._take_draft = say, go, take_draft
        self._take_field = take_field
        self._background = Background(window)

    def define(self, actions: Actions) -> None:
        """The actions of files."""
        add = actions.add
        add("new", "New job", "Ctrl+N", self.new)
        add("open", "Open a job", "Ctrl+O", self.open)
        add("save", "Save", "Ctrl+S", self.save)
        add("save-as", "Save as", "Ctrl+Shift+S", self.save_as)
        add("versions", "Earlier versions of this job", "", self.earlier)
        add("take-over", "Take this job over from the other window", "", self.take_over)
        for number, what in DEMOS.items():
            words = f"Open the demo job {number}, {what}"
            add(f"demo-{number}", words, "", partial(self.open_demo, number))

    def show_menu(self, actions: Actions, under: Pill, others: tuple[str, ...]) -> None:
        """The menu of the job file, with the window's own actions at its end."""
        menu = QMenu(self._window)
        dress(menu)
        history = self._session.history
        past = history.past[-1][0].label if history.past else "nothing"
        ahead = history.future[0][0].label if history.future else "nothing"
        actions.qt["undo"].setText(f"Undo: {past}".replace("&", "&&"))
        actions.qt["redo"].setText(f"Redo: {ahead}".replace("&", "&&"))
        menu.addAction(actions.qt["undo"])
        menu.addAction(actions.qt["redo"])
        menu.addSeparator()
        keys = ["new", "open", "save", "save-as"]
        if self._session.path is not None:
            keys.append("versions")
        if self._session.desk.read_only:
            keys.append("take-over")
        for key in (*keys, *(f"demo-{n}" for n in DEMOS)):
            menu.addAction(actions.qt[key])
        recent = [Path(p) for p in self._session.prefs.recent if Path(p).exists()]
        if recent:
            menu.addSeparator()
            for path in recent:
                line = menu.addAction(f"{path.stem}   ({path.parent.name})".replace("&", "&&"))
                line.triggered.connect(lambda _=False, p=path: self.open_path(p))
        menu.addSeparator()
        for key in others:
            menu.addAction(actions.qt[key])
        menu.popup(under.mapToGlobal(under.rect().topLeft()))

    # ---- in

    def new(self) -> None:
        """Begin an empty job, once the present one is safe."""
        if self.may_leave():
            self._session.start(Job())
            self._go("start")

    def open(self) -> None:
        """Ask for a job file and open it."""
        from PySide6.QtWidgets import QFileDialog

        name, _ = QFileDialog.getOpenFileName(self._window, "Open a job", "", FILTER)
        if name:
            self.open_path(Path(name))

    def open_path(self, path: Path) -> None:
        """Open ``path`` once the present job is safe; one that cannot be opened changes nothing."""
        if self.may_leave():
            self._open(path, "write")

    def _open(self, path: Path, how: How) -> None:
        before = self._session.history.present
        try:
            got = self._read(path)
            if got is None and _is_large(path):
                self._say("open", "Not opened: it was given up.")
                return
            # what was entered while it was read is asked about as anything else is
            if self._session.history.present is not before and not self.may_leave():
                return
            self._session.open(path, how, got)
        except Held as held:
            answers = ("Open it to read", "Take it over", "Leave it")
            words = f"{held} Two windows that write one file would overwrite each other."
            answer = self._ask("It is open already", words, answers)
            if answer != answers[-1]:
                self._open(path, "read" if answer == answers[0] else "take over")
            return
        except Problem as problem:
            self._say("trouble", str(problem))
            return
        self._go("")
        if self._session.desk.read_only:
            self._say("watch", f"{self._session.desk.read_only} Nothing can be changed here.")
        else:
            mine = "is yours to change now" if how == "take over" else "is open"
            self._say("good", f"{path.name} {mine}.")

    def _read(self, path: Path) -> tuple[bytes, Job] | None:
        """A file with long logs, read off the window's thread; None for others."""
        if not _is_large(path):
            return None
        words = f"Reading {path.name}"
        got: tuple[bytes, Job] | None = self._background.run(words, partial(read_job, path))
        return got

    def take_over(self) -> None:
        """Take the job from the window that has it; what that has not saved stays with it."""
        path = self._session.path
        if path is None or not self._session.desk.read_only:
            self._say("open", "This job is yours to change already.")
        elif self.may_leave():
            self._open(path, "take over")

    def open_demo(self, number: str) -> None:
        """Open a shipped job, once the present one is safe."""
        if self.may_leave():
            self._session.open_demo(number)
            self._go("")

    # ---- out

    def save(self) -> bool:
        """Save where the job came from, or ask; what is being typed is taken first."""
        self._take_field()
        return self.save_as() if self._session.path is None else self._save(None)

    def save_as(self) -> bool:
        """Ask for a place and save there."""
        from PySide6.QtWidgets import QFileDialog

        start = file_name(self._session.job.number, ".zjob")
        name, _ = QFileDialog.getSaveFileName(self._window, "Save the job as", start, FILTER)
        if not name:
            return False
        path = Path(name)
        return self._save(path if path.suffix == ".zjob" else path.with_name(path.name + ".zjob"))

    def _save(self, path: Path | None, over: bool = False) -> bool:
        try:
            packed = self._packed()
            if packed is None and self._large():
                self._say("watch", "Not saved: it was given up.")
                return False
            self._session.save(path, over, packed)
        except Changed as changed:
            answers = ("Save under another name", "Overwrite it", "Not now")
            answer = self._ask("The file was changed", self._session.words(str(changed)), answers)
            if answer == answers[0]:
                return self.save_as()
            return answer == answers[1] and self._save(path, over=True)
        except Problem as problem:
            self._say("trouble", str(problem))
            return False
        if not self._session.desk.said:
            self._say("good", f"Saved to {self._session.path}.")
        return True

    def _large(self) -> bool:
        """Its logs take longer to pack than anybody waits."""
        return sum(len(r.t) for r in self._session.history.present.road) > LARGE

    def _packed(self) -> bytes | None:
        """A job with long logs, packed off the window's thread; None for others."""
        while self._large():  # once more for what was entered meanwhile
            job = self._session.history.present
            packed: bytes | None = self._background.run("Packing the logs", partial(to_bytes, job))
            if packed is None or job is self._session.history.present:
                return packed
        return None

    def may_leave(self) -> bool:
        """Ask about unsaved work; False when the user wants to stay."""
        if not self._session.dirty:
            return True
        words = "This job has changes that are not saved."
        answer = self._ask("Not saved", words, (SAVE, THROW, STAY))
        return self.save() if answer == SAVE else answer == THROW

    # ---- back

    def earlier(self) -> None:
        """Offer the last saved versions of this job."""
        from zombrel.ui.widgets.versions import VersionsDialog

        if self._session.path is None:
            self._say("open", "This job has no file yet: save it first.")
            return
        VersionsDialog(self._session, self._session.path, self._window).open()

    def offer_recovery(self) -> None:
        """Offer what a killed program left behind, one after another; then tell what came of it."""
        from zombrel.store.prefs import recovery_root
        from zombrel.store.recovery import Found, discard, left_behind, put_aside

        told = [("watch", self._session.trouble)] if self._session.trouble else []
        brought = False
        for found in left_behind(recovery_root()):
            if not isinstance(found, Found):
                told.append(("trouble", _unread(found, put_aside(found))))
                continue
            answers = ("Bring it back", "Throw it away", "Ask me again")
            if found.lost:
                answers = ("Bring back what is here", "Keep it aside", "Ask me again")
            answer = answers[-1] if brought else self._ask("Bring it back?", _said(found), answers)
            if answer == answers[0]:
                brought = True
                told.append(self._bring_back(found))
            elif answer == answers[1]:
                discard(found)
            else:
                found.lock.end()
        if told:
            self._say(max(told, key=lambda x: MARKS.index(x[0]))[0], " ".join(x[1] for x in told))

    def _bring_back(self, found: Found) -> tuple[str, str]:
        self._session.recover(found)
        if found.draft is not None:
            self._take_draft(*found.draft)
        name = found.title or "The job"
        if found.lost:
            return "watch", f"{name} is back in part: {found.lost}."
        if self._session.path != found.path:
            return "watch", f"{name} is back; another window has its file, so save it anew."
        return "good", f"{name} is back, with its undo list."

    def _ask(self, title: str, words: str, answers: tuple[str, ...]) -> str:
        from zombrel.ui.widgets.ask import ask

        return ask(self._window, title, words, answers)


def _unread(found: Unread, place: Path) -> str:
    title = f"“{found.title}” " if found.title else ""
    return (
        f"Work {title}that was not saved cannot be brought back: {found.why}. "
        f"Nothing was thrown away; it is kept in {place}."
    )


def _said(found: Found) -> str:
    name = found.title or "an untitled job"
    many = "s" if found.steps != 1 else ""
    words = f"Zombrel ended without saving {name}. {found.steps} step{many} can be brought back."
    return words + (f" Not all of it: {found.lost}. Its folder is kept." if found.lost else "")


def _is_large(path: Path) -> bool:
    try:
        return path.stat().st_size > LARGE_BYTES
    except OSError:
        return False  # opening it says what is wrong
