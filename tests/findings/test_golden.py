"""One golden finding for every rule: what triggers it, what it says and weighs, what mends it.

The figures are kept in ``golden.json`` beside this file; ``python -m tests.findings.test_golden``
writes it anew from the rules as they are, to be read before it is committed.
"""

from __future__ import annotations

import functools
import json
import sys
import unittest
from collections.abc import Callable
from pathlib import Path
from typing import Any

import msgspec

from tests.demo import Many, Remove, apply, at, demo, put, whole
from tests.findings.planted import PLANTED
from tests.findings.planting import planted
from tests.findings.test_harness_rules import CASES as WIRING
from tests.findings.test_roadwork import with_run
from tests.findings.test_sensor_rules import CASES as SENSING
from zombrel.diagnose.record import prove
from zombrel.diagnose.steps import steps
from zombrel.findings.finding import Finding
from zombrel.findings.rule import RULES
from zombrel.job.model import Job
from zombrel.units import Units, words

GOLDEN = Path(__file__).with_name("golden.json")


def failed() -> Job:
    """The brake step was tried and failed."""
    step = next(s for s in steps(whole()) if s.gate)
    seen = {"rest": 7.0, "pressed": 12.6}
    return apply(whole(), prove(whole(), step, "fail", seen, "", "today"))


def without_box() -> Job:
    """No spark box, so that the coil is a plain one."""
    gone = (
        "chains.tach-hub",
        "chains.pick-spark",
        "chains.arm-spark",
        "sources.s4out",
        "devices.spark",
    )
    return apply(demo(), Many(edits=tuple(Remove(path=p) for p in gone)))


MORE: dict[str, Callable[[], Job]] = {
    "missing facts": lambda: put(demo(), "vehicle.cylinders", None),
    "incomplete": lambda: put(demo(), "vehicle.tyre", ""),
    "proof state": failed,
    "road says": lambda: with_run(whole()),
    "no signal": lambda: put(demo(), "devices.blend.sheet.inputs.SENDER.pull_up_ohm", 0.0),
    "overvoltage": without_box,
    "loading": lambda: put(demo(), "devices.pace.sheet.inputs.SPEED.input_ohm", 500.0),
    "unconnected": lambda: apply(demo(), Remove(path="chains.speed-pace")),
    "overruled": lambda: put(demo(), "chains.speed-pace.over", "Left rear tone ring"),
    "terminal misfits": lambda: put(demo(), "connectors.D2.family", "AR 2.8 sealed"),
    "kit lacks": lambda: put(demo(), "kit", [{"id": "device: Pace unit", "count": 1}]),
    "lead colour misleads": lambda: put(demo(), "devices.pace.sheet.leads", [["POWER", "red"]]),
    "level": lambda: put(demo(), "sources.ring.spec.volts_per_hz", 0.0004),
}
UNVEILS = {
    "wrong end": "a signal that is joined again reads, and shows that its ground is lifted",
    "road says": "what the road found of the source shows that the hub is off as well",
    "satellite loop": "the lead of the better source was there before, and passes a coil",
    "no signal": "the reader reads again, and shows that the ground of its output is lifted",
    "place does not suit": "where it is mounted now its ground wire is longer",
    "wrong class": "the feed is another class than was noted, so what hangs on it is fed wrongly",
}
"""Mends after which something else can be seen that was hidden before."""


@functools.cache
def examples() -> dict[str, tuple[Job, Finding]]:
    """For each rule a job in which it speaks, and what it says first there."""
    found: dict[str, tuple[Job, Finding]] = {}
    jobs = [*(make() for make in MORE.values()), *(c[1] for c in (*WIRING, *SENSING))]
    for job in (*jobs, *map(planted, PLANTED)):
        if set(found) == set(RULES):
            break
        for finding in at(job).findings:
            found.setdefault(finding.rule, (job, finding))
    return found


def rounded(value: Any) -> Any:
    """With figures to nine digits: the last of what was fitted differ between machines."""
    if isinstance(value, float):
        return float(f"{value:.9g}")
    if isinstance(value, dict):
        return {k: rounded(v) for k, v in value.items()}
    return [rounded(v) for v in value] if isinstance(value, list) else value


def golden(job: Job, finding: Finding) -> dict[str, Any]:
    """What is kept of a finding, and what its first edit leaves behind."""
    before = {f.id for f in at(job).findings}
    edit = next((m.edit for m in finding.mends if m.edit is not None), None)
    after = before if edit is None else {f.id for f in at(apply(job, edit)).findings}
    kept = {k: getattr(finding, k) for k in ("id", "stage", "level", "harm", "minutes")}
    return kept | {
        "title": words(finding.title, Units()),
        "text": words(finding.text, Units()),
        "why": words(f"{finding.reason.result} | {finding.reason.formula}", Units()),
        "mends": [words(m.label, Units()) for m in finding.mends],
        "edit": None if edit is None else rounded(json.loads(msgspec.json.encode(edit))),
        "gone": sorted(before - after),
        "new": sorted(after - before),
    }


class Golden(unittest.TestCase):
    maxDiff = None

    def test_every_rule_speaks_somewhere(self) -> None:
        self.assertEqual(set(RULES) - set(examples()), set())
        self.assertEqual(set(examples()) - set(RULES), set())

    def test_what_it_says_weighs_and_mends(self) -> None:
        kept = json.loads(GOLDEN.read_text(encoding="utf-8"))
        self.assertEqual(set(kept), set(RULES))
        for rule, (job, finding) in examples().items():
            with self.subTest(rule):
                self.assertEqual(golden(job, finding), kept[rule])

    def test_its_mend_settles_it_and_makes_nothing_new(self) -> None:
        for rule, (job, finding) in examples().items():
            got = golden(job, finding)
            with self.subTest(rule):
                if got["edit"] is None:
                    self.assertTrue(all(m.go for m in finding.mends))
                    continue
                self.assertIn(finding.id, got["gone"])
                if rule not in UNVEILS:
                    self.assertEqual(got["new"], [])


if __name__ == "__main__":
    text = {rule: golden(*examples()[rule]) for rule in sorted(examples())}
    GOLDEN.write_text(json.dumps(text, indent=1, ensure_ascii=False) + "\n", encoding="utf-8")
    sys.exit()
