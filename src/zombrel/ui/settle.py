"""Settle next: the ranked findings with their mends."""

from __future__ import annotations

from functools import partial

from PySide6.QtWidgets import QVBoxLayout, QWidget

from zombrel.findings.model import STAGE_NAMES, Finding, Mend
from zombrel.ui.marks import Mark
from zombrel.ui.paint import Panel
from zombrel.ui.parts import button, card, clear, label, row, scroller
from zombrel.ui.session import Session
from zombrel.ui.why import show_why

FIRST = 4
"""Cards that fit the panel; the rest follow after the first paint."""
SHOWN = 12


class SettlePanel(QWidget):
    """The ranked findings; each can be mended or asked why."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._shown: tuple[object, ...] = ()
        self._waiting: tuple[object, ...] = ()
        self.setAccessibleName("Settle next")
        body = QVBoxLayout(self)
        body.setContentsMargins(0, 0, 0, 0)
        body.setSpacing(6)
        self._head = label("Settle next", "head")
        body.addWidget(self._head)
        inside = QWidget()
        self._list = QVBoxLayout(inside)
        self._list.setContentsMargins(0, 0, 6, 8)
        self._list.setSpacing(8)
        body.addWidget(scroller(inside, "Findings, worst first"), 1)

    def refresh(self) -> None:
        """Show the findings as assessed; rebuilt only when they changed."""
        findings = self._session.assessment.findings
        key = (self._session.theme, *((f.id, f.title, f.text, f.mends) for f in findings))
        if key == self._shown:
            return
        self._shown = key
        clear(self._list)
        self._head.setText(f"Settle next: {len(findings)}" if findings else "Settle next")
        if not findings:
            frame, inner = card()
            inner.addWidget(label("Nothing is left to settle.", "good", wrap=True))
            inner.addWidget(
                label("Go on with the next stage, or suppose another state below.", "quiet", True)
            )
            self._list.addWidget(frame)
        for finding in findings[:SHOWN]:
            self._list.addWidget(self._card(finding))
        if len(findings) > SHOWN:
            self._list.addWidget(
                label(f"{len(findings) - SHOWN} more below these; settle the worst first.",
                      "quiet", wrap=True)
            )  # fmt: skip
        self._list.addStretch(1)

    def _card(self, finding: Finding) -> Panel:
        frame, inner = card(margins=10)
        frame.setAccessibleName(f"{finding.level}: {finding.title}")
        title = label(finding.title, "strong", wrap=True)
        head = row(Mark(self._session.theme, finding.level, 18), title, spacing=8)
        head.setStretch(1, 1)
        inner.addLayout(head)
        inner.addWidget(label(finding.text, "quiet", wrap=True))
        buttons = [
            button(
                m.label,
                partial(self._mend, finding, m),
                "primary" if i == 0 else "",
                f"{m.label}: {finding.title}",
            )
            for i, m in enumerate(finding.mends)
        ]
        why = button(
            "Why?",
            lambda: show_why(finding.why(), self.window()),
            name=f"Why: {finding.title}",
        )
        if len(buttons) > 1:
            for b in buttons[1:]:
                inner.addWidget(b)
            inner.insertLayout(2, row(buttons[0], why, 1))
        else:
            inner.addLayout(row(*buttons, why, 1))
        frame.setToolTip(f"{STAGE_NAMES[finding.stage]}, about {finding.minutes:.0f} minutes")
        return frame

    def _mend(self, finding: Finding, mend: Mend) -> None:
        if mend.edit is not None:
            if self._session.do(mend.label, mend.edit):
                self._session.said.emit("good", f"{mend.label}: done. Ctrl+Z takes it back.")
        else:
            self._session.goto.emit(mend.go)
