"""``seal`` and ``diff``: sign a job off, and say fact by fact what differs."""

from __future__ import annotations

import json
from collections.abc import Sequence
from datetime import datetime
from pathlib import Path

from zombrel.behaviour.suppose import usual
from zombrel.calc.job import open_job
from zombrel.cli.option import option
from zombrel.findings.assess import assess
from zombrel.findings.seals import bare
from zombrel.findings.seals import seal as seal_of
from zombrel.job.differences import differences
from zombrel.job.edits import apply
from zombrel.job.model import Job
from zombrel.job.problem import Problem
from zombrel.store.seals import keep, sealed
from zombrel.store.zjob import save
from zombrel.units import METRIC
from zombrel.units import words as words_in

SEAL = "seal JOB.zjob --by NAME [--because WORDS], or seal JOB.zjob --out F.zjob"
DIFF = "diff A B, or diff JOB for what has changed since it was signed off last"
MOST = 10_000


def seal(argv: Sequence[str]) -> int:
    """Sign a job off in its own file, or write what was signed last; prints the seal."""
    words = list(argv)
    out = option(words, "--out", SEAL)
    if out:
        return _written(words, Path(out))
    who, reason = option(words, "--by", SEAL), option(words, "--because", SEAL)
    if len(words) != 1 or not Path(words[0]).is_file():
        raise Problem(f"{SEAL}: the seal goes into the job's own file.")
    path = Path(words[0])
    job = open_job(words[0])
    when = datetime.now().strftime("%Y-%m-%d %H:%M")
    assessment = assess(job, usual(job.vehicle))
    made, edit = seal_of(job, assessment, keep(job), who, when, reason)
    save(apply(job, edit), path)
    told = {"seal": made.content, "who": made.who, "when": made.when}
    told |= {"against": list(made.against), "reason": made.reason or None}  # type: ignore[dict-item]
    print(json.dumps(told, ensure_ascii=False))
    return 0


def _written(words: list[str], out: Path) -> int:
    """The job as it was signed off last, as a file of its own; never over another."""
    if len(words) != 1:
        raise Problem(f"usage: {SEAL}.")
    if out.exists():
        raise Problem(f"{out} is there already: name another file.")
    job = open_job(words[0])
    save(_last(job), out)
    print(json.dumps({"seal": job.seals[-1].content, "out": str(out)}, ensure_ascii=False))
    return 0


def diff(argv: Sequence[str]) -> int:
    """What differs between two jobs, or from what was signed off."""
    words = list(argv)
    if not words or len(words) > 2 or any(w.startswith("--") for w in words):  # noqa: PLR2004
        raise Problem(f"usage: {DIFF}.")
    new = open_job(words[-1])
    old = open_job(words[0]) if len(words) > 1 else _last(new)
    # that it was signed changes no fact
    first, second = (bare(x) for x in (old, new))
    found = [words_in(line, METRIC) for line in differences(first, second, MOST)]
    print(json.dumps(found, ensure_ascii=False, indent=1))
    return 0


def _last(job: Job) -> Job:
    if not job.seals:
        raise Problem("Nobody has signed this job off yet: there is nothing to compare it with.")
    return sealed(job.seals[-1])
