"""What a job leaves for the next: lessons in words, and what came up and was mended."""

from typing import Annotated, Literal

from msgspec import Meta

from zombrel.job.sheet import Frozen, Name, Text


class Lesson(Frozen, frozen=True, kw_only=True):
    """One thing worth knowing next time."""

    id: Name
    text: Annotated[str, Meta(min_length=1, max_length=600)]
    at: Text = ""
    """What it is about, as ``connectors.D2.27`` or ``devices.pace``; empty: the job."""
    when: Text = ""
    source: Text = ""
    """The job it was taken over from; empty: learned on this one."""


class Met(Frozen, frozen=True, kw_only=True):
    """Something that came up and was mended, or a cause that was found."""

    id: Name
    kind: Literal["trouble", "cause"] = "trouble"
    code: Name
    """The rule that found it, or the cause of a misreading."""
    title: Text
    device: Text = ""
    """Sheet of the device it was about; empty: the vehicle, or none."""
    when: Text = ""
