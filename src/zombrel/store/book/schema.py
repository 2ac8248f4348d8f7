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
    MetaData,
    Table,
    Text,
    UniqueConstraint,
)

EDITION = 2
"""A book of another edition is made anew."""

META = MetaData()

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

PARTS = (HAPPENED, TIMED, ENTRIES, DEVICES)
"""Tables of what belongs to a job."""
