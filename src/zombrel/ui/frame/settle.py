"""Settle next: the ranked findings with their mends."""

from __future__ import annotations

from functools import partial

from PySide6.QtGui import QPaintEvent
from PySide6.QtWidgets import QVBoxLayout, QWidget

from zombrel.findings.finding import Finding
from zombrel.findings.met import mended
from zombrel.job.stages import STAGE_NAMES
from zombrel.ui.session import Session
from zombrel.ui.widgets.marks import Mark
from zombrel.ui.widgets.paint import Panel, Pill
from zombrel.ui.widgets.parts import after_frame, button, card, in_lines, label, row, scroller
from zombrel.ui.widgets.tip import tip
from zombrel.ui.widgets.why import show_why

FIRST = 4
"""Cards that fit the panel; the rest follow after the first paint."""
SHOWN = 12
LINES = 5
"""Lines of buttons a card has at most."""
WIDEST = 258
"""Room for a mend alone on its line [px]; a longer one is cut short and whole in its tip."""


class FindingCard(Panel):
    """One finding: mark, title, why it matters, its mends and the answer to why."""

    def __init__(self, panel: SettlePanel, finding: Finding) -> None:
        super().__init__("card")
        self._panel, self.key = panel, finding.id
        self._mark, self._title = Mark(finding.level, 18), label("", "strong")
        self._title.setWordWrap(True)
        self._text = label("", "quiet", wrap=True)
        head = row(self._mark, self._title, spacing=8)
        head.setStretch(1, 1)
        self._why = button("Why?", partial(panel.ask_why, finding.id))
        self._buttons: list[Pill] = []
        self._lines = [row(spacing=6) for _ in range(LINES)]
        self._body = QVBoxLayout(self)
        self._body.setContentsMargins(12, 10, 12, 10)
        self._body.setSpacing(6)
        self._body.addLayout(head)
        self._body.addWidget(self._text)
        for line in self._lines:
            self._body.addLayout(line)
        self.show_finding(finding)

    def show_finding(self, finding: Finding) -> None:
        """Say what the finding says now; widgets are made only for more mends than before."""
        words = self._panel.session.words
        title = words(finding.title)
        self.setAccessibleName(f"{finding.level}: {title}")
        stage = STAGE_NAMES[finding.stage]
        tip(self, f"{stage}, about {finding.minutes:.0f} minutes")
        self._mark.show_mark(finding.level)
        self._title.setText(title)
        self._text.setText(words(finding.text))
        self._why.setAccessibleName(f"Why: {title}")
        while len(self._buttons) < len(finding.mends):
            i = len(self._buttons)
            push_button = button("", partial(self._panel.mend, self.key, i), "" if i else "primary")
            push_button.setMaximumWidth(WIDEST)
            push_button.setParent(self)  # shown without one it would be a window of its own
            self._buttons.append(push_button)
        for i, push_button in enumerate(self._buttons):
            push_button.setVisible(i < len(finding.mends))
            if i < len(finding.mends):
                label = words(finding.mends[i].label)
                push_button.setText(label)
                tip(push_button, label)
                push_button.setAccessibleName(f"{label}: {title}")
        self._arrange(self._buttons[: len(finding.mends)])

    def _arrange(self, mends: list[Pill]) -> None:
        """As many beside one another as there is room for, the why last."""
        for line in self._lines:
            while line.count():
                line.takeAt(0)
        pills = in_lines((*mends, self._why), WIDEST, 6, LINES)
        for line, some in zip(self._lines, pills, strict=False):
            for pill in some:
                line.addWidget(pill)
            line.addStretch(1)


class SettlePanel(QWidget):
    """The ranked findings; each can be mended or asked why."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self._shown: tuple[object, ...] = ()
        self.waiting: tuple[object, ...] = ()
        """What is shown, while the cards below the fold are still to be made."""
        self._cards: dict[str, FindingCard] = {}
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
        self._more_words = label("", "quiet", wrap=True)
        self._nothing, nothing = card()
        nothing.addWidget(label("Nothing is left to settle.", "good", wrap=True))
        nothing.addWidget(
            label("Go on with the next stage, or suppose another state below.", "quiet", True)
        )
        for widget in (self._nothing, self._more_words):
            self._list.addWidget(widget)
            widget.hide()
        self._list.addStretch(1)
        body.addWidget(scroller(inside, "Findings, worst first"), 1)

    def refresh(self) -> None:
        """Show the findings as assessed."""
        findings = self.session.assessment.findings
        words = ((f.id, f.title, f.text, *(m.label for m in f.mends)) for f in findings)
        key = (self.session.theme, self.session.units, *words)
        if key == self._shown:
            return
        self._shown = key
        self.waiting = ()
        self._head.setText(f"Settle next: {len(findings)}" if findings else "Settle next")
        first = SHOWN if self._cards else FIRST
        self._fill(findings[:first])
        if first < min(SHOWN, len(findings)):
            self.waiting = key
            self.update()

    def _fill(self, findings: tuple[Finding, ...]) -> None:
        """Show these, in their order; a card stays for as long as its finding does."""
        wanted = {f.id for f in findings}
        for key in [k for k in self._cards if k not in wanted]:
            gone = self._cards.pop(key)
            self._list.removeWidget(gone)
            gone.hide()
            gone.deleteLater()
        for i, finding in enumerate(findings):
            card = self._cards.get(finding.id)
            if card is None:
                card = self._cards[finding.id] = FindingCard(self, finding)
            else:
                card.show_finding(finding)
            item = self._list.itemAt(i)
            if item is None or item.widget() is not card:
                self._list.insertWidget(i, card)
        hidden = len(self.session.assessment.findings) - len(findings)
        self._more_words.setText(f"{hidden} more below these.")
        self._more_words.setVisible(hidden > 0 and len(findings) >= SHOWN)
        self._nothing.setVisible(not findings)

    def paintEvent(self, event: QPaintEvent) -> None:
        super().paintEvent(event)
        if self.waiting:
            after_frame(self, partial(self._more, self.waiting))

    def _more(self, key: tuple[object, ...]) -> None:
        """The cards below the fold, once the first are painted."""
        if key == self._shown and self.waiting:
            self.waiting = ()
            self._fill(self.session.assessment.findings[:SHOWN])

    def _now(self, key: str) -> Finding | None:
        return next((f for f in self.session.assessment.findings if f.id == key), None)

    def ask_why(self, key: str) -> None:
        """Show the reason of a finding as it is now."""
        finding = self._now(key)
        if finding is not None:
            show_why(finding.reason, self.window(), self.session.units)

    def mend(self, key: str, i: int) -> None:
        """Take the ``i``-th mend of a finding as it is now."""
        finding = self._now(key)
        if finding is None or i >= len(finding.mends):
            return
        mend = finding.mends[i]
        if mend.edit is None:
            self.session.goto.emit(mend.go)
            return
        label = self.session.words(mend.label)
        s = self.session
        if s.do(label, mended(s.history.present, finding, mend.edit, s.now()[:10])):
            self.session.said.emit("good", f"{label}: done. Ctrl+Z takes it back.")
