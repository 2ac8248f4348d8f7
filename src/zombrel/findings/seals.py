"""Signing a job off: sealed as it is, by whom, and why where something stands against it."""

from __future__ import annotations

from typing import Any

import msgspec

from zombrel.actions.parts import free_name
from zombrel.findings.against import against
from zombrel.findings.finding import Assessment
from zombrel.job.edits import Add, Edit
from zombrel.job.model import Job, index
from zombrel.job.problem import Problem
from zombrel.job.records.logs import files_of
from zombrel.job.records.outing import Seal
from zombrel.job.records.photo import photo_files
from zombrel.units import METRIC, words

SHORT = 12
"""So much of a seal is said."""


def bare(job: Job) -> Job:
    """A job without what says nothing of the work: who signed it, and with whom it is shared."""
    return msgspec.structs.replace(job, seals=(), shared="")


def content(job: Job) -> bytes:
    """All that a job says, as JSON with its fields in order.

    What stands at its default is left out, so that a seal holds when Zombrel learns to say more.
    """
    told = _told(bare(job)) | {"schema": job.schema}
    return msgspec.json.encode(told, order="sorted")


def _told(item: Any) -> Any:
    """A record without its defaults, lists and records in it likewise."""
    if isinstance(item, tuple | list):
        return [_told(x) for x in item]
    if not isinstance(item, msgspec.Struct):
        return item
    tag = item.__struct_config__.tag
    out = {item.__struct_config__.tag_field: tag} if tag else {}
    for field in msgspec.structs.fields(type(item)):
        value = getattr(item, field.name)
        if value != field.default:
            out[field.name] = _told(value)
    return out


def hash_of(job: Job) -> str:
    """SHA-256 of ``content``: two jobs of one hash say the same."""
    import hashlib  # few jobs are sealed: not at start-up

    return hashlib.sha256(content(job)).hexdigest()


def seal_on(job: Job) -> str:
    """The hash under which the job was signed off as it is now; empty where it was not."""
    last = job.seals[-1].content if job.seals else ""
    return last if last and last == hash_of(job) else ""


def seal(
    job: Job, assessment: Assessment, kept: str, who: str, when: str, reason: str = ""
) -> tuple[Seal, Edit]:
    """The seal on a job that was kept under the hash ``kept``, and the edit that adds it.

    Raises:
        Problem: nobody signs, or something stands against it and nobody says why nevertheless.
    """
    if not who.strip():
        raise Problem("Say who signs it off.")
    if job.seals and job.seals[-1].content == kept:
        last = job.seals[-1]
        raise Problem(f"Nothing has changed since {last.who} signed it off, {last.when}.")
    found = tuple(words(x, METRIC) for x in against(job, assessment))
    if found and not reason.strip():
        raise Problem(
            f"It must not be handed over yet: {found[0]} Mend that, or say why it goes out "
            "nevertheless."
        )
    made = Seal(
        id=free_name("S1", index(job.seals)),
        content=kept,
        who=who.strip(),
        when=when,
        against=found[:40],
        reason=reason.strip() if found else "",
        files=tuple(files_of(job.logs) | photo_files(job.photos)),
    )
    return made, Add(path="seals", value=msgspec.to_builtins(made))
