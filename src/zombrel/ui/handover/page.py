"""Hand over: every paper as it will print, in the window; files of all of it; signing off."""

from __future__ import annotations

from collections.abc import Callable
from datetime import date
from functools import partial
from pathlib import Path
from typing import Any

from PySide6.QtCore import Qt, QTimer
from PySide6.QtGui import QPagedPaintDevice
from PySide6.QtWidgets import QFileDialog, QStackedWidget, QWidget

from zombrel.actions.begin import name_of
from zombrel.intake.name import file_name
from zombrel.job.problem import Problem
from zombrel.store.atomic import write_atomically
from zombrel.store.folder import write_folder
from zombrel.store.photos import pictures
from zombrel.ui.handover.pdf_view import PdfView
from zombrel.ui.handover.photos import PhotosView
from zombrel.ui.handover.sign import SignDialog, signed_words
from zombrel.ui.session import Session
from zombrel.ui.widgets.background import Background
from zombrel.ui.widgets.paint import Pill
from zombrel.ui.widgets.parts import button, column, label, row

PAUSE_MS = 300
"""A paper takes longer than a frame: a drag ends first."""
PAPERS = {
    "owner": "Owner's page",
    "dossier": "Dossier",
    "drawing": "Drawing",
    "labels": "Labels",
    "leads": "Leads",
    "faces": "Connectors",
    "compare": "Before and after",
    "photos": "Photos",
}
PAGED = ("owner", "dossier")
"""Those whose other form is a page for a browser; the others are drawings."""


