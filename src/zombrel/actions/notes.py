"""What was wished or metered, noted in a job."""

from __future__ import annotations

import msgspec

from zombrel.job.edits import Add, Edit, Many, Put, Remove
from zombrel.job.ledger import evidence
from zombrel.job.model import House, Job, index
from zombrel.job.validate import check_figures
from zombrel.job.wiring import Feed
from zombrel.signals.key_matrix import FeedVerdict


def wish(job: Job, key: str, value: float, note: str = "said in Set") -> Edit:
    """The owner wants a control at ``value`` [SI]; ``key`` as in ``Wish.id``."""
    if key not in index(job.wishes):
        return Add(path="wishes", value={"id": key, "value": value, "note": note})
    return Put(path=f"wishes.{key}.value", value=value)


def unwish(key: str) -> Edit:
    """A control is to stand as worked out again."""
    return Remove(path=f"wishes.{key}")


def classify(job: Job, feed: Feed, found: FeedVerdict, when: str = "") -> Edit:
    """A feed is what the meter found it to be, with the line of the ledger."""
    path = f"feeds.{feed.id}.feed"
    line = evidence(job, path, "measured", "key-position matrix", when, value=found.kind)
    return Many(
        edits=(
            Put(path=path, value=found.kind),
            Put(path=f"feeds.{feed.id}.dimmed", value=found.dimmed),
            line,
        )
    )


def put_fact(path: str, value: object) -> Edit:
    """A fact as somebody typed it."""
    return Put(path=path, value=value)


def timing_seen(points: tuple[tuple[float, float], ...]) -> Edit:
    """What the timing lamp showed: (engine speed [1/s], degrees before top dead centre)."""
    return Put(path="vehicle.timing_seen", value=[list(point) for point in points])


def house_rules(house: House) -> Edit:
    """The house rules as a whole.

    Raises:
        Problem: a figure in them is not the shop's to decide.
    """
    check_figures(house)
    return Put(path="house", value=msgspec.to_builtins(house))
