"""Hand over: the owner's page, the sheet, the drawing and the labels as they will be printed."""

from __future__ import annotations

from collections.abc import Callable
from datetime import date
from functools import partial
from pathlib import Path
from typing import Any

from PySide6.QtCore import QSize, Qt, QTimer
from PySide6.QtGui import QPagedPaintDevice, QPainter, QPaintEvent, QResizeEvent
from PySide6.QtWidgets import (
    QBoxLayout,
    QFileDialog,
    QScrollArea,
    QSizePolicy,
    QStackedWidget,
    QTextBrowser,
    QVBoxLayout,
    QWidget,
)

from zombrel.actions.logs import stale
from zombrel.handover.report import report_html
from zombrel.handover.sheet import Sheet, Text
from zombrel.intake.name import file_name
from zombrel.job.problem import Problem
from zombrel.store.atomic import write_atomically
from zombrel.ui.handover.pdf_view import PdfView
from zombrel.ui.handover.sign import SignDialog, signed_words
from zombrel.ui.session import Session
from zombrel.ui.widgets.background import Background
from zombrel.ui.widgets.paint import Pill
from zombrel.ui.widgets.parts import button, column, label, row, scroller


def pdf_of_html(html: str) -> bytes:
    """A paper laid out; what lays it out is loaded when the first is."""
    from zombrel.handover.paper import pdf_of

    return pdf_of(html)


PAUSE_MS = 150
GAP = 8
"""Between two buttons [px]."""
NO_WIRE = "No wires yet, so there is nothing to draw or to label."
NO_COMPARE = "Nothing is compared: read logs in Road, Before and after, and keep it."
NO_FACE = "No connector is drawn yet: draw one in Wire, Connectors."
NO_LEAD = "No remap lead has a conductor yet: begin one in Wire, Remap."
PAPERS = {
    "owner": "Owner's page",
    "sheet": "Sheet",
    "drawing": "Drawing",
    "labels": "Labels",
    "leads": "Build sheets",
    "faces": "Connectors",
    "compare": "Before and after",
}


class Paper(QWidget):
    """Pages below one another, as wide as there is room."""

    def __init__(self, name: str) -> None:
        super().__init__()
        self._pages: tuple[Sheet, ...] = ()
        self.setAccessibleName(name)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)

    def show_pages(self, pages: tuple[Sheet, ...]) -> None:
        """Other pages."""
        self._pages = pages
        self.setAccessibleDescription(
            "; ".join(t.text for p in pages for t in p.items if isinstance(t, Text))[:4000]
        )
        self._fit()
        self.update()

    def _scale(self) -> float:
        widest = max((p.width for p in self._pages), default=210.0)
        return max(self.width() - 8, 200) / max(widest, 300.0)

    def _fit(self) -> None:
        tall = sum(p.height for p in self._pages) * self._scale() + 14 * len(self._pages)
        self.setFixedHeight(max(int(tall), 40))

    def sizeHint(self) -> QSize:
        return QSize(900, 600)

    def resizeEvent(self, event: object) -> None:
        self._fit()

    def paintEvent(self, event: QPaintEvent) -> None:
        from zombrel.ui.handover.sheet_paint import paint

        p = QPainter(self)
        scale, y = self._scale(), 0.0
        for page in self._pages:
            p.save()
            p.translate(max((self.width() - page.width * scale) / 2, 0), y)
            paint(p, page, scale)
            p.restore()
            y += page.height * scale + 14


