"""A connector beside the others of its job: circuits in common, cavities one wire could join."""

from __future__ import annotations

from zombrel.harness.plugs import face
from zombrel.job.model import Job
from zombrel.job.wiring import Connector


def in_common(job: Job, c: Connector) -> list[str]:
    """What ``c`` has in common with each other connector; empty where that is nothing."""
    every = job.connectors
    found = [
        f"{m.circuit}: {m.a} and {m.b}; {m.advice}"
        for m in face.shared_circuits(every)
        if c.id in (m.a.partition(".")[0], m.b.partition(".")[0])
    ]
    for other in every:
        if other.id == c.id:
            continue
        kinds = face.two_kinds(c, other)
        if kinds:
            found.append(f"{other.id} has the same wires {kinds}")
        elif (pair := face.joinable(c, other)) is not None:
            found.append(
                f"one wire from {c.id}.{pair[0]} to {other.id}.{pair[1]} joins "
                f"{c.id} and {other.id}: both vacant"
            )
    return found
