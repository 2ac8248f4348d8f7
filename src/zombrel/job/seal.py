"""What was handed over, sealed: the job as it was then, by the hash of what was in it."""

from typing import Annotated

from msgspec import Meta

from zombrel.job.logs import Sha
from zombrel.job.sheet import Frozen, Name, Text


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
