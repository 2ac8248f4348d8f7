"""Of the dossier: proofs with what was seen, the road, before and after."""

from __future__ import annotations

from collections.abc import Iterator

from zombrel.actions.logs import stale
from zombrel.actions.trials import name_of_trial
from zombrel.diagnose.gates import road_gate
from zombrel.diagnose.step import StepSheet
from zombrel.diagnose.steps import latest, standing, steps
from zombrel.findings.legs import WORDS, legs, sign_lacks
from zombrel.findings.roadwork import fit_run, proposal, stood_words
from zombrel.handover.compare_sheet import compared
from zombrel.handover.dossier.page import Block, Figure, Row, Table, Words
from zombrel.job.model import Job, RoadRun
from zombrel.job.problem import Problem
from zombrel.units import Units, number, speed_unit, speed_value

SAID = {"stale": "out of date: prove again"}


def proofs(job: Job) -> Iterator[Block]:
    """Each step that was tried: how it stands, what was seen, who and when; the others by name."""
    tried = [s for s in steps(job) if latest(job, s) is not None]
    if tried:
        rows = tuple(_proof(job, step) for step in tried)
        yield Table(("step", "stands", "seen", "when"), rows)
    left = ", ".join(s.short for s in steps(job) if latest(job, s) is None)
    if left:
        yield Words(f"Not tried yet: {left}.", "quiet")


def _proof(job: Job, step: StepSheet) -> Row:
    last = latest(job, step)
    assert last is not None  # the caller asks only for those
    labels = {f.name: f"{f.label} {{}} {f.unit}" for f in step.fields}
    yes = {f.name for f in step.fields if f.yes}
    left = last.note if last.verdict == "not reached" else ""
    seen = "; ".join(
        labels.get(s.name, s.name + " {}")
        .format(("no", "yes")[round(s.value)] if s.name in yes else f"{s.value:g}")
        .strip()
        for s in last.seen
    )
    stands = standing(job, step)
    when = " ".join(x for x in (last.when, last.by) if x)
    cells = (step.short, SAID.get(stands, stands), seen or left, when)
    return Row(cells, bad=stands != "passed")


def road(job: Job, units: Units) -> Iterator[Block]:
    """Gate, fits, legs, marks and trials; nothing where nothing was driven."""
    gate = road_gate(job)
    if gate and (job.road or any(x.state != "open" for x in legs(job))):
        yield Words(gate, "bad")
    for run in job.road:
        yield from _run(job, run, units)
    found = legs(job)
    if any(x.state != "open" for x in found):
        rows = tuple(
            Row((x.sheet.short, WORDS[x.state], x.said), bad=WORDS[x.state] != "went well")
            for x in found
        )
        yield Table(("leg", "stands", "said"), rows)
    marks = tuple(Row((x.name, f"{m.at_s:.1f} s", m.words)) for x in job.logs for m in x.marks)
    if marks:
        yield Table(("log", "at", "marked"), marks)
    for trial in job.trials:
        yield Words(name_of_trial(job, trial))
    signed = _signed(job)
    if signed:
        yield Words(signed, "strong")


def _run(job: Job, run: RoadRun, units: Units) -> Iterator[Block]:
    about = " ".join(x for x in (run.when, run.note) if x)
    yield Words(f"{run.name} {about}".strip(), "strong")
    set_to = stood_words(run.set_to, run.behind)
    try:
        fit = fit_run(run)
    except Problem as problem:
        yield Words(f"Device set to {set_to}. {problem}")
        return
    offset = number(speed_value(fit.offset, units), 1)
    slack = number(speed_value(fit.offset_error, units), 1)
    yield Words(
        f"Device set to {set_to}: scale {fit.scale:.4f} ({fit.scale_low:.4f} to "
        f"{fit.scale_high:.4f}, 95 %), offset {offset} ± {slack} {speed_unit(units)}, "
        f"{fit.used} points used, {fit.set_aside} set aside."
    )
    try:
        yield Words(proposal(job, run).text)
    except Problem as problem:
        yield Words(str(problem))


def _signed(job: Job) -> str:
    """Who signed the road test off, and whether that still holds."""
    outing = job.outing
    if not outing.signed:
        return ""
    lacks = sign_lacks(job, legs(job))
    by = f"Signed off by {outing.signed}, {outing.signed_when}."
    return f"{by} No longer whole: {lacks}" if lacks else by


def before_and_after(job: Job, units: Units) -> Iterator[Block]:
    """Every comparison that still holds."""
    for c in job.compared:
        if c.pulls and not stale(job, c):
            yield Figure(compared(c, units), f"Before and after: {c.why}")
