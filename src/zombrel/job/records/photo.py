"""Photos of a job: what they show, and what was drawn on them."""

from typing import Annotated, Literal

from msgspec import Meta

from zombrel.job.records.logs import Sha
from zombrel.job.sheet import Frozen, Name, Share, Text

Side = Annotated[int, Meta(ge=1, le=20000)]


class PhotoMark(Frozen, frozen=True, kw_only=True):
    """An arrow or a number on a photo; places as shares of its width and height."""

    kind: Literal["arrow", "number"]
    x: Share
    y: Share
    """What is pointed at."""
    from_x: Share = 0.0
    from_y: Share = 0.0
    """Where an arrow begins."""
    words: Text = ""


class Photo(Frozen, frozen=True, kw_only=True):
    """One photo; its file lies beside the job."""

    id: Name
    name: Text
    """Of the file it was taken from."""
    file: Sha
    """SHA-256 of the picture as it is shown."""
    wide: Side
    tall: Side
    """Of that picture [px]."""
    original: Annotated[str, Meta(pattern="^([0-9a-f]{64})?$")] = ""
    """SHA-256 of the picture in its full size; empty where it was not kept."""
    at: Text = ""
    """What it shows: ``wires.W3``, ``connectors.D2.27``, ``zones.dash``; empty: the whole."""
    note: Text = ""
    when: Text = ""
    marks: Annotated[tuple[PhotoMark, ...], Meta(max_length=60)] = ()

    def number(self, mark: PhotoMark) -> int:
        """What a mark is called on the picture: marks are counted in their order."""
        return self.marks.index(mark) + 1


def photo_files(photos: tuple[Photo, ...]) -> dict[str, str]:
    """Every file that photos rest on: SHA-256 -> its name."""
    shown = {p.file: p.name for p in photos}
    return shown | {p.original: p.name for p in photos if p.original}
