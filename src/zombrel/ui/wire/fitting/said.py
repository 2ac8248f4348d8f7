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
        mark = f.level if f.level != "note" else "open"
        told = session.words(f"{f.title}. {f.text}")
        words = label(told, f.level if f.level != "note" else "quiet", wrap=True)
        pills = [_pill(session, m) for m in f.mends if m.edit is not None]
        why = _why(session, f)
        line = row(Mark(mark, 18), words, *(() if pills else (why,)))
        line.setStretch(1, 1)
        into.addLayout(line)
        if pills:
            into.addLayout(row(*pills, why, 1, spacing=6))
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
