"""What is done with photos: taken into the job, bound to what they show, drawn on."""

from __future__ import annotations

from collections.abc import Iterator

import msgspec

from zombrel.actions.parts import free_name
from zombrel.job.edits import Add, Edit, Put, Remove
from zombrel.job.model import Job, by_id, index
from zombrel.job.problem import Problem
from zombrel.job.records.photo import Photo, PhotoMark

MARKS = 60


def add_photo(job: Job, photo: Photo) -> tuple[str, Edit]:
    """A photo whose picture was kept: its id, and the edit.

    Raises:
        Problem: the job has it already, or there is no such thing to bind it to.
    """
    if any(p.file == photo.file for p in job.photos):
        raise Problem(f"{photo.name} is in the job already.")
    _bound(job, photo.at)
    key = free_name(f"F{len(job.photos) + 1}", index(job.photos))
    made = msgspec.structs.replace(photo, id=key)
    return key, Add(path="photos", value=msgspec.to_builtins(made))


def _bound(job: Job, at: str) -> None:
    if at and at not in dict(places(job)):
        raise Problem(
            f"There is no “{at}” in the job to bind a photo to: say wires.W3, connectors.D2.27 or "
            "zones.dash, with the names of the job."
        )


def places(job: Job) -> Iterator[tuple[str, str]]:
    """Everything a photo may show: (path, in words)."""
    for zone in job.zones:
        yield f"zones.{zone.id}", zone.name
    for wire in job.wires:
        yield f"wires.{wire.id}", f"{wire.id} {wire.colour}".strip()
    for c in job.connectors:
        yield f"connectors.{c.id}", f"{c.id}, {c.name}"
        for cavity in c.cavities:
            words = " ".join(x for x in (cavity.colour, cavity.circuit) if x)
            yield f"connectors.{c.id}.{cavity.n}", f"{c.id} cavity {cavity.n} {words}".strip()


def place_words(job: Job, at: str) -> str:
    """What a photo shows, in words; one that is bound to nothing shows the whole."""
    if not at:
        return "the whole"
    return dict(places(job)).get(at, f"{at}, which is no longer there")


def photos_of(job: Job, at: str) -> tuple[Photo, ...]:
    """Photos bound to one thing."""
    return tuple(p for p in job.photos if p.at == at)


def put_photo(job: Job, photo: Photo) -> Edit:
    """A photo with what is said of it now.

    Raises:
        Problem: there is no such thing to bind it to.
    """
    old = by_id(job.photos, photo.id)
    if old is None or old.at != photo.at:
        _bound(job, photo.at)
    return Put(path=f"photos.{photo.id}", value=msgspec.to_builtins(photo))


def add_mark(job: Job, photo: Photo, mark: PhotoMark) -> Edit:
    """One more arrow or number on it.

    Raises:
        Problem: it has as many as it may.
    """
    if len(photo.marks) >= MARKS:
        raise Problem(f"A photo holds {MARKS} marks at most: take one off first.")
    return put_photo(job, msgspec.structs.replace(photo, marks=(*photo.marks, mark)))


def put_mark(job: Job, photo: Photo, which: int, mark: PhotoMark | None) -> Edit:
    """Another in the place of mark ``which``; None takes it off."""
    new = () if mark is None else (mark,)
    marks = (*photo.marks[:which], *new, *photo.marks[which + 1 :])
    return put_photo(job, msgspec.structs.replace(photo, marks=marks))


def remove_photo(photo: Photo) -> Edit:
    """A photo out of the job."""
    return Remove(path=f"photos.{photo.id}")
