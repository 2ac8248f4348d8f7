"""Which ground wires a device or a sender stands on.

How far that lifts them is worked out with everything else, in ``signals.circuit``.
"""

from __future__ import annotations

from zombrel.job.follow.query import query
from zombrel.job.follow.view import plain
from zombrel.job.model import Chain, Job, index
from zombrel.job.source import BoxOutput, Source
from zombrel.signals.supply import all_ends


@query
def grounds(job: Job) -> dict[str, tuple[str, ...]]:
    """Ids of the ground wires of each device, by its id."""
    found: dict[str, tuple[str, ...]] = {}
    joined = plain(all_ends(job))
    for wire in job.wires:
        if wire.carries != "ground":
            continue
        e = joined[wire.id]
        if e.device is not None and e.supply is not None:
            found[e.device.id] = (*found.get(e.device.id, ()), wire.id)
    return found


def returns(job: Job, chain: Chain, source: Source) -> tuple[str, ...]:
    """Ids of the ground wires a chain's source stands on."""
    wires = index(job.wires)
    own = tuple([w for w in chain.wires if w in wires and wires[w].carries == "ground"])
    if own:
        return own
    spec = source.spec
    return grounds(job).get(spec.device, ()) if isinstance(spec, BoxOutput) else ()
