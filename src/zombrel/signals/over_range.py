"""A chain over its whole range: what it shows from end to end, and the settings that may serve it.

References: laws as in ``signals.law`` (rates) and ``signals.sense`` (senders), each with its own.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

from zombrel.calibrate.settings.setting import Choice, believed, choose
from zombrel.job.model import Chain, Device, Job
from zombrel.job.problem import Problem
from zombrel.job.quantity import group
from zombrel.job.sheet import InputSheet
from zombrel.job.source import Source
from zombrel.job.state import State
from zombrel.signals import law as laws
from zombrel.signals.chain_reading import DIVIDER_MAX, felt, port_of, ready, top_of
from zombrel.signals.following import given_by
from zombrel.signals.sense import strip_of

if TYPE_CHECKING:
    import numpy as np
    from numpy.typing import NDArray


def strip(
    job: Job, chain: Chain, source: Source, device: Device, state: State | None = None
) -> list[tuple[float, float]]:
    """The reading of a chain over its whole range, as corners (true, shown)."""
    if group(chain.quantity) == "sensed":
        whole = felt(job, chain.id)
        state = state or State()
        return strip_of(whole.sender, *whole.span, port_of(job, chain.id, state), state)
    rate = ready(job, chain.id).law
    return laws.corners(rate, top_of(chain, job.vehicle))


def sweep(
    job: Job, chain: Chain, source: Source, device: Device, points: int = 161
) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """True and shown at ``points`` places over the whole range of a rate chain, as arrays."""
    import numpy as np

    rate_law = ready(job, chain.id).law
    x = np.linspace(0.0, top_of(chain, job.vehicle), points)
    return x, laws.evaluate(laws.table([rate_law]), x[None, :]).shown[0]


def choices(
    job: Job, chain: Chain, source: Source, sheet: InputSheet, divider_max: int = DIVIDER_MAX
) -> tuple[Choice, ...]:
    """Settings for ``chain`` from ``source``, the best first, for dividers up to the limit.

    Raises:
        Problem: nothing keeps the input within its limit, or a fact is missing.
    """
    if sheet.numbers is None:
        raise Problem(f"{sheet.pin} takes the pulses as they come; there is nothing to set.")
    give = given_by(job, source)
    table, top = believed(sheet.numbers), top_of(chain, job.vehicle)
    return choose(give.rate, table.names, table.values, sheet.max_hz, top, divider_max)
