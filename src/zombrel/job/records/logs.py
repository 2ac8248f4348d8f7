"""Records of logs that belong to a job, and of what a comparison of two of them said.

The samples lie in files of their own beside the job; here is what they are and how they were read.
"""

from typing import Annotated, Literal

from msgspec import Meta

from zombrel.job.sheet import Figure, Frozen, Name, NonNegative, Text

Part = Literal["drive", "before", "after"]
Weather = Literal["", "dry", "damp", "rain", "snow"]
Tank = Annotated[float, Meta(ge=0, le=1)]
Sha = Annotated[str, Meta(pattern="^[0-9a-f]{64}$")]
Points = Annotated[tuple[tuple[Figure, Figure], ...], Meta(max_length=400)]


class Baseline(Frozen, frozen=True, kw_only=True):
    """How the vehicle was before anything was touched."""

    day: Text = ""
    codes: Text = ""
    """Fault codes that were stored."""
    works: Text = ""
    """What worked, and what did not."""
    weather: Weather = ""
    tank: Tank | None = None


class LogMark(Frozen, frozen=True, kw_only=True):
    """A moment of a log, and what somebody has to say of it."""

    id: Name
    at_s: Figure
    """From its beginning [s]."""
    words: Text


class JobLog(Frozen, frozen=True, kw_only=True):
    """One log: its file, what it is for, and the day it was made on."""

    id: Name
    name: Text
    """Of its file."""
    part: Part = "drive"
    file: Sha
    """SHA-256 of the file, by which it is kept."""
    size: NonNegative = 0.0
    """Of the file [bytes]."""
    units: Annotated[tuple[tuple[Name, Name], ...], Meta(max_length=200)] = ()
    """Units that were stated, by column."""
    bus: Annotated[str, Meta(pattern="^([0-9a-f]{64})?$")] = ""
    """SHA-256 of the description of the bus, for messages of one."""
    bus_name: Text = ""
    """Of its file."""
    day: Text = ""
    weather: Weather = ""
    tank: Tank | None = None
    """How full the tank was; None: not noted."""
    codes: Text = ""
    """Fault codes stored then; of the log before they stand in the baseline."""
    note: Text = ""
    marks: Annotated[tuple[LogMark, ...], Meta(max_length=200)] = ()


def files_of(logs: tuple[JobLog, ...]) -> dict[str, str]:
    """Every file that logs rest on: SHA-256 -> its name."""
    return {x.file: x.name for x in logs} | {x.bus: x.bus_name for x in logs if x.bus}


class PullRow(Frozen, frozen=True, kw_only=True):
    """One pull of a comparison."""

    side: Literal["before", "after"]
    starts_k: Figure
    rise_k: Figure
    length_s: Figure
    load: Figure
    back_s: Figure | None = None
    ambient_k: Figure | None = None
    curve: Points = ()
    """(work put in [s of full load], charge over ambient [K]), thinned."""


class Comparison(Frozen, frozen=True, kw_only=True):
    """What a log before and one after said of each other, kept for the sheet."""

    id: Name
    before: Sha
    after: Sha
    """The files that were compared: another file, and it no longer holds."""
    verdict: Literal["better", "worse", "not-shown", "refused"]
    why: Text
    difference_k: Figure | None = None
    low_k: Figure | None = None
    high_k: Figure | None = None
    scatter_k: Figure | None = None
    days: Text = ""
    """Weather and tank of both days, as they were said then: said otherwise, it no longer holds."""
    mind: Annotated[tuple[Text, ...], Meta(max_length=20)] = ()
    pulls: Annotated[tuple[PullRow, ...], Meta(max_length=60)] = ()
    changed: Text = ""
    """What was changed between the two, in the installer's words."""
    when: Text = ""
