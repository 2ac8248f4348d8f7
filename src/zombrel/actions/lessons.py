"""What a job leaves for the next, written down."""

from __future__ import annotations

import msgspec

from zombrel.actions.parts import free_name
from zombrel.job.edits import Add, Edit, Put, Remove
from zombrel.job.model import Job, index
from zombrel.job.problem import Problem
from zombrel.job.records.lesson import Lesson, Met


def add_lesson(job: Job, text: str, at: str = "", when: str = "", source: str = "") -> Edit:
    """One more lesson of this job, or taken over from ``source``.

    Raises:
        Problem: nothing is said, or it is there already.
    """
    text = text.strip()
    if not text:
        raise Problem("Say what the next one should know.")
    if any(x.text == text for x in job.lessons):
        raise Problem("That lesson is written down already.")
    key = free_name(f"L{len(job.lessons) + 1}", index(job.lessons))
    made = Lesson(id=key, text=text[:600], at=at, when=when, source=source)
    return Add(path="lessons", value=msgspec.to_builtins(made))


def remove_lesson(lesson: Lesson) -> Edit:
    """A lesson out of the job."""
    return Remove(path=f"lessons.{lesson.id}")


def found_cause(job: Job, chain: str, cause: str, title: str, when: str = "") -> Edit:
    """What a misreading came from, once it was found: of the signal ``chain``."""
    joined = index(job.chains).get(chain)
    device = index(job.devices).get(joined.device) if joined is not None else None
    key = f"cause {chain}"[:80]
    made = Met(
        id=key,
        kind="cause",
        code=cause,
        title=title[:600],
        device=device.sheet.id if device is not None else "",
        when=when,
    )
    value = msgspec.to_builtins(made)
    return (
        Put(path=f"met.{key}", value=value)
        if key in index(job.met)
        else Add(path="met", value=value)
    )
