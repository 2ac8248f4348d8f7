"""A function or module of the maker's own that is put into a vehicle which lacks it."""

from typing import Annotated, Literal

from msgspec import Meta

from zombrel.job.sheet import Frozen, Name, NonNegative, Text


class Function(Frozen, frozen=True, kw_only=True):
    """One thing it shall do, and the circuits it does it by."""

    name: Name
    needs: Annotated[tuple[Name, ...], Meta(max_length=60)] = ()
    """Circuits, as the paper of its plug calls them."""


class Retrofit(Frozen, frozen=True, kw_only=True):
    """A module with its plug, its functions, and what it must be taught."""

    id: Name
    name: Name = "Retrofit"
    connector: Text = ""
    """Its plug, a connector of the job; empty: not drawn yet."""
    functions: Annotated[tuple[Function, ...], Meta(max_length=40)] = ()
    coding: Literal["", "not needed", "needed"] = ""
    """Whether it must be programmed to this vehicle; empty: nobody has said."""
    coded_by: Text = ""
    """Who does that, and with what."""
    keeps: Literal["", "nothing", "distance", "hours", "distance and hours"] = ""
    """What it counts and shows; empty: nobody has said."""
    car_m: NonNegative | None = None
    """Distance that the car showed before it was parted [m]; None: not noted."""
    car_h: NonNegative | None = None
    """Hours it showed then [h]; None: not noted."""