class HandoverStage(QWidget):
    """Previews, and everything as files."""

    title = "Hand over"

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.background = Background(self)
        self.laying = Background(self)
        self._html = ""
        self._paper = "sheet"
        self._drawn: tuple[object, ...] = ()
        self._soon = QTimer(self)
        self._soon.setSingleShot(True)
        self._soon.setInterval(PAUSE_MS)
        self._soon.timeout.connect(self._print)
        self.preview = QTextBrowser()
        self.preview.setAccessibleName("Hand-over sheet")
        self.preview.setOpenLinks(False)
        self.preview.document().setDocumentMargin(20)
        self.preview.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self._tabs: dict[str, Pill] = {}
        for key, words in PAPERS.items():
            self._tabs[key] = button(words, partial(self.show_item, key), "plain", f"Show: {words}")
        self._pdf = button("Save as PDF", self._ask_pdf, "primary")
        self._other = button("Save as HTML", self._ask_html)
        self._all = button("Write all files…", self._ask_folder, "", "Write all files to a folder")
        self._printer = button("Print…   Ctrl P", self.print_shown, "", "Print through the system")
        self._sign = button("Sign off…", self._ask_sign, "", "Sign the job off")
        self._signed = label("", "quiet")
        acts = row(1, self._sign, self._pdf, self._printer, self._other, self._all)
        self._tools = QBoxLayout(QBoxLayout.Direction.LeftToRight)
        self._tools.setSpacing(8)
        self._tools.addLayout(row(*self._tabs.values(), 1))
        self._tools.addLayout(acts)
        tools = self._tools
        self.papers = {key: Paper(PAPERS[key]) for key in PAPERS if key not in ("sheet", "owner")}
        self.owner = PdfView(session, "Owner's page")
        self._owner_html = ""
        self._owner_pdf = b""
        self._pages = QStackedWidget()
        self._pages.addWidget(self.preview)
        self._pages.addWidget(self.owner)
        self._areas: dict[str, QScrollArea] = {}
        for key, paper in self.papers.items():
            inside = QWidget()
            body = QVBoxLayout(inside)
            body.setContentsMargins(0, 0, 0, 0)
            body.addWidget(paper)
            body.addStretch(1)
            self._areas[key] = scroller(inside, PAPERS[key])
            self._areas[key].setFocusPolicy(Qt.FocusPolicy.StrongFocus)
            self._pages.addWidget(self._areas[key])
        self._none = label(NO_WIRE, "quiet", True)
        whole = column(tools, self._signed, self._none, self._pages, spacing=8)
        whole.setStretch(3, 1)
        self.setLayout(whole)

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        beside = QBoxLayout.Direction.LeftToRight
        below = QBoxLayout.Direction.TopToBottom
        # by what they need, not by a width that they themselves may have forced
        pills = (*self._tabs.values(), self._sign, self._pdf, self._printer, self._other, self._all)
        needed = sum(p.sizeHint().width() + GAP for p in pills)
        self._tools.setDirection(beside if self.width() >= needed else below)

    @property
    def subtitle(self) -> str:
        """What is still open."""
        n = len(self._session.assessment.findings)
        return f"{n} findings are still open and are printed" if n else "nothing is open"

    def show_item(self, item: str) -> None:
        """The sheet, the drawing or the labels."""
        if item in PAPERS:
            self._paper = item
            self._print()
        self.focus_first()

    def focus_first(self) -> None:
        """Keyboard focus for one who just came here."""
        self._shown().setFocus(Qt.FocusReason.OtherFocusReason)

    def _shown(self) -> QWidget:
        if self._paper == "owner":
            return self.owner
        return self._areas.get(self._paper, self.preview)

    def refresh(self) -> None:
        """Print anew soon: a sheet is slower than a frame, so a drag must end first."""
        if self._html:
            self._soon.start()
        else:
            self._print()

    def _print(self) -> None:
        s = self._session
        for key, tab in self._tabs.items():
            tab.set_on(key == self._paper)
        self._signed.setText(signed_words(s))
        drawn = self._paper in self.papers
        self._other.setText("Save as SVG" if drawn else "Save as HTML")
        self._other.setAccessibleName(self._other.text())
        have, nothing = self._has(self._paper)
        self._none.setText(nothing)
        self._none.setVisible(drawn and not have)
        self._pages.setCurrentWidget(self._shown())
        if drawn:
            self._draw()
        if self._paper == "owner":
            self._lay_out_owner()
        html = report_html(s.job, s.assessment, s.units, s.now()[:10])
        if html == self._html:
            return
        self._html = html
        at = self.preview.verticalScrollBar().value()
        self.preview.setHtml(self._on_screen(html))
        self.preview.verticalScrollBar().setValue(at)

    def _has(self, paper: str) -> tuple[bool, str]:
        """Whether a paper has a page, and what is said where it has none."""
        job = self._session.job
        if paper == "leads":
            return any(x.old and x.rows for x in job.leads), NO_LEAD
        if paper == "faces":
            return bool(job.connectors), NO_FACE
        if paper == "compare":
            return any(c.pulls and not stale(job, c) for c in job.compared), NO_COMPARE
        return bool(job.wires), NO_WIRE

    def _lay_out_owner(self) -> None:
        """The owner's page, laid out off the window's thread."""
        html = self._maker("owner", "html")().decode()
        if html == self._owner_html:
            return
        self._owner_html, self._owner_pdf = html, b""
        if not self.owner.count:
            self.owner.say("It is being laid out.")

        def took(data: bytes) -> None:
            self._owner_pdf = data
            self.owner.show_pdf(data)

        self.laying.start(
            "Laying out the owner's page",
            partial(pdf_of_html, html),
            took,
            lambda problem: self.owner.say(str(problem)),
            quiet=True,
        )

    def _draw(self) -> None:
        from zombrel.handover.files import sheets
        from zombrel.harness.laid import laid

        key = (self._paper, self._session.job, self._session.units)
        if key == self._drawn:
            return
        self._drawn = key
        job = laid(self._session.job)
        self.papers[self._paper].show_pages(
            sheets(self._paper, job, self._session.units) if self._has(self._paper)[0] else ()
        )

    def _on_screen(self, html: str) -> str:
        """The paper's colours on the screen's ground."""
        t = self._session.theme
        for paper, screen in (
            ("#1C2630", t.ink),
            ("#56606B", t.quiet),
            ("#D3CBBA", t.line),
            ("#0E5A66", t.petrol),
            ("#AE2A1F", t.trouble),
        ):
            html = html.replace(paper, screen)
        return html

    def _ask_sign(self) -> None:
        SignDialog(self._session, self.window()).open()

    def _ask_pdf(self) -> None:
        name = self._ask("pdf")
        if name:
            self.save_pdf(Path(name))

    def _ask_html(self) -> None:
        if self._paper in self.papers:
            name = self._ask("svg")
            if name:
                self._write(Path(name), self._file(self._paper, "svg"))
            return
        name = self._ask("html")
        self._print()
        if name:
            html = self._owner_html if self._paper == "owner" else self._html
            self._write(Path(name), html.encode())

    def _ask(self, kind: str) -> str:
        what = "hand-over" if self._paper == "sheet" else self._paper
        start = file_name(f"{self._session.job.number or 'job'}-{what}", f".{kind}")
        name, _ = QFileDialog.getSaveFileName(
            self, f"Save as {kind.upper()}", start, f"{kind.upper()} (*.{kind})"
        )
        return name

    def save_pdf(self, path: Path) -> None:
        """Print what is shown to ``path``, off the window's thread."""
        from zombrel.ui.handover.paper import pdf_of

        self._print()
        work: Callable[[], bytes] = partial(pdf_of, self._html)
        if self._paper != "sheet":
            work = self._maker(self._paper, "pdf")
        self._begin("Making the PDF", work, partial(self._write, path))

    def _begin(self, words: str, work: Callable[[], Any], done: Callable[[Any], object]) -> None:
        failed = partial(self._session.said.emit, "trouble")
        self.background.start(words, work, done, lambda problem: failed(str(problem)))

    def print_shown(self) -> None:
        """Print what is shown through the system's dialog."""
        from PySide6.QtPrintSupport import QPrintDialog, QPrinter

        printer = QPrinter(QPrinter.PrinterMode.HighResolution)
        if QPrintDialog(printer, self.window()).exec():
            self.print_on(printer)

    def print_on(self, printer: QPagedPaintDevice) -> None:
        """Print what is shown on a printer."""
        from zombrel.handover.files import sheets
        from zombrel.harness.laid import laid
        from zombrel.ui.handover.paper import LYING, print_html
        from zombrel.ui.handover.sheet_paint import print_sheets

        self._print()
        if self._paper == "owner":
            self.owner.print_on(printer)
        elif self._paper == "sheet":
            printer.setPageLayout(LYING)
            print_html(self._html, printer)
        else:
            print_sheets(sheets(self._paper, laid(self._session.job), self._session.units), printer)
        self._session.said.emit("good", f"{PAPERS[self._paper]} sent to the printer.")

    def _maker(self, name: str, ending: str) -> Callable[[], bytes]:
        """What makes a file, of the job as it is now."""
        from zombrel.handover.files import make
        from zombrel.ui.handover.sheet_paint import sheets_pdf_of

        s = self._session
        job, assessment = s.history.present, s.assessment
        return partial(make, name, ending, job, assessment, date.today(), sheets_pdf_of, s.units)

    def _file(self, name: str, ending: str) -> bytes:
        return self._maker(name, ending)()

    def _ask_folder(self) -> None:
        folder = QFileDialog.getExistingDirectory(self, "A folder for all files")
        if folder:
            self.write_all(Path(folder))

    def write_all(self, folder: Path) -> None:
        """Every list, drawing and plan into ``folder``; what is there already stays as it is."""
        from zombrel.handover.files import KINDS

        number = self._session.job.number or "job"
        empty = {name for name in ("leads", "faces", "compare") if not self._has(name)[0]}
        kinds = [k for k in KINDS if k.name not in empty]  # no sheet without a page
        targets = {k: folder / f"{number}-{k.name}.{k.endings[0]}" for k in kinds}
        there = [p.name for p in targets.values() if p.exists()]
        if there:
            self._session.said.emit(
                "trouble", f"{', '.join(there)} lie there already; choose an empty folder."
            )
            return
        makers = {p: self._maker(k.name, k.endings[0]) for k, p in targets.items()}

        def work() -> int:
            made = {path: maker() for path, maker in makers.items()}
            for path, data in made.items():
                write_atomically(path, data)
            return len(made)

        self._begin(
            "Writing all files",
            work,
            lambda n: self._session.said.emit("good", f"{n} files written to {folder}."),
        )

    def _write(self, path: Path, data: bytes) -> None:
        try:
            write_atomically(path, data)
        except Problem as problem:
            self._session.said.emit("trouble", str(problem))
            return
        self._session.said.emit("good", f"Written to {path}.")
