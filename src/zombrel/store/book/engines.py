"""The two data bases a book can lie on, where they differ: beginning to write, and full text.

SQLite on this machine (full text by FTS5), or PostgreSQL on a server that several bays share (full
text by ``to_tsvector`` over a GIN index).
"""

from __future__ import annotations

import os
import re
from collections.abc import Sequence
from pathlib import Path
from typing import Any, Protocol

from sqlalchemy import URL, Connection, Engine, create_engine, event, make_url, text
from sqlalchemy.exc import ArgumentError

from zombrel.job.problem import Problem
from zombrel.store.book import guard

WAIT_S = 20
"""Another window may be writing."""
LOCAL = ("", "localhost", "127.0.0.1", "::1")
SAFE = ("require", "verify-ca", "verify-full")
"""Ways to reach a server that nobody can listen to."""
PASSWORD = "ZOMBREL_BOOK_PASSWORD"
SERVICE = "zombrel book"
NO_ACCOUNTS = (
    "The book lies in a file of this machine, which has no accounts: whoever may write the file "
    "may write all of it. Lay the book on a server to give each their own."
)
LOCK = 412_0413_0409
"""Number of the lock that windows take in turn while tables are made."""


class Base(Protocol):
    """What the book asks of a data base."""

    name: str

    def engine(self) -> Engine:
        """Connections to it."""
        ...

    def ready(self, c: Connection) -> None:
        """Make what full text needs."""
        ...

    def drop(self, c: Connection) -> None:
        """Take that away again."""
        ...

    def begin(self, c: Connection) -> None:
        """Begin to write, when no other window does."""
        ...

    def put_in(self, c: Connection, first: int) -> None:
        """Entries from the id ``first`` on are to be found."""
        ...

    def take_out(self, c: Connection, jobs: Sequence[int]) -> None:
        """Entries of ``jobs`` will be gone."""
        ...

    def saying(self, words: list[str], last: str) -> tuple[str, dict[str, Any]]:
        """SQL that follows ``FROM entries``, for entries that say ``words``, and its values."""
        ...

    def check(self, c: Connection) -> str:
        """What is damaged; empty when nothing is."""
        ...

    def account(self, c: Connection) -> str:
        """Whose account on the server this is; empty for the one that the book belongs to."""
        ...

    def admit(self, c: Connection, account: str) -> None:
        """Let another account of the server work with the book."""
        ...

    def admitted(self, c: Connection) -> tuple[str, ...]:
        """Accounts that were let in."""
        ...

    def expel(self, c: Connection, account: str) -> None:
        """Let another account in no longer."""
        ...


class Sqlite:
    """A file on this machine."""

    def __init__(self, path: Path) -> None:
        self.path = path
        self.name = str(path)

    def engine(self) -> Engine:
        """Readers never wait; writers do, for one another."""
        told = {"timeout": WAIT_S}
        made = create_engine(
            f"sqlite:///{self.path}", connect_args=told, isolation_level="AUTOCOMMIT"
        )

        @event.listens_for(made, "connect")
        def _(connection: Any, record: object) -> None:
            connection.execute("PRAGMA journal_mode = WAL")
            connection.execute("PRAGMA synchronous = NORMAL")
            connection.execute("PRAGMA foreign_keys = ON")

        return made

    def ready(self, c: Connection) -> None:
        """An index that keeps no text of its own."""
        c.execute(
            text(
                "CREATE VIRTUAL TABLE IF NOT EXISTS found USING fts5(body, content='entries', "
                "content_rowid='id', tokenize='unicode61')"
            )
        )

    def drop(self, c: Connection) -> None:
        """Before its table goes."""
        c.execute(text("DROP TABLE IF EXISTS found"))

    def begin(self, c: Connection) -> None:
        """Before anything is read, so that what is read still holds when it is written."""
        c.exec_driver_sql("BEGIN IMMEDIATE")

    def put_in(self, c: Connection, first: int) -> None:
        """As the index is told to."""
        sql = "INSERT INTO found (rowid, body) SELECT id, body FROM entries WHERE id >= :first"
        c.execute(text(sql), {"first": first})

    def take_out(self, c: Connection, jobs: Sequence[int]) -> None:
        """With the text that was put in, as the index wants it."""
        listed = ", ".join(str(int(j)) for j in jobs)
        c.execute(
            text(
                "INSERT INTO found (found, rowid, body) SELECT 'delete', id, body FROM entries "
                f"WHERE job IN ({listed})"
            )
        )

    def saying(self, words: list[str], last: str) -> tuple[str, dict[str, Any]]:
        """The newest first: row ids are in the order they were put in."""
        asked = " AND ".join(f'"{w}"*' if w == last else f'"{w}"' for w in words)
        return (
            "JOIN found ON found.rowid = entries.id {jobs} WHERE found MATCH :query {more} "
            "ORDER BY found.rowid DESC",
            {"query": asked},
        )

    def check(self, c: Connection) -> str:
        """By its own check of every page."""
        told = str(c.scalar(text("PRAGMA integrity_check")))
        return "" if told == "ok" else told

    def account(self, c: Connection) -> str:
        """A file has none."""
        return ""

    def admit(self, c: Connection, account: str) -> None:
        """There is nobody to let in."""
        raise Problem(NO_ACCOUNTS)

    def admitted(self, c: Connection) -> tuple[str, ...]:
        """Nobody."""
        return ()

    def expel(self, c: Connection, account: str) -> None:
        """There is nobody to shut out."""
        raise Problem(NO_ACCOUNTS)


