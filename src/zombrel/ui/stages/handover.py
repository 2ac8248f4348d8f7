"""Hand over: the sheet as it will be printed."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtCore import Qt, QTimer
from PySide6.QtWidgets import QFileDialog, QTextBrowser, QWidget

from zombrel.handover.report import report_html
from zombrel.job.problem import Problem
from zombrel.store.zjob import write_atomically
from zombrel.ui.parts import button, column, row
from zombrel.ui.session import Session

PAUSE_MS = 150


class HandoverStage(QWidget):
    """Preview, HTML and PDF."""

    title = "Hand over"

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._html = ""
        self._soon = QTimer(self)
        self._soon.setSingleShot(True)
        self._soon.setInterval(PAUSE_MS)
        self._soon.timeout.connect(self._print)
        self.preview = QTextBrowser()
        self.preview.setAccessibleName("Hand-over sheet")
        self.preview.setOpenLinks(False)
        self.preview.document().setDocumentMargin(20)
        self.preview.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        tools = row(
            button("Save as PDF", self._ask_pdf, "primary"),
            button("Save as HTML", self._ask_html),
            1,
        )
        self.setLayout(column(tools, self.preview, spacing=10))

    @property
    def subtitle(self) -> str:
        """What is still open."""
        n = len(self._session.assessment.findings)
        return f"{n} findings are still open and are printed" if n else "nothing is open"

    def show_item(self, item: str) -> None:
        """Nothing to choose here."""

    def focus_first(self) -> None:
        """Keyboard focus for one who just came here."""
        self.preview.setFocus(Qt.FocusReason.OtherFocusReason)

    def refresh(self) -> None:
        """Print anew soon: a sheet is slower than a frame, so a drag must end first."""
        if self._html:
            self._soon.start()
        else:
            self._print()

    def _print(self) -> None:
        s = self._session
        html = report_html(s.job, s.assessment, s.units, s.now()[:10])
        if html == self._html:
            return
        self._html = html
        at = self.preview.verticalScrollBar().value()
        self.preview.setHtml(self._on_screen(html))
        self.preview.verticalScrollBar().setValue(at)

    def _on_screen(self, html: str) -> str:
        """The paper's colours on the screen's ground."""
        t = self._session.theme
        for paper, screen in (("#1C2630", t.ink), ("#56606B", t.quiet), ("#D3CBBA", t.line),
                              ("#0E5A66", t.petrol), ("#AE2A1F", t.trouble)):  # fmt: skip
            html = html.replace(paper, screen)
        return html

    def _ask_pdf(self) -> None:
        name = self._ask("pdf")
        if name:
            self.save_pdf(Path(name))

    def _ask_html(self) -> None:
        name = self._ask("html")
        self._print()
        if name:
            self._write(Path(name), self._html.encode())

    def _ask(self, kind: str) -> str:
        start = f"{self._session.job.number or 'job'}-hand-over.{kind}"
        name, _ = QFileDialog.getSaveFileName(self, f"Save as {kind.upper()}", start,
                                              f"{kind.upper()} (*.{kind})")  # fmt: skip
        return name

    def save_pdf(self, path: Path) -> None:
        """Print to ``path``."""
        from zombrel.ui.paper import pdf_bytes

        self._print()
        self._write(path, pdf_bytes(self._html))

    def _write(self, path: Path, data: bytes) -> None:
        try:
            write_atomically(path, data)
        except Problem as problem:
            self._session.said.emit("trouble", str(problem))
            return
        self._session.said.emit("good", f"Written to {path}.")
