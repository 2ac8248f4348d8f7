"""``export``: wire list, cut list, pins, labels, drawing, parts and plan as files."""

from __future__ import annotations

import argparse
from datetime import date
from pathlib import Path

from zombrel.behaviour.suppose import usual
from zombrel.calc.job import open_job
from zombrel.cli.parser import add_force, add_job, add_paper, free, on_paper
from zombrel.findings.assess import assess
from zombrel.handover.files import KINDS, make
from zombrel.job.problem import Problem
from zombrel.store.atomic import write_atomically


def declare(parser: argparse.ArgumentParser) -> None:
    """What it takes."""
    add_job(parser)
    for kind in KINDS:
        endings = " or ".join(f".{e}" for e in kind.endings)
        named = f"F.{kind.endings[0]}"
        parser.add_argument(f"--{kind.name}", metavar=named, help=f"{kind.words}, {endings}")
    add_paper(parser)
    add_force(parser)


def run(asked: argparse.Namespace) -> int:
    """Write the files asked for: all of them, or, when one cannot be made, none."""
    given = {kind: Path(word) for kind in KINDS if (word := getattr(asked, kind.name))}
    if not given:
        raise Problem("export JOB wants a file to write, as --wires F.csv.")
    for kind, path in given.items():
        if _ending(path) not in kind.endings:
            wanted = " or ".join(f".{e}" for e in kind.endings)
            raise Problem(f"--{kind.name} writes {wanted}, not “{path.name}”.")
        if list(given.values()).count(path) > 1:
            raise Problem(f"{path} is given twice.")
    job, units = open_job(asked.job), on_paper(asked)
    targets = {free(path, asked.force): kind for kind, path in given.items()}
    assessment = assess(job, usual(job.vehicle))
    written = {
        path: make(kind.name, _ending(path), job, assessment, date.today(), units)
        for path, kind in targets.items()
    }
    for path, data in written.items():
        write_atomically(path, data)
        print(path)
    return 0


def _ending(path: Path) -> str:
    return path.suffix.lower().removeprefix(".")
