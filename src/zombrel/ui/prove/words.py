"""Words about a step: its answers, what was seen last, why it expects what it does."""

from __future__ import annotations

from PySide6.QtWidgets import QWidget

from zombrel.diagnose.rests import changed_since
from zombrel.diagnose.step import StepSheet, said
from zombrel.job.model import Proof
from zombrel.job.reason import Given, Reason
from zombrel.ui.session import Session
from zombrel.ui.widgets.why import show_why


def answers_of(step: StepSheet) -> tuple[str, str]:
    """The words of the two answers."""
    yes = [f for f in step.fields if f.yes]
    if step.fields and len(yes) == len(step.fields) and step.table:
        return ("It acts", "It does not") if yes[0].low else ("It does not act", "It acts")
    return "As expected", "Otherwise"


def last_words(session: Session, last: Proof, step: StepSheet) -> str:
    """What came of it last, and what has changed since."""
    labels = {f.name: f for f in step.fields}
    seen = ", ".join(
        f"{labels[x.name].label} {said(x.value, labels[x.name].unit)}"
        for x in last.seen
        if x.name in labels
    )
    moved = changed_since(session.job, last)
    stale = f" Changed since: {'; '.join(moved[:4])}." if moved else ""
    left = f" {last.note}." if last.verdict == "not reached" and last.note else ""
    return session.words(
        f"Last time, {last.when or 'undated'}: {last.verdict}. {seen}.{left}{stale}"
    )


def why(session: Session, step: StepSheet, over: QWidget) -> None:
    """How what is expected came about."""
    given = tuple(Given(name=f.label, value=f.expect, known=f.because) for f in step.fields)
    show_why(
        Reason(
            title=step.short,
            result=step.blocked or "what is expected, from the job’s facts",
            formula=step.formula,
            given=given,
            source=step.source,
            assumption="the facts stay as they are; a change makes the proof stale",
        ),
        over,
        session.units,
    )