class Postgres:
    """A server that several bays share."""

    def __init__(self, where: str) -> None:
        try:
            url = make_url(where)
        except ArgumentError as error:
            raise Problem(
                f"“{where}” is no address of a book: postgresql://USER@SERVER/NAME is wanted."
            ) from error
        if url.get_backend_name() != "postgresql":
            raise Problem(f"“{where}” begins with {url.get_backend_name()}: postgresql is wanted.")
        if url.password:
            raise Problem("Leave the password out of the address: it is kept in the keyring.")
        self._url = url.set(drivername="postgresql+psycopg")
        self.name = url.render_as_string()

    def engine(self) -> Engine:
        """Encrypted, but for a server on this very machine."""
        mode = str(self._url.query.get("sslmode", ""))
        far = (self._url.host or "") not in LOCAL
        if far and mode and mode not in SAFE:
            raise Problem(f"sslmode={mode} would let others read along: leave it out, or require.")
        told: dict[str, Any] = {"connect_timeout": WAIT_S}
        if far and not mode:
            told["sslmode"] = "require"
        url = self._url.set(password=password_of(self._url) or None)
        return create_engine(url, connect_args=told, isolation_level="AUTOCOMMIT")

    def ready(self, c: Connection) -> None:
        """An index over the words, and what guards the house rules."""
        if self.account(c):
            return  # whose book it is has made it ready
        c.execute(
            text(
                "CREATE INDEX IF NOT EXISTS entries_found ON entries "
                "USING gin (to_tsvector('simple', body))"
            )
        )
        guard.ready(c)

    def drop(self, c: Connection) -> None:
        """It goes with its table."""

    def begin(self, c: Connection) -> None:
        """One writer at a time; readers go on."""
        c.exec_driver_sql("BEGIN")
        c.exec_driver_sql(f"SELECT pg_advisory_xact_lock({LOCK})")

    def put_in(self, c: Connection, first: int) -> None:
        """The index follows by itself."""

    def take_out(self, c: Connection, jobs: Sequence[int]) -> None:
        """Likewise."""

    def saying(self, words: list[str], last: str) -> tuple[str, dict[str, Any]]:
        """Words that stand side by side, the last perhaps begun."""
        asked = []
        for w in words:
            parts = [p for p in re.split(r"[^\w]+", w) if p]
            side_by_side = " <-> ".join(parts)
            asked.append(f"({side_by_side}:*)" if w == last else f"({side_by_side})")
        return (
            "{jobs} WHERE to_tsvector('simple', entries.body) @@ to_tsquery('simple', :query) "
            "{more} ORDER BY entries.id DESC",
            {"query": " & ".join(asked)},
        )

    def check(self, c: Connection) -> str:
        """A server looks after its own pages."""
        return ""

    def account(self, c: Connection) -> str:
        """Tables belong to who made them."""
        return guard.account(c)

    def admit(self, c: Connection, account: str) -> None:
        """As far as the work goes, and no further."""
        guard.admit(c, account)

    def admitted(self, c: Connection) -> tuple[str, ...]:
        """By what the server has been told."""
        return guard.admitted(c)

    def expel(self, c: Connection, account: str) -> None:
        """What it sent stays."""
        guard.expel(c, account)


def password_of(url: URL) -> str:
    """The password for a server: of the environment, else of the system's keyring."""
    if PASSWORD in os.environ:
        return os.environ[PASSWORD]
    import keyring
    from keyring.errors import KeyringError

    try:
        return keyring.get_password(SERVICE, _who(url)) or ""
    except KeyringError:
        return ""  # the server says whether it wants one


def keep_password(where: str, password: str) -> None:
    """Keep the password for a server in the system's keyring.

    Raises:
        Problem: there is no keyring.
    """
    import keyring
    from keyring.errors import KeyringError

    try:
        keyring.set_password(SERVICE, _who(make_url(where)), password)
    except KeyringError as error:
        raise Problem(
            f"The system's keyring does not take it ({error}). Unlock it, or set {PASSWORD} for "
            "this machine."
        ) from error


def _who(url: URL) -> str:
    return f"{url.username or ''}@{url.host or ''}/{url.database or ''}"
