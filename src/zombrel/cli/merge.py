"""``merge``: put together what two did since they had one job."""

from __future__ import annotations

import argparse

from zombrel.book.merge import merge
from zombrel.calc.job import open_job
from zombrel.cli.parser import add_job, add_out, free, say
from zombrel.job.problem import Problem
from zombrel.store.zjob import save
from zombrel.units import METRIC, words


def declare(parser: argparse.ArgumentParser) -> None:
    """What it takes."""
    for name in ("base", "theirs", "mine"):
        add_job(parser, name)
    add_out(parser, "zjob")


def run(asked: argparse.Namespace) -> int:
    """Write both together; what two changed differently is told."""
    out = free(asked.out, asked.force)
    found = merge(*(open_job(word) for word in (asked.base, asked.theirs, asked.mine)))
    if found.whole:
        raise Problem(found.whole)
    save(found.job, out)
    return say({"written": asked.out, "apart": [words(a.words, METRIC) for a in found.apart]})
