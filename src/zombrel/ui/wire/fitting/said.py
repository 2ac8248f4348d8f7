"""What stands against a thing that is fitted: each finding with its mends."""

from __future__ import annotations

from functools import partial

from PySide6.QtWidgets import QBoxLayout

from zombrel.findings.finding import Finding, Mend
from zombrel.ui.session import Session
from zombrel.ui.widgets.marks import Mark
from zombrel.ui.widgets.paint import Pill
from zombrel.ui.widgets.parts import button, label, row
from zombrel.ui.widgets.why import show_why


def say_findings(
    into: QBoxLayout, session: Session, key: str, rules: tuple[str, ...], fine: str
) -> None:
    """Every finding of these rules about ``key``, or that there is none."""
    found = [f for f in session.assessment.findings if key in f.about and f.rule in rules]
    for f in found:
        words = label(session.words(f.text), f.level if f.level != "note" else "quiet", wrap=True)
        line = row(Mark(f.level if f.level != "note" else "open", 18), words)
        line.setStretch(1, 1)
        into.addLayout(line)
        pills = [_pill(session, m) for m in f.mends if m.edit is not None]
        into.addLayout(row(*pills, _why(session, f), 1, spacing=6))
    if not found and fine:
        line = row(Mark("good", 18), label(fine, "", wrap=True))
        line.setStretch(1, 1)
        into.addLayout(line)


def _pill(session: Session, mend: Mend) -> Pill:
    assert mend.edit is not None  # the caller's
    act = partial(session.do, session.words(mend.label), mend.edit)
    return button(session.words(mend.label), act, "primary")


def _why(session: Session, f: Finding) -> Pill:
    def show() -> None:
        show_why(f.reason, pill.window(), session.units)

    pill = button("Why?", show)
    return pill
