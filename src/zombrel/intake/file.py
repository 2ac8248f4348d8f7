"""Bytes and text from a file, never more than asked for, never from anything but a file."""

from __future__ import annotations

import codecs
import contextlib
import os
import stat
from collections.abc import Iterator
from pathlib import Path

from zombrel.job.problem import Problem

MB = 1_000_000
LONGEST = 300
"""A sentence about a file is cut to so many characters."""
NAMED = 160
"""Of a longer path the end is named."""
WIDE_SHARE = 0.3
"""Text with so large a share of zero bytes has two bytes to a character."""
MARKS = (
    (codecs.BOM_UTF8, "utf-8-sig"),
    (codecs.BOM_UTF16_LE, "utf-16"),
    (codecs.BOM_UTF16_BE, "utf-16"),
)
FORBIDDEN = frozenset(map(chr, (*range(9), 11, 12, *range(14, 32))))
"""Control characters that no text has."""


def one_line(text: object) -> str:
    """Any message as one line, cut where it is too long to be read."""
    line = " ".join(str(text).split())
    return line if len(line) <= LONGEST else line[: LONGEST - 1] + "…"


@contextlib.contextmanager
def reading(name: str, what: str = "be read") -> Iterator[None]:
    """Turn whatever goes wrong inside into one sentence that names the file.

    Raises:
        Problem: always in place of any other exception; running out of memory or stack included.
    """
    name = name if len(name) <= NAMED else f"…{name[1 - NAMED :]}"
    try:
        yield
    except Problem as problem:
        if str(problem) == one_line(problem):
            raise
        raise Problem(one_line(problem), problem.code, problem.where) from problem
    except OSError as error:
        raise Problem(one_line(f"{name} cannot {what}: {error.strerror or error}.")) from error
    except (MemoryError, RecursionError) as error:
        raise Problem(f"{name} cannot {what}: it is nested too deep or too large.") from error
    except Exception as error:
        said = one_line(error) or type(error).__name__
        raise Problem(one_line(f"{name} cannot {what}: {said}.")) from error


def take(path: Path, most: int, what: str = "file") -> bytes:
    """All of the file at ``path``, which holds at most ``most`` bytes.

    Raises:
        Problem: no such file, no regular file (a folder, a pipe, a device), larger than any
            ``what`` is, or it cannot be read.
    """
    with reading(str(path)):
        # a pipe without a writer would be waited for, and a terminal taken as one's own
        handle = os.open(path, os.O_RDONLY | os.O_NONBLOCK | os.O_NOCTTY | os.O_CLOEXEC)
        try:
            _regular(os.fstat(handle), path, most, what)
        except Problem:
            os.close(handle)
            raise
        with os.fdopen(handle, "rb") as stream:
            # it may grow while it is read; what only looks like a file may have nothing to give now
            data = stream.read(most + 1) or b""
    if len(data) > most:
        raise Problem(f"{path.name} is larger than any {what} ({_size(most)}).")
    return data


def check(path: Path, most: int, what: str = "file") -> None:
    """See that ``path`` is a file that a library may be given; raises as ``take`` does."""
    with reading(str(path)):
        found = path.stat()
        _regular(found, path, most, what)
        if not found.st_size:
            raise Problem(f"{path} is empty: it has no rows.")


def _regular(found: os.stat_result, path: Path, most: int, what: str) -> None:
    if not stat.S_ISREG(found.st_mode):
        raise Problem(f"{path} is {_kind(found.st_mode)}, not a {what}.")
    if found.st_size > most:
        raise Problem(f"{path.name} is larger than any {what} ({_size(most)}).")


def _kind(mode: int) -> str:
    if stat.S_ISDIR(mode):
        return "a folder"
    return "a pipe" if stat.S_ISFIFO(mode) else "a device"


def _size(most: int) -> str:
    return f"{most / MB:g} MB"


def text(path: Path, most: int, what: str = "text file") -> str:
    """The text at ``path``; see ``take`` and ``as_text``."""
    return as_text(take(path, most, what), path.name)


def as_text(data: bytes, name: str) -> str:
    """Bytes as text: UTF-8, UTF-16 as its mark or its zeros tell, else Latin-1 (ISO/IEC 8859-1).

    Raises:
        Problem: it is no text.
    """
    found = _decoded(data)
    if found is None or not FORBIDDEN.isdisjoint(found):
        raise Problem(f"{name} is not a text file.")
    return found


def encoding(data: bytes) -> str | None:
    """How text begins to be written; None when it is none."""
    for mark, named in MARKS:
        if data.startswith(mark):
            return named
    zeros = data[:4000].count(0)
    if zeros > WIDE_SHARE * len(data[:4000]):
        return "utf-16-le" if data[1:4000:2].count(0) * 2 >= zeros else "utf-16-be"
    if zeros:
        return None
    return "utf-8"


def _decoded(data: bytes) -> str | None:
    how = encoding(data)
    if how is None:
        return None
    try:
        return data.decode(how)
    except UnicodeDecodeError:
        return data.decode("latin-1") if how == "utf-8" else None