class HandoverStage(QWidget):
    """One paper at a time, and everything as files."""

    title = "Hand over"

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.background = Background(self)
        self.laying = Background(self)
        self._paper = "owner"
        self._key: tuple[Any, ...] = ()
        """What the paper on show was made of."""
        self._pdf_data = b""
        self._soon = QTimer(self)
        self._soon.setSingleShot(True)
        self._soon.setInterval(PAUSE_MS)
        self._soon.timeout.connect(self._print)
        self._tabs: dict[str, Pill] = {}
        for key, words in PAPERS.items():
            self._tabs[key] = button(words, partial(self.show_item, key), "plain", f"Show: {words}")
        self._pdf = button("Save as PDF", self._ask_pdf, "primary")
        self._other = button("Save as HTML", self._ask_other)
        self._all = button("Write all…", self._ask_folder, "", "Write all files to a folder")
        self._printer = button("Print…   Ctrl P", self.print_shown, "", "Print through the system")
        self._sign = button("Sign off…", self._ask_sign, "", "Sign the job off")
        self._size = button("A4", self._other_size, "plain", "Paper: A4 or Letter")
        self._signed = label("", "quiet")
        self._signed.setMinimumWidth(1)  # it gives way to the buttons
        acts = (self._sign, self._pdf, self._printer, self._other, self._all)
        self.view = PdfView(session, PAPERS["owner"])
        self.photos = PhotosView(session)
        self._pages = QStackedWidget()
        self._pages.addWidget(self.view)
        self._pages.addWidget(self.photos)
        whole = column(
            row(*self._tabs.values(), 1),
            row(self._signed, 1, self._size, *acts),
            self._pages,
            spacing=8,
        )
        whole.setStretch(2, 1)
        self.setLayout(whole)

    @property
    def subtitle(self) -> str:
        """What is still open."""
        n = len(self._session.assessment.findings)
        return f"{n} findings are still open and are printed" if n else "nothing is open"

    def show_item(self, item: str) -> None:
        """One of the papers; ``photos/F1`` one photo, ``photos/wires.W3`` those of a thing."""
        paper, _, about = item.partition("/")
        if paper in PAPERS:
            self._paper = paper
            self._print()
        if paper == "photos" and about:
            self.photos.show_item(about)
        else:
            self.focus_first()

    def focus_first(self) -> None:
        """Keyboard focus for one who just came here."""
        shown = self.photos.canvas if self._paper == "photos" else self.view
        shown.setFocus(Qt.FocusReason.OtherFocusReason)

    def refresh(self) -> None:
        """Lay it out anew soon; photos are shown at once."""
        if self._key and self._paper != "photos":
            self._soon.start()
        else:
            self._print()

    def _print(self) -> None:
        """Lay out the paper on show, off the window's thread, if anything of it has changed."""
        from zombrel.handover.files import lacks

        s = self._session
        for name, tab in self._tabs.items():
            tab.set_on(name == self._paper)
        self._signed.setText(signed_words(s))
        self._other.setText("Save as HTML" if self._paper in PAGED else "Save as SVG")
        self._other.setAccessibleName(self._other.text())
        self._size.setText(s.units.paper)
        self._size.setAccessibleName(f"Paper: {s.units.paper}; press for the other")
        photos = self._paper == "photos"
        self._pages.setCurrentWidget(self.photos if photos else self.view)
        for w in (self._size, self._pdf, self._printer, self._other):
            w.setVisible(not photos)
        if photos:
            self._key = ("photos",)
            self.photos.refresh()
            return
        job = s.history.present
        key = (self._paper, job, s.assessment, s.units)
        if len(key) == len(self._key) and all(
            a is b or a == b for a, b in zip(key, self._key, strict=True)
        ):
            return
        other = self._key[:1] != key[:1]
        self._key, self._pdf_data = key, b""
        self.view.name = PAPERS[self._paper]
        lack = lacks(self._paper, job)
        if lack:
            self.laying.give_up()
            self.view.say(lack)
            return
        if other or not self.view.count:
            self.view.say("It is being laid out.")
        words = f"Laying out: {PAPERS[self._paper]}"
        made = self._maker(self._paper, "pdf")
        self.laying.start(
            words, made, self._took, lambda problem: self.view.say(str(problem)), quiet=True
        )

    def _took(self, data: bytes) -> None:
        self._pdf_data = data
        self.view.show_pdf(data)

    def _other_size(self) -> None:
        self._session.next_units("paper", ("A4", "Letter"))

    def _ask_sign(self) -> None:
        SignDialog(self._session, self.window()).open()

    # ---- files

    def _maker(self, name: str, ending: str) -> Callable[[], bytes]:
        """What makes a file, of the job as it is now."""
        from zombrel.handover.files import make

        s = self._session
        job, assessment = s.history.present, s.assessment

        def work() -> bytes:
            seen = pictures(job) if name == "dossier" else {}
            return make(name, ending, job, assessment, date.today(), s.units, seen)

        return work

    def _ask_pdf(self) -> None:
        name = self._ask("pdf")
        if name:
            self.save_pdf(Path(name))

    def _ask_other(self) -> None:
        ending = "html" if self._paper in PAGED else "svg"
        name = self._ask(ending)
        if name:
            work = self._maker(self._paper, ending)
            self._begin("Writing it", work, partial(self._write, Path(name)))

    def _ask(self, kind: str) -> str:
        start = file_name(f"{self._session.job.number or 'job'}-{self._paper}", f".{kind}")
        name, _ = QFileDialog.getSaveFileName(
            self, f"Save as {kind.upper()}", start, f"{kind.upper()} (*.{kind})"
        )
        return name

    def save_pdf(self, path: Path) -> None:
        """Write what is shown to ``path``; made off the window's thread where it is not yet."""
        self._print()
        if self._pdf_data:
            self._write(path, self._pdf_data)
            return
        work = self._maker(self._paper, "pdf")
        self._begin("Making the PDF", work, partial(self._write, path))

    def _begin(self, words: str, work: Callable[[], Any], done: Callable[[Any], object]) -> None:
        failed = partial(self._session.said.emit, "trouble")
        self.background.start(words, work, done, lambda problem: failed(str(problem)))

    def print_shown(self) -> None:
        """Print what is shown through the system's dialog."""
        from PySide6.QtPrintSupport import QPrintDialog, QPrinter

        if not self._pdf_data:
            self._session.said.emit(
                "watch", "It is still being laid out: print it once you see it."
            )
            return
        printer = QPrinter(QPrinter.PrinterMode.HighResolution)
        if QPrintDialog(printer, self.window()).exec():
            self.print_on(printer)

    def print_on(self, printer: QPagedPaintDevice) -> None:
        """Print what is shown on a printer."""
        self.view.print_on(printer)
        self._session.said.emit("good", f"{PAPERS[self._paper]} sent to the printer.")

    def _ask_folder(self) -> None:
        folder = QFileDialog.getExistingDirectory(self, "Where the job's folder shall lie")
        if folder:
            self.write_all(Path(folder))

    def write_all(self, place: Path) -> None:
        """Everything into a folder of the job's name at ``place``, which is there once all is."""
        from zombrel.handover.files import every_file

        s = self._session
        job, assessment = s.history.present, s.assessment
        folder = place / file_name(name_of(job), "")

        def work() -> list[str]:
            tell, seen = self.background.tell, pictures(job)
            files = every_file(job, assessment, date.today(), s.units, seen, tell)
            if files:
                write_folder(folder, files)
            return list(files)

        def done(names: list[str]) -> None:
            kinds = ", ".join(dict.fromkeys(Path(n).stem.rpartition("-")[2] for n in names))
            s.said.emit("good", f"{len(names)} files written to {folder}: {kinds}.")

        self._begin("Writing all files", work, done)

    def _write(self, path: Path, data: bytes) -> None:
        try:
            write_atomically(path, data)
        except Problem as problem:
            self._session.said.emit("trouble", str(problem))
            return
        self._session.said.emit("good", f"Written to {path}.")
