"""Records from JSON: bounded in depth, in how much there is, and in every number."""

from __future__ import annotations

from typing import TypeVar

import msgspec

from zombrel.intake.file import as_text, reading
from zombrel.job.edits import plain
from zombrel.job.problem import Problem

T = TypeVar("T")

FEW = 50_000
"""So many parts are nothing, however short they are."""
SHORTEST = 4
"""Bytes to a part, on average, in any true record; a file of bare commas unpacks to many times its
size."""


def record(data: bytes, kind: type[T], name: str = "") -> T:
    """A record of ``kind`` from JSON in any of the usual encodings.

    ``name`` is the file's; empty for what somebody is typing.

    Raises:
        Problem: not JSON, nested too deep, more parts than any has, or a field that cannot be;
            one sentence with the file and the field.
    """
    who = name or "This"
    with reading(who):
        if data[:3] == b"\xef\xbb\xbf" or b"\0" in data[:4] or data[:1] > b"\x7f":
            data = as_text(data, who).encode()
        parts = data.count(b",")
        if parts > FEW and parts * SHORTEST > len(data):
            raise Problem(f"{who} holds {parts} parts of hardly anything; it is no such file.")
        try:
            return msgspec.json.decode(data, type=kind)
        except msgspec.ValidationError as error:
            where = f"{name}: " if name else ""
            raise Problem(where + plain(str(error))) from error
        except msgspec.DecodeError as error:
            raise Problem(
                f"{who} is not complete JSON{'' if name else ' yet'}: {error}."
            ) from error
