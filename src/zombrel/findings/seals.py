"""Signing a job off: sealed as it is, by whom, and why where something stands against it."""

from __future__ import annotations

import msgspec

from zombrel.actions.parts import free_name
from zombrel.findings.against import against
from zombrel.findings.finding import Assessment
from zombrel.job.edits import Add, Edit
from zombrel.job.model import Job, index
from zombrel.job.problem import Problem
from zombrel.job.seal import Seal
from zombrel.units import METRIC, words

SHORT = 12
"""So much of a seal is said."""


def seal(
    job: Job, assessment: Assessment, content: str, who: str, when: str, reason: str = ""
) -> tuple[Seal, Edit]:
    """The seal on a job whose ``content`` was kept, and the edit that adds it.

    Raises:
        Problem: nobody signs, or something stands against it and nobody says why nevertheless.
    """
    if not who.strip():
        raise Problem("Say who signs it off.")
    if job.seals and job.seals[-1].content == content:
        last = job.seals[-1]
        raise Problem(f"Nothing has changed since {last.who} signed it off, {last.when}.")
    found = tuple(words(x, METRIC) for x in against(job, assessment))
    if found and not reason.strip():
        raise Problem(
            f"It must not be handed over yet: {found[0]} Mend that, or say why it goes out "
            "nevertheless."
        )
    made = Seal(
        id=free_name("S1", index(job.seals)),
        content=content,
        who=who.strip(),
        when=when,
        against=found[:40],
        reason=reason.strip() if found else "",
    )
    return made, Add(path="seals", value=msgspec.to_builtins(made))
