"""``seal``: sign a job off, or write what was signed."""

from __future__ import annotations

import argparse
import json
from datetime import datetime
from pathlib import Path

from zombrel.behaviour.suppose import usual
from zombrel.calc.job import open_job
from zombrel.catalog import is_shipped
from zombrel.cli.parser import add_out, free
from zombrel.findings.assess import assess
from zombrel.findings.seals import seal as seal_of
from zombrel.job.edits import apply
from zombrel.job.model import Job
from zombrel.job.problem import Problem
from zombrel.store.seals import keep, sealed
from zombrel.store.zjob import save


def declare(parser: argparse.ArgumentParser) -> None:
    """What it takes."""
    parser.add_argument("job", metavar="JOB.zjob", help="the job's own file")
    parser.add_argument("--by", metavar="NAME", default="", help="who signs")
    parser.add_argument("--because", metavar="WORDS", default="", help="why, if something is open")
    add_out(parser, "zjob", required=False)


def run(asked: argparse.Namespace) -> int:
    """Sign a job off in its own file, or write what was signed last; prints the seal."""
    if asked.out:
        return _written(asked)
    path = Path(asked.job)
    if is_shipped(path):
        raise Problem(f"{path} belongs to the program: save the job elsewhere, and sign that.")
    if not path.is_file():
        raise Problem(f"{path} is no job file: the seal goes into the job's own file.")
    job = open_job(asked.job)
    who, reason = asked.by, asked.because
    when = datetime.now().strftime("%Y-%m-%d %H:%M")
    assessment = assess(job, usual(job.vehicle))
    made, edit = seal_of(job, assessment, keep(job), who, when, reason)
    save(apply(job, edit), path)
    told = {"seal": made.content, "who": made.who, "when": made.when}
    told |= {"against": list(made.against), "reason": made.reason or None}  # type: ignore[dict-item]
    print(json.dumps(told, ensure_ascii=False))
    return 0


def _written(asked: argparse.Namespace) -> int:
    """The job as it was signed off last, as a file of its own."""
    out = free(asked.out, asked.force)
    job = open_job(asked.job)
    save(last_signed(job), out)
    print(json.dumps({"seal": job.seals[-1].content, "out": str(out)}, ensure_ascii=False))
    return 0


def last_signed(job: Job) -> Job:
    """The job as it was signed off last.

    Raises:
        Problem: nobody has.
    """
    if not job.seals:
        raise Problem("Nobody has signed this job off yet: there is nothing to compare it with.")
    return sealed(job.seals[-1])
