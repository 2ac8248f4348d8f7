"""ZIP files from elsewhere: opened, and unpacked no further than they may be."""

from __future__ import annotations

import contextlib
import io
import zipfile
import zlib
from collections.abc import Iterator

from zombrel.intake.file import MB, one_line, reading
from zombrel.job.problem import Problem


@contextlib.contextmanager
def opened(data: bytes, name: str, what: str) -> Iterator[zipfile.ZipFile]:
    """The archive in ``data``; whatever goes wrong inside says that ``name`` is no ``what``.

    Raises:
        Problem: always in place of any other exception.
    """
    with reading(name):
        try:
            with zipfile.ZipFile(io.BytesIO(data)) as archive:
                yield archive
        except (zipfile.BadZipFile, zlib.error, EOFError, RuntimeError, KeyError) as error:
            # a part that is locked, or packed in a way that nobody here knows, is a RuntimeError
            raise Problem(
                f"{name} is damaged or not {what} ({one_line(error)}). It was left as it is; "
                "try an older copy."
            ) from error


def unpacked(archive: zipfile.ZipFile, part: str, limit: int, name: str) -> bytes:
    """Unpack one part, never more than ``limit`` bytes whatever its header claims.

    Raises:
        Problem: it unpacks to more.
    """
    with archive.open(part) as stream:
        data = stream.read(limit + 1)
    if len(data) > limit:
        raise Problem(f"{name}: {part} unpacks to more than {limit // MB} MB.")
    return data
