"""One thing that a job knows, as it stands in the book."""

from __future__ import annotations

from typing import Literal

from zombrel.job.model import Rung
from zombrel.job.value import Value

Kind = Literal[
    "vehicle",
    "device",
    "pin-out",
    "feed",
    "source",
    "curve",
    "setting",
    "route",
    "time",
    "symptom",
    "trouble",
    "cause",
    "lesson",
    "photo",
]
KINDS: dict[Kind, str] = {
    "vehicle": "vehicle",
    "device": "device",
    "pin-out": "pin-out",
    "feed": "feed",
    "source": "source",
    "curve": "curve of a sender",
    "setting": "setting",
    "route": "route of a wire",
    "time": "time taken",
    "symptom": "what was complained of",
    "trouble": "came up and was mended",
    "cause": "what a misreading came from",
    "lesson": "lesson",
    "photo": "photo",
}
TAKEN: tuple[Kind, ...] = (
    "pin-out",
    "feed",
    "source",
    "curve",
    "setting",
    "route",
    "time",
    "lesson",
    "trouble",
    "cause",
)
"""Kinds that another job can take over; troubles and causes as lessons."""


OF_A_MODEL: tuple[Kind, ...] = ("pin-out", "feed", "route")
"""Kinds that say nothing of another model."""
SAME_MODEL = 2
"""Vehicles whose names share so many words are of one model: marque and model."""


class Entry(Value, frozen=True):
    """What is known, of which kind, how, and where in its job it stands."""

    kind: Kind
    text: str
    """In words with tokens of quantities, so that it is read in anybody's units."""
    known: Rung | Literal[""]
    """How it was known there; empty: nobody said."""
    at: str
    """Path in the job it is of."""


class Summary(Value, frozen=True):
    """What the book says of a whole job, to tell jobs apart and to count by."""

    number: str
    title: str
    vehicle: str
    owner: str
    devices: tuple[tuple[str, str], ...]
    """(sheet, name) of each."""
    begun: str
    due: str
    state: str
    """``open``, or who handed it over and when."""
    synthetic: bool


class Timed(Value, frozen=True):
    """One task that was timed."""

    kind: str
    zone: str
    minutes: float
    planned: float


class Happened(Value, frozen=True):
    """A trouble, a cause, or a setting that the road ended at."""

    kind: Literal["trouble", "cause", "setting"]
    code: str
    title: str
    sheet: str
    """Of the device it was about; empty: of the vehicle."""
