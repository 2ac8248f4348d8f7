"""Tables of the book. Files are the truth: whatever is here can be made from them anew."""

from __future__ import annotations

from sqlalchemy import (
    BigInteger,
    Boolean,
    Column,
    Float,
    ForeignKey,
    Index,
    Integer,
    LargeBinary,
    MetaData,
    Table,
    UniqueConstraint,
)
from sqlalchemy import Text as AnyText
from sqlalchemy.engine import Dialect
from sqlalchemy.types import TypeDecorator

EDITION = 2
"""A book of another edition is made anew."""

META = MetaData()


class Text(TypeDecorator[str]):
    """Text of a job: may hold a character 0, which a server refuses (PostgreSQL 15, 8.3)."""

    impl = AnyText
    cache_ok = True

    def process_bind_param(self, value: str | None, dialect: Dialect) -> str | None:
        """With the sign for a character that cannot be shown in its place."""
        return value.replace("\0", "\N{REPLACEMENT CHARACTER}") if value else value


EDITIONS = Table("edition", META, Column("number", Integer, primary_key=True))

FOLDERS = Table("folders", META, Column("path", Text, primary_key=True))
"""Folders whose jobs belong to the book."""

JOBS = Table(
    "jobs",
    META,
    Column("id", Integer, primary_key=True),
    Column("path", Text, nullable=False),
    Column("mtime_ns", BigInteger, nullable=False),
    Column("size", BigInteger, nullable=False),
    Column("number", Text, nullable=False),
    Column("title", Text, nullable=False),
    Column("vehicle", Text, nullable=False),
    Column("owner", Text, nullable=False),
    Column("begun", Text, nullable=False),
    Column("due", Text, nullable=False),
    Column("state", Text, nullable=False),
    Column("synthetic", Boolean, nullable=False),
    Column("wrong", Text, nullable=False),
    Column("head", Text, nullable=False),
    UniqueConstraint("path"),
    Index("jobs_number", "number"),
)
"""One line for each file; ``wrong`` says why one cannot be read, ``head`` is what it is called."""


def _of_job() -> Column[int]:
    return Column(
        "job", Integer, ForeignKey("jobs.id", ondelete="CASCADE"), nullable=False, index=True
    )


DEVICES = Table(
    "devices",
    META,
    Column("id", Integer, primary_key=True),
    _of_job(),
    Column("sheet", Text, nullable=False),
    Column("name", Text, nullable=False),
)

ENTRIES = Table(
    "entries",
    META,
    Column("id", Integer, primary_key=True),
    _of_job(),
    Column("kind", Text, nullable=False),
    Column("text", Text, nullable=False),
    Column("known", Text, nullable=False),
    Column("at", Text, nullable=False),
    Column("body", Text, nullable=False),
)
"""``body`` says it in the units of both halves of the trade, in plain words: what is searched."""

TIMED = Table(
    "timed",
    META,
    Column("id", Integer, primary_key=True),
    _of_job(),
    Column("kind", Text, nullable=False),
    Column("zone", Text, nullable=False),
    Column("minutes", Float, nullable=False),
    Column("planned", Float, nullable=False),
)

HAPPENED = Table(
    "happened",
    META,
    Column("id", Integer, primary_key=True),
    _of_job(),
    Column("kind", Text, nullable=False),
    Column("code", Text, nullable=False),
    Column("title", Text, nullable=False),
    Column("sheet", Text, nullable=False),
)

SHARED = Table(
    "shared",
    META,
    Column("id", Integer, primary_key=True),
    Column("number", Text, nullable=False),
    Column("title", Text, nullable=False),
    Column("version", Integer, nullable=False),
)
"""Jobs that several bays work on; each version of one is kept."""

VERSIONS = Table(
    "versions",
    META,
    Column("id", Integer, primary_key=True),
    Column("shared", Integer, ForeignKey("shared.id"), nullable=False, index=True),
    Column("version", Integer, nullable=False),
    Column("content", LargeBinary, nullable=False),
    Column("who", Text, nullable=False),
    Column("at", Text, nullable=False),
    UniqueConstraint("shared", "version"),
)

APARTS = Table(
    "aparts",
    META,
    Column("id", Integer, primary_key=True),
    Column("shared", Integer, ForeignKey("shared.id"), nullable=False, index=True),
    Column("version", Integer, nullable=False),
    Column("path", Text, nullable=False),
    Column("theirs", Text, nullable=False),
    Column("mine", Text, nullable=False),
    Column("who", Text, nullable=False),
    Column("at", Text, nullable=False),
)
"""What two changed and not alike: the value that the job has not, and whose it is."""

FILES = Table(
    "files",
    META,
    Column("sha", Text, primary_key=True),
    Column("content", LargeBinary, nullable=False),
)
"""Logs, photos and hand-overs of shared jobs, packed, each once."""

HOLDS = Table(
    "holds",
    META,
    Column("id", Integer, primary_key=True),
    Column("shared", Integer, ForeignKey("shared.id"), nullable=False),
    Column("part", Text, nullable=False),
    Column("who", Text, nullable=False),
    Column("place", Text, nullable=False),
    Column("since", Text, nullable=False),
    UniqueConstraint("shared", "part"),
)
"""Parts of a job that somebody has in hand."""

RIGHTS = Table("rights", META, Column("who", Text, primary_key=True))
"""Who may change the house rules of shared jobs; while there is nobody, all may."""

PARTS = (HAPPENED, TIMED, ENTRIES, DEVICES)
"""Tables of what belongs to a job."""
