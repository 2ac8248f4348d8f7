"""A connector kept for other jobs, by the vehicle or the device that it belongs to."""

from typing import Annotated, Literal

from msgspec import Meta

from zombrel.job.sheet import Frozen, Name, Text
from zombrel.job.wiring import Connector

Year = Annotated[int, Meta(ge=1900, le=2100)]
Chassis = Annotated[int, Meta(ge=0, le=10**9)]


class KeptPlug(Frozen, frozen=True, kw_only=True):
    """A face with its pin-out, and for which vehicles it holds."""

    id: Name
    marque: Text = ""
    model: Text = ""
    first_year: Year | None = None
    last_year: Year | None = None
    split_chassis: Chassis | None = None
    """Chassis number from which pins or colours differ."""
    side: Literal["", "before", "from"] = ""
    """On which side of that number it was found; empty: not said."""
    device: Text = ""
    """The device whose plug it is, by the id of its sheet; empty: the vehicle's."""
    note: Text = ""
    known: Text = ""
    """How it was known there."""
    job: Text = ""
    when: Text = ""
    connector: Connector

    @property
    def words(self) -> str:
        """It in a line: what it is, and of what."""
        c = self.connector
        return f"{c.name}, {len(c.cavities)} cavities, {self.of or 'nobody said of what'}"

    @property
    def of(self) -> str:
        """The vehicle or the device that it belongs to; empty where nobody said."""
        return f"{self.marque} {self.model}".strip() or self.device
