"""The owner's page as data: what was fitted, how it is used, what to mind, where things are."""

from __future__ import annotations

from typing import Literal

from zombrel.job.value import Value


class Line(Value, frozen=True):
    """One thing said: a few words in bold, and what is said of them."""

    head: str
    text: str


class Spot(Value, frozen=True):
    """One place on the vehicle's outline, seen from above with the nose at the left."""

    number: int
    x: float
    """Along the outline, 0 at the nose to 1."""
    y: float
    """Across it, 0 at the left side to 1."""
    words: str


class Proven(Value, frozen=True):
    """One thing that was tried, and what came of it."""

    mark: Literal["good", "open", "trouble"]
    head: str
    text: str


class OwnerPage(Value, frozen=True):
    """All that stands on it, in plain words; quantities are tokens."""

    have: str
    """``a pace unit and a gauge hub``"""
    about: str
    """Vehicle, job, shop, day."""
    shop: str
    stops: tuple[str, ...]
    """Why it must not be handed over yet; empty when nothing is against it."""
    because: str
    """Why it was handed over nevertheless, and who says so; empty where it was not."""
    daily: tuple[Line, ...]
    mind: tuple[str, ...]
    spots: tuple[Spot, ...]
    odd: tuple[Line, ...]
    proven: tuple[Proven, ...]
    wheels: tuple[float, float]
    """Where the axles are along the outline, 0 to 1."""
    seal: str
    """Hash of the job as it was handed over; empty before that."""
