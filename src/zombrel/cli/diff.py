"""``diff``: what differs between two jobs, fact by fact."""

from __future__ import annotations

import argparse

from zombrel.calc.job import open_job
from zombrel.cli.parser import add_job, say
from zombrel.cli.seal import last_signed
from zombrel.findings.seals import bare
from zombrel.job.differences import differences
from zombrel.units import METRIC, words

MOST = 10_000


def declare(parser: argparse.ArgumentParser) -> None:
    """What it takes."""
    add_job(parser)
    other = "the newer job; without it, what has changed since JOB was signed off"
    parser.add_argument("other", nargs="?", metavar="OTHER", help=other)


def run(asked: argparse.Namespace) -> int:
    """What differs between two jobs, or from what was signed off."""
    new = open_job(asked.other or asked.job)
    old = open_job(asked.job) if asked.other else last_signed(new)
    # that it was signed changes no fact
    first, second = (bare(x) for x in (old, new))
    found = [words(line, METRIC) for line in differences(first, second, MOST)]
    return say(found)
