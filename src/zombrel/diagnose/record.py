"""The outcome of a proof step as an edit: the proof, and what it is evidence for."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Literal

import msgspec

from zombrel.diagnose.step import StepSheet
from zombrel.diagnose.steps import basis
from zombrel.job.edits import Add, Many, Put, apply
from zombrel.job.ledger import evidence, next_id
from zombrel.job.model import Job, Proof, Rest, Rung, Seen, index
from zombrel.units import RPM

Outcome = Literal["pass", "fail", "not reached"]


def prove(
    job: Job,
    step: StepSheet,
    verdict: Outcome,
    seen: Mapping[str, float],
    note: str,
    when: str,
    rests: tuple[Rest, ...] | None = None,
) -> Many:
    """Note how a step came out; a pass with numbers also goes into the ledger.

    ``rests``: what it was worked out of, where that is not one of ``steps``.
    """
    proof = Proof(
        id=next_id(job),
        step=step.id,
        verdict=verdict,
        seen=tuple(Seen(name=k, value=v) for k, v in seen.items()),
        basis=basis(job, step) if rests is None else rests,
        note=note,
        when=when,
    )
    edits: list[Add | Put] = [Add(path="proofs", value=msgspec.to_builtins(proof))]
    if step.kind == "bound" and verdict == "pass":
        edits += _bounds(seen)
    if verdict == "pass" and seen:  # a tick without a number proves nothing about a wire
        rung: Rung = "measured" if step.kind in ("volts", "bound") else "proven"
        for path in proves(job, step):
            line = evidence(
                apply(job, Many(edits=tuple(edits))), path, rung, f"{step.short}: {note}", when
            )
            assert isinstance(line, Add)  # a ledger line is always added
            edits.append(line)
    return Many(edits=tuple(edits))


BOUNDS = {"held": "vehicle.held_rps", "pushed": "vehicle.pushed_rps"}
"""Where a trial's figures [rpm] become facts [1/s]."""


def _bounds(seen: Mapping[str, float]) -> list[Add | Put]:
    """What was held and what pushed through, as facts: the setting follows them."""
    found: list[Add | Put] = []
    for name, path in BOUNDS.items():
        if name in seen:
            value = seen[name] * RPM
            found.append(Put(path=path, value=value))
    return found


def proves(job: Job, step: StepSheet) -> list[str]:
    """Facts that a passed step proves in operation: ends in the vehicle of the wires it tried."""
    if step.kind == "bound":
        return list(BOUNDS.values())
    wires = index(job.wires)
    if step.kind == "volts":
        tried = [w for w in job.wires if w.carries == "power"]
    else:
        chain = index(job.chains).get(step.chain)
        tried = [wires[w] for w in (chain.wires if chain is not None else ()) if w in wires]
    paths = [
        f"wires.{w.id}.{side}"
        for w in tried
        for side, end in (("a", w.a), ("b", w.b))
        if end.place not in index(job.devices)
    ]
    return [*paths, "vehicle.lamps"] if step.kind == "brake" else paths
