"""Jobs in which much is as in no demo job, so that nothing neutral hides what is done to it."""

from __future__ import annotations

import contextlib
import json
import random
from collections.abc import Iterator

from tests.findings.planted import PLANTED, SOUND
from tests.findings.planting import edit_of, settled
from tests.whole.record import kept
from zombrel.job.edits import Edit, Put, apply
from zombrel.job.model import Job
from zombrel.job.problem import Problem
from zombrel.job.validate import validate

STIRRED, ROWS, FACTS = 8, 12, 40
"""So many jobs; in each so many troubles and sound variants are planted, and facts changed."""


def stirred(name: str, raw: Job) -> Iterator[Job]:
    """So many, made of a demo job."""
    rows = [r for r in (*PLANTED, *SOUND) if r.job == name]
    told = json.loads(kept(name).read_text(encoding="utf-8"))["changed"]
    for turn in range(STIRRED):
        dice = random.Random(f"{name} stirred {turn}")
        job = raw if turn % 2 else settled(name)
        edits: list[Edit] = [edit_of(r.facts) for r in dice.sample(rows, ROWS)]
        edits += [Put(path=c["path"], value=c["value"]) for c in dice.sample(told, FACTS)]
        for edit in edits:
            with contextlib.suppress(Problem):
                job = validate(apply(job, edit))
        yield job
