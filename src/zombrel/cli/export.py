"""``export``: wire list, cut list, pins, labels, drawing, parts and plan as files."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date
from pathlib import Path

from zombrel.behaviour.suppose import usual
from zombrel.calc.job import open_job
from zombrel.cli.option import paper
from zombrel.findings.assess import assess
from zombrel.handover.files import KINDS, make
from zombrel.job.problem import Problem
from zombrel.store.atomic import write_atomically

FLAGS = {f"--{k.name}": k for k in KINDS}
USAGE = (
    "export JOB --wires F.csv --cuts F.csv --pins F.csv --labels F.pdf --drawing F.svg "
    "--parts F.csv --plan F.ics --leads F.pdf --faces F.pdf --compare F.pdf "
    "[--paper A4|Letter] [--force]; JOB is a file or demo, "
    "tables may end in .json; drawing, labels, build sheets of leads and faces in .svg or .pdf"
)


def export(argv: Sequence[str]) -> int:
    """Write the files asked for: all of them, or, when one cannot be made, none."""
    words = [a for a in argv if a != "--force"]
    units = paper(words, USAGE)
    job_word, targets = _read(words)
    job = open_job(job_word)
    for path in targets.values():
        if path.exists() and "--force" not in argv:
            raise Problem(f"{path} exists already; give --force to write over it.")
        if not path.parent.is_dir():
            raise Problem(f"There is no folder {path.parent}; make it first.")
    assessment = assess(job, usual(job.vehicle))
    written = {
        path: make(FLAGS[flag].name, _ending(path), job, assessment, date.today(), units)
        for flag, path in targets.items()
    }
    for path, data in written.items():
        write_atomically(path, data)
        print(path)
    return 0


def _ending(path: Path) -> str:
    return path.suffix.lower().removeprefix(".")


def _read(words: list[str]) -> tuple[str, dict[str, Path]]:
    targets: dict[str, Path] = {}
    job, i = "", 0
    while i < len(words):
        word = words[i]
        if word in FLAGS:
            if i + 1 >= len(words) or words[i + 1].startswith("--"):
                raise Problem(f"{word} needs a file name: {USAGE}.")
            path, kind = Path(words[i + 1]), FLAGS[word]
            if _ending(path) not in kind.endings:
                wanted = " or ".join(f".{e}" for e in kind.endings)
                raise Problem(f"{word} writes {wanted}, not “{path.name}”.")
            if path in targets.values() or word in targets:
                raise Problem(f"{word} {path} is given twice.")
            targets[word] = path
            i += 2
            continue
        if word.startswith("--") or job:
            raise Problem(f"“{word}” is not understood: {USAGE}.")
        job = word
        i += 1
    if not job or not targets:
        raise Problem(USAGE)
    return job, targets
