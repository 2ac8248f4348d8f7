"""The usual complaints as entrances: what each speaks of, what it makes likelier.

Not trees: a complaint weighs the causes of a line, and the readings and tests decide. What no
gauge shows leads to the step that shows it.

Reference: odds of a symptom under each cause, as factors (Bayes' rule); the figures are ASSUMED
from the trade until the shop's own record says other.
"""

from __future__ import annotations

from collections.abc import Mapping

from zombrel.diagnose.misread.weigh import Cause
from zombrel.diagnose.step import StepSheet
from zombrel.diagnose.steps import steps
from zombrel.job.follow.view import plain
from zombrel.job.model import Job
from zombrel.job.quantity import group
from zombrel.job.sheet import Quantity
from zombrel.job.value import Value


class Complaint(Value, frozen=True):
    """One thing that people say."""

    key: str
    words: str
    about: tuple[str, ...]
    """Quantities, or groups of them, that it speaks of."""
    odds: Mapping[Cause, float]
    """By how much it is likelier under a cause than under others."""
    kinds: tuple[str, ...] = ()
    """Kinds of step that show it, where no reading does."""


COMPLAINTS: tuple[Complaint, ...] = (
    Complaint("no-speed", "No speed", ("speed",), {"dead": 12.0, "drop-outs": 2.0}),
    Complaint(
        "jumps", "It jumps", ("speed", "tach", "sensed"),
        {"drop-outs": 8.0, "noise-counts": 5.0, "dirty-contact": 8.0},
    ),
    Complaint(
        "double-low", "Double at low revs", ("tach",),
        {"noise-counts": 12.0, "unit-mix": 0.5, "cylinders-setting": 0.5},
    ),
    Complaint("dead-after-box", "Tach dead after the box", ("tach",), {"dead": 15.0}),
    Complaint(
        "pegged", "The gauge is pegged", ("sensed",),
        {"open-ground": 8.0, "dead": 8.0, "missing-pull-up": 8.0, "swapped-pair": 6.0},
    ),
    Complaint(
        "cancel-unsure", "Cancel is unsure", ("brake",),
        {"open-ground": 6.0, "dirty-contact": 4.0, "ground-offset": 3.0}, ("brake",),
    ),
    Complaint(
        "loaded", "Only with a load on", ("sensed", "brake"),
        {"ground-offset": 15.0, "supply-low": 4.0},
    ),
    Complaint(
        "warm", "Reads fine cold", ("sensed",),
        {"wrong-curve": 4.0, "dirty-contact": 4.0, "weak-pull-up": 3.0, "ground-offset": 2.0},
    ),
    Complaint("rain", "After rain", ("sensed", "speed", "tach"), {"dirty-contact": 10.0,
              "drop-outs": 6.0, "noise-counts": 3.0}),
    Complaint("fans", "Fans run with the key off", (), {}, ("after", "off", "drain")),
    Complaint("resets", "It resets on start", (), {}, ("crank", "volts")),
    Complaint("idle-up", "Idle stays up", (), {}, ("row", "hold")),
    Complaint(
        "wrong-revs", "The lamp comes at the wrong revs", ("tach",),
        {"cylinders-setting": 6.0, "unit-mix": 6.0, "noise-counts": 3.0}, ("trial",),
    ),
    Complaint("surges", "It surges or sags", ("speed",), {"drop-outs": 3.0}, ("roll", "lift")),
)  # fmt: skip


class Entrance(Value, frozen=True):
    """A complaint in a job: the lines it may be about, and the steps that show it."""

    complaint: Complaint
    chains: tuple[str, ...]
    steps: tuple[StepSheet, ...]


def entrances(job: Job) -> tuple[Entrance, ...]:
    """The complaints that this job can have."""
    job = plain(job)
    every = steps(job)
    found = []
    for complaint in COMPLAINTS:
        chains = tuple(c.id for c in job.chains if _speaks_of(complaint, c.quantity))
        shown = tuple(s for s in every if s.kind in complaint.kinds)
        if chains or shown:
            found.append(Entrance(complaint, chains, shown))
    return tuple(found)


def _speaks_of(complaint: Complaint, quantity: Quantity) -> bool:
    return quantity in complaint.about or group(quantity) in complaint.about
