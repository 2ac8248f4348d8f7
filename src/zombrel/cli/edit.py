"""``edit``: a job edited by path, without a window."""

from __future__ import annotations

import argparse
import json
import math
import re
import sys
from collections.abc import Sequence
from datetime import datetime
from typing import Any

from zombrel.actions.parts import leave_out, remove_wire
from zombrel.actions.wires import put_length
from zombrel.behaviour.suppose import usual
from zombrel.calc.job import open_job
from zombrel.cli.parser import add_job, add_out, free
from zombrel.diagnose.record import Outcome, prove
from zombrel.diagnose.step import StepSheet, over_path
from zombrel.diagnose.steps import steps as proof_steps
from zombrel.diagnose.verdict import judge, seen_of
from zombrel.findings.assess import assess
from zombrel.findings.settle import settle
from zombrel.job.edits import Add, Edit, Many, Put, Remove, apply, fact
from zombrel.job.model import Job, by_id
from zombrel.job.problem import Problem
from zombrel.job.validate import validate
from zombrel.store.zjob import save
from zombrel.units import Units, words

_LENGTH = re.compile(r"wires\.([^.]+)\.length_m")
"""A length that is given is measured: it holds against the plan."""


class Step(argparse.Action):
    """``--set``, ``--remove`` and ``--prove``, kept in the order they are given."""

    def __call__(
        self,
        parser: argparse.ArgumentParser,
        namespace: argparse.Namespace,
        values: Any,
        option_string: str | None = None,
    ) -> None:
        """As ``argparse`` calls it."""
        path, value = (*values, None)[:2]
        if self.dest == "set":
            value = _json(path, value)
        namespace.steps = (*namespace.steps, (self.dest, path, value))


def declare(parser: argparse.ArgumentParser) -> None:
    """What it takes."""
    add_job(parser)
    parser.set_defaults(steps=())
    parser.add_argument("--settle", action="store_true", help="take every offered mend first")
    one: dict[str, Any] = {"action": Step, "default": argparse.SUPPRESS}
    put = "a fact, as vehicle.lamps '\"led\"'; may be given again"
    parser.add_argument("--set", nargs=2, metavar=("PATH", "JSON"), help=put, **one)
    gone = "a thing with what hangs on it, as wires.W3"
    parser.add_argument("--remove", nargs=1, metavar="PATH", help=gone, **one)
    seen = 'what was seen at a proof step of “calc steps”: "12.5", "0.1,12.4", yes or no'
    parser.add_argument("--prove", nargs=2, metavar=("STEP", "SEEN"), help=seen, **one)
    add_out(parser, "zjob")


def run(asked: argparse.Namespace) -> int:
    """Edit a job and write it; nothing is written when any of it fails."""
    if not asked.out.endswith(".zjob"):
        raise Problem(f"edit: --out is a job file; call it {asked.out}.zjob.")
    job = open_job(asked.job)
    out = free(asked.out, asked.force)
    if asked.settle:
        job, said = settle(job)
        for line in said:
            print(words(f"settled: {line}", Units()), file=sys.stderr)
    for what, path, value in asked.steps:
        try:
            edited = _proved(job, path, value) if what == "prove" else _step(job, what, path, value)
            job = apply(job, edited)
        except Problem as problem:
            raise Problem(f"edit, {path}: {problem}") from None
    try:
        # only the whole must hold together: one step may mend what another breaks
        job = validate(job)
    except Problem as problem:
        paths = ", ".join(path for _, path, _ in asked.steps)
        raise Problem(f"edit, after {paths}: {problem}") from None
    save(job, out)
    print(out)
    return 0


def _step(job: Job, what: str, path: str, value: Any) -> Edit:
    if what == "remove":
        return _removed(job, path)
    length = _LENGTH.fullmatch(path)
    wire = by_id(job.wires, length[1]) if length else None
    if wire is not None and isinstance(value, int | float) and value >= 0:
        return put_length(wire, value)
    head, _, name = path.rpartition(".")
    try:
        fact(job, path)
    except Problem:
        held = fact(job, head) if head else None
        if not isinstance(held, tuple):
            raise
        # a new item of a list, under the name that the path gives it
        fresh = {"id": name, **value} if isinstance(value, dict) and "pin" not in value else value
        return Add(path=head, value=fresh)
    return Put(path=path, value=value)


def _proved(job: Job, key: str, text: str) -> Edit:
    """What was seen at a step, judged as the window judges it."""
    step = next((s for s in proof_steps(job) if s.id == key), None)
    if step is None:
        raise Problem("there is no such step; “calc steps job=…” lists them.")
    seen = assess(job, usual(job.vehicle))
    shut = step.blocked or (seen.engine_lock if step.running else "")
    if shut:
        raise Problem(words(shut, Units()))
    when = datetime.now().strftime("%Y-%m-%d %H:%M")
    said = text.strip().lower()
    if said in ("yes", "no") and not step.fields:
        outcome: Outcome = "pass" if said == "yes" else "fail"
        return prove(job, step, outcome, {}, "as expected" if said == "yes" else "not so", when)
    told = [word for word in text.split(",") if word.strip()]
    read = [
        figure_of(word) if path is None else path
        for word, path in zip(told, _paths(step, told), strict=True)
    ]
    values = seen_of(step, read)
    verdict = judge(job, step, values)
    print(words(f"{step.id}: {verdict.text}", Units()), file=sys.stderr)
    return prove(job, step, "pass" if verdict.passed else "fail", values, verdict.text, when)


def _paths(step: StepSheet, told: Sequence[str]) -> list[float | None]:
    """Which of what was seen were told as open, closed or ohms to ground, as volts [V]."""
    found = [over_path(f, word) for f, word in zip(step.fields, told, strict=False)]
    return found + [None] * (len(told) - len(found))


def figure_of(text: str) -> float:
    """A figure that was seen; yes and no count as 1 and 0.

    Raises:
        Problem: it is none.
    """
    said = {"yes": 1.0, "no": 0.0}.get(text.strip().lower())
    try:
        value = float(text) if said is None else said
    except ValueError:
        raise Problem(f"“{text.strip()}” is no figure: write 12.4, in the unit shown.") from None
    if not math.isfinite(value):
        raise Problem(f"“{text.strip()}” is no figure that can be seen.")
    return value


def _removed(job: Job, path: str) -> Edit:
    """A thing out of the job, with what cannot be without it, as in the window."""
    kind, _, key = path.partition(".")
    if kind == "wires" and by_id(job.wires, key) is not None:
        return remove_wire(job, key)
    if kind == "devices" and (device := by_id(job.devices, key)):
        return leave_out(job, device)
    if kind == "sources" and by_id(job.sources, key) is not None:
        cut = [Remove(path=f"chains.{c.id}") for c in job.chains if c.source == key]
        return Many(edits=(*cut, Remove(path=path)))
    return Remove(path=path)


def _json(path: str, text: str) -> Any:
    try:
        return json.loads(text)
    except ValueError:
        raise Problem(
            f"edit: the value for {path} is not JSON: {text}. Write numbers as 4.5, texts in "
            "quotes as '\"led\"', nothing as null."
        ) from None
