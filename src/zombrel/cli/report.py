"""``report``: print a job to HTML and PDF without a window."""

from __future__ import annotations

import os
from collections.abc import Sequence
from datetime import date
from pathlib import Path

from zombrel.behaviour.suppose import usual
from zombrel.calc.job import open_job
from zombrel.findings.assess import assess
from zombrel.handover.report import report_html
from zombrel.job.problem import Problem
from zombrel.store.atomic import write_atomically


def report(argv: Sequence[str]) -> int:
    """Write the hand-over sheet of a job."""
    words = [a for a in argv if a != "--force"]
    job_word, targets = _read(words)
    job = open_job(job_word)
    assessment = assess(job, usual(job.vehicle))
    html = report_html(job, assessment)
    for path in targets.values():
        if path.exists() and "--force" not in argv:
            raise Problem(f"{path} exists already; give --force to write over it.")
    if "--html" in targets:
        write_atomically(targets["--html"], html.encode())
    if "--pdf" in targets:
        os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
        from zombrel.ui.handover.paper import pdf_bytes

        write_atomically(targets["--pdf"], pdf_bytes(html))
    if "--owner" in targets:
        from zombrel.handover.files import make

        path = targets["--owner"]
        ending = path.suffix.casefold().removeprefix(".")
        write_atomically(path, make("owner", ending, job, assessment, date.today(), _no_sheets))
    for path in targets.values():
        print(path)
    return 0


def _no_sheets(pages: object) -> bytes:
    """The owner's page is no drawing: nothing is painted by Qt."""
    raise Problem("This paper has no drawn sheets.")


def _read(words: list[str]) -> tuple[str, dict[str, Path]]:
    usage = "report JOB --html F --pdf F --owner F.pdf|F.html [--force]; JOB is a file or demo"
    targets: dict[str, Path] = {}
    job = ""
    i = 0
    while i < len(words):
        word = words[i]
        if word in ("--html", "--pdf", "--owner"):
            if i + 1 >= len(words):
                raise Problem(f"{word} needs a file name: {usage}.")
            targets[word] = Path(words[i + 1])
            i += 2
            continue
        if word.startswith("--") or job:
            raise Problem(f"“{word}” is not understood: {usage}.")
        job = word
        i += 1
    if not job or not targets:
        raise Problem(usage)
    return job, targets
