"""``report``: a job's papers without a window."""

from __future__ import annotations

import argparse
from datetime import date
from pathlib import Path

from zombrel.actions.begin import name_of
from zombrel.behaviour.suppose import usual
from zombrel.calc.job import open_job
from zombrel.cli.parser import add_force, add_job, add_paper, free, on_paper
from zombrel.findings.assess import assess
from zombrel.handover.files import every_file, make
from zombrel.intake.name import file_name
from zombrel.job.problem import Problem
from zombrel.store.atomic import write_atomically
from zombrel.store.folder import write_folder
from zombrel.store.photos import pictures

PAPERS = {"owner": "owner", "dossier": "dossier", "html": "dossier", "pdf": "dossier"}
"""Options, and the paper each writes."""


def declare(parser: argparse.ArgumentParser) -> None:
    """What it takes."""
    add_job(parser)
    parser.add_argument("--owner", metavar="F.pdf", help="the owner's page, .pdf or .html")
    parser.add_argument("--dossier", metavar="F.pdf", help="the dossier, .pdf or .html")
    parser.add_argument("--html", metavar="F", help="the dossier as HTML")
    parser.add_argument("--pdf", metavar="F", help="the dossier as PDF")
    parser.add_argument("--all", metavar="FOLDER", help="every paper, into a new folder in it")
    add_paper(parser)
    add_force(parser)


def run(asked: argparse.Namespace) -> int:
    """Write the owner's page, the installer's dossier, or everything: all asked for, or nothing."""
    given = {name: word for name in PAPERS if (word := getattr(asked, name))}
    if not given and not asked.all:
        raise Problem("report wants a paper to write: --owner, --dossier, --html, --pdf or --all.")
    job, units = open_job(asked.job), on_paper(asked)
    targets = {name: free(word, asked.force) for name, word in given.items()}
    if len(set(targets.values())) < len(targets):
        raise Problem("report: two papers would go into one file; give each its own.")
    assessment, today = assess(job, usual(job.vehicle)), date.today()
    seen = pictures(job)
    made = {
        path: make(PAPERS[name], _form(name, path), job, assessment, today, units, seen)
        for name, path in targets.items()
    }
    if asked.all:
        folder = Path(asked.all) / file_name(name_of(job), "")
        files = every_file(job, assessment, today, units, seen)
        write_folder(folder, files)
        for name in files:
            print(folder / name)
    for path, data in made.items():
        write_atomically(path, data)
        print(path)
    return 0


def _form(name: str, path: Path) -> str:
    """HTML or PDF, by the option or by the ending."""
    return name if name in ("html", "pdf") else path.suffix.casefold().removeprefix(".")
