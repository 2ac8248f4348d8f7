"""Records of a road test and of handing over: who drove, what was changed, who signed it off."""

from __future__ import annotations

from typing import Annotated, Literal

from msgspec import Meta

from zombrel.job.records.logs import Sha
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


class Seal(Frozen, frozen=True, kw_only=True):
    """One sign-off; what it seals lies beside the job and is never changed."""

    id: Name
    content: Sha
    """SHA-256 of the job as it was, without its seals, by which it is kept."""
    who: Text
    when: Text
    against: Annotated[tuple[Text, ...], Meta(max_length=40)] = ()
    """What stood against it."""
    reason: Text = ""
    """Why it was handed over nevertheless; empty where nothing stood against it."""
    files: Annotated[tuple[Sha, ...], Meta(max_length=800)] = ()
    """Its logs and photos as it was sealed: they stay with the job when it drops them.

    200 logs with a bus description each, 200 photos with an original each: the job's own bounds.
    """
