"""Rules about survey, proof and road, and how far each stage is."""

from __future__ import annotations

from collections.abc import Iterator

from zombrel.behaviour.questions import missing
from zombrel.diagnose.steps import count_steps, standing, steps
from zombrel.findings.finding import Finding, Mark, Mend, StageState
from zombrel.findings.roadwork import proposal
from zombrel.findings.rule import rule
from zombrel.findings.scene import Scene, given
from zombrel.job.ledger import at_least
from zombrel.job.model import Job
from zombrel.job.problem import Problem
from zombrel.job.reason import Reason
from zombrel.job.stages import STAGES, Stage

NAMED = 5
"""So many facts are named, the rest counted."""


@rule("job", "survey", harm=30)
def missing_facts(scene: Scene) -> Iterator[Finding]:
    """Facts of the vehicle that are still unknown."""
    unknown = missing(scene.job)
    if not unknown:
        return
    words = ", ".join(f.label.lower() for f in unknown[:NAMED])
    more = f" and {len(unknown) - NAMED} more" if len(unknown) > NAMED else ""
    yield Finding(
        id="missing",
        level="watch",
        title=f"{len(unknown)} fact{'s' if len(unknown) > 1 else ''} missing",
        text=f"Not known yet: {words}{more}.",
        minutes=2.0 * len(unknown),
        reason=Reason(
            title="Facts not known",
            result=str(len(unknown)),
            formula="needed and empty",
            given=tuple(given(f.label, "unknown") for f in unknown),
        ),
        mends=(Mend(label="Enter them", go=f"survey:{unknown[0].path}"),),
    )


@rule("job", "survey", harm=50, minutes=5)
def year_split(scene: Scene) -> Iterator[Finding]:
    """The vehicle lies at or after a model-year split: older documents mislead."""
    v = scene.job.vehicle
    if v.chassis is None or v.split_chassis is None or v.chassis < v.split_chassis:
        return
    for wire in scene.job.wires:
        for side, end in (("a", wire.a), ("b", wire.b)):
            path = f"wires.{wire.id}.{side}"
            if end.place in scene.connectors and not at_least(scene.job, path, "counted"):
                yield Finding(
                    id=f"split-{wire.id}",
                    level="watch",
                    title="This car is after the model-year split",
                    text=f"Chassis {v.chassis}, split at {v.split_chassis}. {v.split_note}",
                    reason=Reason(
                        title="Model-year split",
                        result="after the split",
                        formula="chassis number ≥ split",
                        given=(
                            given("chassis", str(v.chassis)),
                            given("split", str(v.split_chassis)),
                        ),
                    ),
                    mends=(Mend(label="Count the cavity", go=f"wire:{wire.id}"),),
                    wire=wire.id,
                )
                return


@rule("job", "prove", minutes=5)
def proof_state(scene: Scene) -> Iterator[Finding]:
    """Steps that failed, or whose proof no longer stands on the present facts."""
    for step in steps(scene.job) if scene.job.proofs else ():
        state = standing(scene.job, step)
        if state not in ("failed", "stale"):
            continue
        yield Finding(
            id=f"proof-{step.id}",
            level="trouble" if step.gate else "watch",
            title=f"{step.short}: {'failed' if state == 'failed' else 'prove it again'}",
            text="Something this proof rests on was changed since."
            if state == "stale"
            else "What was seen is not what this job should give.",
            harm=95 if step.gate else 45,
            reason=Reason(
                title=step.short,
                result=state,
                formula="a proof holds for the facts it was made on",
            ),
            mends=(Mend(label="Go to the step", go=f"prove:{step.id}"),),
            chain=step.chain,
        )


@rule("job", "road", harm=55, minutes=5)
def road_says(scene: Scene) -> Iterator[Finding]:
    """The newest road run asks for another setting."""
    for run in scene.job.road[-1:]:
        try:
            offer = proposal(scene.job, run)
        except Problem:
            continue
        if not offer.worth_it:
            continue
        yield Finding(
            id="road-setting",
            level="watch",
            title=f"The road says {offer.words}",
            text=offer.text,
            reason=offer.reason,
            mends=(Mend(label=f"Set {offer.words}", edit=offer.edit),),
            chain=offer.chain,
        )


def stage_states(scene: Scene, findings: tuple[Finding, ...], gate: str) -> tuple[StageState, ...]:
    """How far each stage is; ``gate`` why the road is locked."""
    worst: dict[Stage, str] = {}
    count: dict[Stage, int] = {}
    for finding in findings:
        count[finding.stage] = count.get(finding.stage, 0) + 1
        if finding.level == "trouble" or finding.stage not in worst:
            worst[finding.stage] = finding.level
    return tuple(_stage(scene, s, worst.get(s, ""), count.get(s, 0), gate) for s in STAGES)


EMPTY: dict[Stage, tuple[str, str]] = {
    "survey": ("devices", "nothing fitted yet"),
    "source": ("chains", "no signals yet"),
    "wire": ("wires", "no wires yet"),
    "set": ("devices", "no devices yet"),
    "prove": ("devices", "nothing to try yet"),
    "road": ("devices", "nothing to drive yet"),
    "handover": ("devices", "nothing to print yet"),
}
"""The list of the job that a stage is about, and what is said while it is empty."""


def _stage(scene: Scene, stage: Stage, worst: str, count: int, gate: str) -> StageState:
    listed, words = EMPTY[stage]
    if not getattr(scene.job, listed):
        return StageState(stage=stage, mark="open", words=words)
    if stage == "handover":
        return StageState(stage=stage, mark="open", words="can be printed")
    if stage == "road":
        return _road(scene.job, count, gate)
    if stage == "prove":
        return _prove(scene.job, worst)
    if count:
        return StageState(stage=stage, mark=_mark(worst), words=f"{count} to settle")
    return StageState(stage=stage, mark="good", words="settled")


def _road(job: Job, count: int, gate: str) -> StageState:
    if gate:
        return StageState(stage="road", mark="locked", words="locked")
    if not job.road:
        return StageState(stage="road", mark="open", words="may begin")
    if count:
        return StageState(stage="road", mark="watch", words=f"{count} to settle")
    return StageState(stage="road", mark="good", words="driven")


def _prove(job: Job, worst: str) -> StageState:
    total = count_steps(job)
    passed = sum(standing(job, s) == "passed" for s in steps(job)) if job.proofs else 0
    mark: Mark = "good" if passed == total > 0 else "open"
    words = f"{passed} of {total} proven"
    return StageState(stage="prove", mark=_mark(worst) if worst else mark, words=words)


def _mark(worst: str) -> Mark:
    return "trouble" if worst == "trouble" else "watch"
