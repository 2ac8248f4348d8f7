"""Classes of supply, each in one place: when it lives, its wire, and what goes wrong on it.

A new class is an entry here and a word in ``job.sheet.FeedClass``; how a point is told from its
volts is in ``signals.key_matrix``.
"""

from __future__ import annotations

from collections.abc import Container

from zombrel.job.sheet import FeedClass
from zombrel.job.value import Value

KEYS = ("off", "on", "crank")
"""Positions of the key as a vehicle state knows them."""


class FeedSheet(Value, frozen=True):
    """One class of supply."""

    alive: tuple[str, ...]
    """Key positions in which it is alive."""
    wrong: str
    """What goes wrong where another class was asked for."""
    colour: str = "red"
    """Usual colour of a wire that hangs on it."""
    lamps_only: bool = False
    """Alive with the lamps on, and then perhaps dimmed."""
    odd: tuple[tuple[str, bool, str], ...] = ()
    """(position, alive there, what is odd about that) when it was metered."""


FEEDS: dict[FeedClass, FeedSheet] = {
    "constant": FeedSheet(
        KEYS,
        "this one stays on with the key out and drains the battery",
        odd=(("crank", False, "dies while cranking though otherwise constant"),),
    ),
    "accessory": FeedSheet(
        ("on",),
        "this one dies while cranking and is alive before the engine runs",
        "red/yellow",
        odd=(("run", False, "dead in run: look for a switch or fuse between"),),
    ),
    "run": FeedSheet(("on",), "this one is dead with the key out and while cranking", "red/white"),
    "run-and-crank": FeedSheet(
        ("on", "crank"),
        "this one is dead with the key out",
        "red/blue",
        odd=(("acc", True, "alive in accessory too: an idle or pump switch must be off there"),),
    ),
    "start": FeedSheet(("crank",), "this one lives only while cranking"),
    "illumination": FeedSheet(
        ("on",), "this one lives only with the lamps on, and may be dimmed", "brown", True
    ),
    "retained": FeedSheet(
        ("off", "on"),
        "this one stays on after key off and dies when it likes",
        odd=(("", True, "stays on after key off and dies later"),),
    ),
    "dead": FeedSheet((), "this one was dead in every position that was metered"),
}


def serves(feed: FeedClass, wanted: Container[FeedClass]) -> bool:
    """Whether a feed of this class serves a pin that is made for ``wanted``.

    What lives in run and while cranking lives wherever run does.
    """
    return feed in wanted or (feed == "run-and-crank" and "run" in wanted)
