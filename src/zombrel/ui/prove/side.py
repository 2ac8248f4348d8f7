"""Beside a step: its caution, what to do otherwise, what it may be if it is not so."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from PySide6.QtWidgets import QVBoxLayout, QWidget

from zombrel.diagnose.step import StepSheet
from zombrel.diagnose.verdict import Rival
from zombrel.ui.session import Session
from zombrel.ui.widgets.marks import Mark
from zombrel.ui.widgets.paint import Panel
from zombrel.ui.widgets.parts import button, card, clear, label, row

SHOWN = 4
RARE = 0.05


class Side(QWidget):
    """What belongs to the step at work."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._body = QVBoxLayout(self)
        self._body.setSpacing(8)
        self._body.setContentsMargins(0, 0, 6, 0)

    def show_step(
        self,
        step: StepSheet,
        ranked: Sequence[Rival],
        explain: Callable[[], None] | None = None,
    ) -> None:
        """Show what belongs to ``step``; ``explain`` leads to what explains its readings."""
        body, s = self._body, self._session
        clear(body)
        caution = Panel("caution")
        line = row(Mark("watch", 18), label(step.caution, "", wrap=True), spacing=10)
        line.setStretch(1, 1)
        line.setContentsMargins(12, 10, 12, 10)
        caution.setLayout(line)
        caution.setAccessibleName(f"Caution: {step.caution}")
        body.addWidget(caution)
        if explain is not None:
            body.addWidget(button("What explains it   W", explain, "primary"))
        if ranked or step.otherwise:
            body.addWidget(label("If it is not so", "head"))
        if step.otherwise:
            body.addWidget(label(step.otherwise, "", wrap=True))
        if step.leaves:
            words = s.words(f"It does not prove {step.leaves}")
            body.addWidget(label(words, "small", wrap=True))
        for rival in ranked[:SHOWN]:
            body.addWidget(self._rival(rival, s.words))
        body.addStretch(1)

    @staticmethod
    def _rival(rival: Rival, words_of: Callable[[str], str]) -> QWidget:
        frame, inner = card(margins=9)
        inner.addWidget(label(words_of(rival.cause), "strong13", wrap=True))
        inner.addWidget(label(words_of(f"Would show {rival.shows}."), "small", wrap=True))
        test = f"Test: {rival.test}{'' if rival.test.endswith('?') else '.'}"
        inner.addWidget(label(words_of(test), "quiet", wrap=True))
        words = "less than 1 in 20" if rival.share < RARE else f"{rival.share * 10:.0f} in 10"
        inner.addWidget(label(words, "petrol"))
        return frame
