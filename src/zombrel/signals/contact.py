"""On/off inputs: what a contact, perhaps behind a relay, tells the device.

A relay on the way is worked by the contact and grounds (or feeds) the input through its
own: with its rest contact it turns the sense round, and it leads where the input wants it.
Reference: circuit logic; a contact that leads to the other rail is never seen.
"""

from __future__ import annotations

from typing import Literal

from zombrel.job.model import Chain, Relay
from zombrel.job.problem import Problem
from zombrel.job.sheet import InputSheet
from zombrel.job.source import BrakeSide, Source, Switch
from zombrel.job.value import Value


class Contact(Value, frozen=True):
    """An on/off chain in both states."""

    on_when_off: bool
    """What the device sees while the thing is off."""
    on_when_on: bool
    leads: Literal["ground", "supply"]
    """Where the contact leads when it is closed."""
    rests: Literal["open", "closed"]

    @property
    def right(self) -> bool:
        """The device sees both states as they are."""
        return self.on_when_on and not self.on_when_off

    @property
    def turned(self) -> bool:
        """The device sees each state as the other."""
        return self.on_when_off and not self.on_when_on


def contact(chain: Chain, source: Source, sheet: InputSheet) -> Contact:
    """What the device sees of a contact; raises Problem when the source is none."""
    spec = source.spec
    if isinstance(spec, BrakeSide):
        if spec.side == "hot":
            raise Problem(f"{source.name} is always live; the device would never see the pedal.")
        switch = Switch(rests="open", to="supply")
    elif isinstance(spec, Switch):
        switch = spec
    else:
        raise Problem(f"{source.name} is no contact; {sheet.pin} wants one.")
    relay = next((h for h in chain.hops if isinstance(h, Relay)), None)
    leads = sheet.closes_to if relay is not None else switch.to

    def seen(on: bool) -> bool:
        closed = (switch.rests == "closed") != on
        if relay is not None and relay.throw == "rest":
            closed = not closed
        found = closed and leads == sheet.closes_to
        # a cancel input is on while its way to ground is open
        active = "open" if sheet.need_ohm else sheet.active
        return found == (active == "closed")

    return Contact(seen(on=False), seen(on=True), leads, switch.rests)
