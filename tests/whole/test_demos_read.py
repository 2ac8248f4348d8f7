"""What each demo job says once it is settled, in plain text: to be read, and read again when it
changes.

``0412.txt`` and the others beside this hold what a reader would check: every signal with its truth
and what the device reads, in two states; what is found in the job as it ships; every proof step
with what must be seen. No sentences stand in them, so that words can be mended freely.
``python -m tests.whole.test_demos_read`` writes them anew, to be read in the diff.
"""

from __future__ import annotations

import math
import unittest
from collections.abc import Iterator
from pathlib import Path

from tests.findings.planting import settled
from zombrel.behaviour.suppose import named, usual
from zombrel.catalog import DEMO
from zombrel.diagnose.steps import steps
from zombrel.findings.assess import assess
from zombrel.job.model import Job
from zombrel.job.quantity import QUANTITIES
from zombrel.job.state import State
from zombrel.store.zjob import load
from zombrel.units import METRIC
from zombrel.units.measure import unit, value_in

HERE = Path(__file__).parent
JOBS = ("0412", "0413", "0409")


def figure(quantity: str, value: float) -> str:
    """A figure to four digits in the unit a user sees."""
    kind = QUANTITIES[quantity].kind
    shown = value_in(kind, value, METRIC)
    return "nothing" if math.isnan(shown) else f"{shown:.4g} {unit(kind, METRIC)}".strip()


def read(number: str) -> str:
    """The record of a job."""
    raw, job = load(DEMO / f"{number}.zjob"), settled(number)
    lines = [f"Job {number}"]
    lines += ["", "Found as it ships"]
    found = assess(raw, usual(raw.vehicle)).findings
    lines += [f"  {f.level:<8} {f.harm:>3.0f}  {f.id}" for f in found]
    lines += ["", "Left once it is settled"]
    left = assess(job, usual(job.vehicle)).findings
    lines += [f"  {f.level:<8} {f.harm:>3.0f}  {f.id}" for f in left]
    states = dict(named(job.vehicle))
    for name in ("Idle", "70 on the flat"):
        lines += ["", f"Read once it is settled, {name}", *readings(job, states[name])]
    lines += ["", "Proof once it is settled"]
    for step in steps(job):
        lines.append(f"  {step.id}{', gate' if step.gate else ''}")
        lines += [f"      {f.name}: {f.low:.4g} to {f.high:.4g}" for f in step.fields]
    return "\n".join(lines) + "\n"


def readings(job: Job, state: State) -> Iterator[str]:
    """A line for each signal."""
    seen = assess(job, state)
    for chain in job.chains:
        r = seen.chain(chain.id)
        true, shown = (figure(chain.quantity, x) for x in (r.true, r.shown))
        yield f"  {chain.id:<16} {true:>12} reads {shown}"


class Demos(unittest.TestCase):
    maxDiff = None

    def test_each_reads_as_it_did(self) -> None:
        for number in JOBS:
            with self.subTest(number):
                kept = (HERE / f"{number}.txt").read_text(encoding="utf-8")
                self.assertEqual(read(number), kept)


if __name__ == "__main__":
    for number in JOBS:
        (HERE / f"{number}.txt").write_text(read(number), encoding="utf-8")
