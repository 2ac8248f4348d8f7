"""``report``: a job's papers without a window."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date
from pathlib import Path

from zombrel.actions.begin import name_of
from zombrel.behaviour.suppose import usual
from zombrel.calc.job import open_job
from zombrel.cli.option import paper
from zombrel.findings.assess import assess
from zombrel.handover.files import every_file, make
from zombrel.intake.name import file_name
from zombrel.job.problem import Problem
from zombrel.store.atomic import write_atomically
from zombrel.store.folder import write_folder
from zombrel.store.photos import pictures

PAPERS = {"--owner": "owner", "--dossier": "dossier", "--html": "dossier", "--pdf": "dossier"}
"""Flags, and the paper each writes; the ending says which form it takes."""
FORMS = {"--html": "html", "--pdf": "pdf"}
USAGE = (
    "report JOB --owner F.pdf|F.html --dossier F.pdf|F.html [--html F] [--pdf F] [--all FOLDER] "
    "[--paper A4|Letter] [--force]; JOB is a file or demo"
)


def report(argv: Sequence[str]) -> int:
    """Write the owner's page, the installer's dossier, or everything: all asked for, or nothing."""
    words = [a for a in argv if a != "--force"]
    units = paper(words, USAGE)
    job_word, given = _read(words)
    job = open_job(job_word)
    everything = given.pop("--all", "")
    for word in given.values():
        if Path(word).exists() and "--force" not in argv:
            raise Problem(f"{word} exists already; give --force to write over it.")
    assessment, today = assess(job, usual(job.vehicle)), date.today()
    seen = pictures(job)
    made = {}
    for flag, word in given.items():
        ending = FORMS.get(flag) or Path(word).suffix.casefold().removeprefix(".")
        made[Path(word)] = make(PAPERS[flag], ending, job, assessment, today, units, seen)
    if everything:
        folder = Path(everything) / file_name(name_of(job), "")
        files = every_file(job, assessment, today, units, seen)
        write_folder(folder, files)
        for name in files:
            print(folder / name)
    for path, data in made.items():
        write_atomically(path, data)
        print(path)
    return 0


def _read(words: list[str]) -> tuple[str, dict[str, str]]:
    given: dict[str, str] = {}
    job = ""
    i = 0
    while i < len(words):
        word = words[i]
        if word in (*PAPERS, "--all"):
            if i + 1 >= len(words):
                raise Problem(f"{word} needs a file name after it: {USAGE}.")
            given[word] = words[i + 1]
            i += 2
            continue
        if word.startswith("--") or job:
            raise Problem(f"“{word}” is not understood: {USAGE}.")
        job = word
        i += 1
    if not job or not given:
        raise Problem(USAGE)
    return job, given
