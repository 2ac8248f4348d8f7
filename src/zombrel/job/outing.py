"""Records of a road test: who is in the car, what was changed on the way, who signed it off."""

from __future__ import annotations

from typing import Annotated, Literal

from msgspec import Meta

from zombrel.job.sheet import Frozen, Name, Text

Result = Literal["", "better", "no better"]


class Outing(Frozen, frozen=True, kw_only=True):
    """Who drives, who reads the instruments, and who signed the road test off."""

    driver: Text = ""
    reader: Text = ""
    signed: Text = ""
    """The name of whoever signed; empty: not signed off."""
    signed_when: Text = ""


class Trial(Frozen, frozen=True, kw_only=True):
    """One change that was made on the road after a report, and what came of it."""

    id: Name
    device: Name
    pin: Annotated[str, Meta(max_length=40)] = ""
    """The dial that was turned; empty: something that has no dial, as a cable."""
    was: Text = ""
    now: Text = ""
    """Positions before and after."""
    report: Text = ""
    """What the driver said."""
    change: Text = ""
    when: Text = ""
    result: Result = ""
    """Empty: not driven since."""
