"""What is done to the points where current comes from and goes back to: feeds and ground studs."""

from __future__ import annotations

from collections.abc import Mapping

import msgspec

from zombrel.job.edits import Add, Edit, Put, Remove, together
from zombrel.job.model import Job, index
from zombrel.job.problem import Problem
from zombrel.job.wiring import Feed, Stud


def put_feed(feed: Feed, fields: Mapping[str, object]) -> Edit:
    """Several fields of a feed at once."""
    return _put(f"feeds.{feed.id}", fields)


def put_stud(stud: Stud, fields: Mapping[str, object]) -> Edit:
    """Several fields of a ground stud at once."""
    return _put(f"studs.{stud.id}", fields)


def _put(path: str, fields: Mapping[str, object]) -> Edit:
    first, *rest = [Put(path=f"{path}.{name}", value=value) for name, value in fields.items()]
    return together(first, *rest)


def add_stud(job: Job, name: str, zone: str = "") -> Edit:
    """A ground stud, its figures to be measured."""
    taken = {*index(job.studs), *index(job.feeds)}
    key = next(k for n in range(1, len(taken) + 2) if (k := f"G{n}") not in taken)
    return Add(path="studs", value=msgspec.to_builtins(Stud(id=key, name=name, zone=zone)))


def remove_feed(job: Job, feed: Feed) -> Edit:
    """A feed that nothing of ours hangs on goes.

    Raises:
        Problem: wires begin there.
    """
    _free(job, feed.id, feed.name)
    return Remove(path=f"feeds.{feed.id}")


def remove_stud(job: Job, stud: Stud) -> Edit:
    """A ground stud that nothing of ours hangs on goes.

    Raises:
        Problem: wires end there.
    """
    _free(job, stud.id, stud.name)
    return Remove(path=f"studs.{stud.id}")


def _free(job: Job, key: str, name: str) -> None:
    held = [w.id for w in job.wires if key in (w.a.place, w.b.place)]
    if held:
        raise Problem(
            f"{name} holds {', '.join(held)}: move these ends elsewhere first, or take them out."
        )
