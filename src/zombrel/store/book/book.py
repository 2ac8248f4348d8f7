"""The book: jobs put in, taken out, brought up to date, and asked.

SQLite with its full-text index FTS5.
"""

from __future__ import annotations

import contextlib
import os
from collections import defaultdict
from collections.abc import Callable, Iterable, Iterator, Sequence
from pathlib import Path
from typing import Any

from msgspec.structs import asdict
from sqlalchemy import (
    Connection,
    delete,
    func,
    insert,
    select,
)
from sqlalchemy.exc import DatabaseError, OperationalError

from zombrel.book.comes_back import Told
from zombrel.book.entries import entries, happened, summary, timed
from zombrel.book.entry import Entry, Happened, Summary, Timed
from zombrel.book.times import Done
from zombrel.catalog import DEMO
from zombrel.job.model import Job
from zombrel.job.problem import Problem
from zombrel.job.value import Value
from zombrel.store.atomic import set_aside
from zombrel.store.book.engines import Base, Postgres, Sqlite
from zombrel.store.book.schema import (
    DEVICES,
    EDITION,
    EDITIONS,
    ENTRIES,
    FOLDERS,
    HAPPENED,
    JOBS,
    META,
    PARTS,
    TIMED,
)
from zombrel.store.book.search import SHOWN, of_shop, search
from zombrel.store.book.words import body_of, plain
from zombrel.store.prefs import data_root, read_prefs
from zombrel.store.saved_at import saved_at
from zombrel.store.zjob import peek

PAST = DEMO
"""Made-up jobs, past and open, that show what a book is for until the shop has its own."""
BATCH = 200
"""So many jobs are put in at once."""


class Hit(Value, frozen=True):
    """One thing found, and the job it is of."""

    job: Summary
    path: str
    entry: Entry
    like: int
    """How well its vehicle suits; 0 for another."""


class Report(Value, frozen=True):
    """What bringing the book up to date came to."""

    read: int
    same: int
    gone: int
    wrong: tuple[str, ...]
    """What is wrong with each file that cannot be read."""


Tell = Callable[[float], bool]
Stat = tuple[int, int]


def book_server() -> str:
    """The address of the server that the user has set; empty: the book lies on this machine."""
    return os.environ.get("ZOMBREL_BOOK", "") or read_prefs()[0].book_server


def book_file() -> Path:
    """Where the index of the shop's jobs lies."""
    return data_root() / "book.sqlite"


class Book:
    """An open book; one is opened for each use and closed again."""

    def __init__(self, base: Base) -> None:
        self._base = base
        self._engine = base.engine()

    @classmethod
    @contextlib.contextmanager
    def opened(cls, file: Path | None = None, where: str | None = None) -> Iterator[Book]:
        """The shop's book, made where there is none; a file that is damaged is set aside.

        ``where`` is the address of a server; without it and without a ``file``, the one that the
        user has set, else the file on this machine.

        Raises:
            Problem: there is nowhere to keep it, or the server does not answer.
        """
        address = where if where is not None else "" if file is not None else book_server()
        if address:
            opened = cls._on_server(Postgres(address))
        else:
            opened = cls._in_file(book_file() if file is None else file)
        try:
            yield opened
        finally:
            opened._engine.dispose()

    @classmethod
    def _on_server(cls, base: Postgres) -> Book:
        book = cls(base)
        try:
            book._ready()
        except DatabaseError as error:
            book._engine.dispose()
            said = (str(error.orig).strip().splitlines() or [str(error)])[0]
            shut = "permission denied" in said
            more = (
                "Whoever made the book must let this account in (Job book, F12). " if shut else ""
            )
            raise Problem(
                f"The book at {base.name} cannot be reached: {said}. {more}"
                "Your jobs lie in their files and can be worked on."
            ) from error
        return book

    @classmethod
    def _in_file(cls, path: Path) -> Book:
        try:
            path.parent.mkdir(parents=True, exist_ok=True)
        except OSError as error:
            raise Problem(f"{path.parent} cannot be written: {error.strerror}.") from error
        book = cls(Sqlite(path))
        try:
            book._ready()
        except OperationalError as error:
            book._engine.dispose()
            raise Problem(f"The book {path} cannot be opened: {error.orig}.") from error
        except DatabaseError:
            book._engine.dispose()
            set_aside(path)
            book = cls(Sqlite(path))
            book._ready()
        return book

    def _ready(self) -> None:
        """The tables of this edition; those of another are made anew, folders and all."""
        with self._writing() as c:
            META.create_all(c)
            edition = c.scalar(select(EDITIONS.c.number))
            if edition not in (None, EDITION) and (account := self._base.account(c)):
                raise Problem(
                    f"The book is of another edition, and {account} may not make it anew: have it "
                    "opened once by the account it belongs to."
                )
            if edition is None:
                c.execute(insert(EDITIONS).values(number=EDITION))
            elif edition != EDITION:
                kept: list[str] = list(c.scalars(select(FOLDERS.c.path)))
                self._base.drop(c)
                META.drop_all(c, tables=[*PARTS, JOBS, FOLDERS, EDITIONS])
                META.create_all(c)
                c.execute(insert(EDITIONS).values(number=EDITION))
                if kept:
                    c.execute(insert(FOLDERS), [{"path": p} for p in kept])
            self._base.ready(c)

    @contextlib.contextmanager
    def _writing(self) -> Iterator[Connection]:
        """All of it or nothing; another window that writes is waited for first."""
        with self._engine.connect() as c:
            self._base.begin(c)
            try:
                yield c
            except BaseException:
                c.exec_driver_sql("ROLLBACK")
                raise
            c.exec_driver_sql("COMMIT")

    # ---- what is in it

    def folders(self) -> tuple[Path, ...]:
        """Folders whose jobs belong to it."""
        with self._engine.connect() as c:
            paths: list[str] = list(c.scalars(select(FOLDERS.c.path)))
        return tuple(Path(p) for p in paths)

    def watch(self, folder: Path) -> None:
        """Jobs in ``folder`` belong to it from now on.

        Raises:
            Problem: it is no folder.
        """
        if not folder.is_dir():
            raise Problem(f"There is no folder {folder}.")
        path = str(folder.resolve())
        with self._writing() as c:
            if c.scalar(select(FOLDERS.c.path).where(FOLDERS.c.path == path)) is None:
                c.execute(insert(FOLDERS).values(path=path))

    def put(self, path: Path, job: Job) -> None:
        """A job that was just saved at ``path``."""
        stat = path.stat()
        with self._writing() as c:
            _out(self._base, c, [str(path)])
            _in(self._base, c, [(str(path), (stat.st_mtime_ns, stat.st_size), job, "")])

    def refresh(self, tell: Tell = lambda share: True, anew: bool = False) -> Report:
        """Look at every file again: what is new or changed is read, what is gone leaves.

        With ``anew`` everything is read. ``tell`` hears how far it is; giving up keeps what was
        read until then.
        """
        known = self._known()
        files = self._files(known)
        if anew:
            known = {}
        stats = {p: _stat(p) for p in files}
        there = {p: s for p, s in stats.items() if s is not None}
        gone = [p for p in (self._known() if anew else known) if p not in there]
        changed = [p for p, s in there.items() if known.get(p) != s]
        with self._writing() as c:
            _out(self._base, c, gone)
        wrong: list[str] = []
        for i in range(0, len(changed), BATCH):
            if not tell(i / max(len(changed), 1)):
                break
            read = [_read(p, there[p]) for p in changed[i : i + BATCH]]
            wrong += [w for *_, w in read if w]
            with self._writing() as c:
                _out(self._base, c, [p for p, *_ in read])
                _in(self._base, c, read)
        return Report(len(changed) - len(wrong), len(there) - len(changed), len(gone), tuple(wrong))

    def _known(self) -> dict[str, Stat]:
        with self._engine.connect() as c:
            found: Any = c.execute(select(JOBS.c.path, JOBS.c.mtime_ns, JOBS.c.size))
            return {path: (mtime, size) for path, mtime, size in found}

    def _files(self, known: Iterable[str]) -> list[str]:
        """Every job file that belongs to it: of its folders, and those put in by themselves."""
        found = dict.fromkeys(p for p in known if not p.startswith(str(PAST)))
        found |= dict.fromkeys(saved_at())
        for folder in self.folders():
            found |= dict.fromkeys(str(p) for p in sorted(folder.rglob("*.zjob")))
        own = dict.fromkeys(str(p) for p in sorted(PAST.rglob("*.zjob")))
        return list(found | own)

    # ---- what is asked

    def jobs(self, synthetic: bool) -> tuple[tuple[Summary, str], ...]:
        """Every job with the path of its file, the newest number first."""
        with self._engine.connect() as c:
            asked = select(JOBS).where(JOBS.c.wrong == "")
            rows = c.execute(of_shop(asked, synthetic).order_by(JOBS.c.number.desc())).all()
            devices = _devices(c)
        return tuple((_summary(r, devices[r.id]), r.path) for r in rows)

    def has_own(self) -> bool:
        """Whether the shop has a job of its own in it."""
        with self._engine.connect() as c:
            own = select(func.count()).select_from(JOBS)
            return bool(c.scalar(own.where(JOBS.c.synthetic.is_(False), JOBS.c.wrong == "")))

    def find(
        self, asked: str, synthetic: bool, vehicle: str = "", most: int = 60
    ) -> tuple[Hit, ...]:
        """What is known of these words, pins, colours or figures; the best first.

        Every word must stand with an entry or name its job. Where nothing has them all, what has
        most of them.
        """
        with self._engine.connect() as c:
            ranked = search(self._base, c, asked, synthetic, vehicle, most)
            best = SHOWN.where(ENTRIES.c.id.in_([key for key, _ in ranked]))
            rows = {r.id: r for r in c.execute(best)}
            devices = _devices(c, {r.job for r in rows.values()})
        return tuple(
            Hit(_summary(r, devices[r.job]), r.path, Entry(r.kind, r.text, r.known, r.at), like)
            # another bay may have taken one out since
            for r, like in [(rows[key], like) for key, like in ranked if key in rows]
        )

    def told(self, synthetic: bool) -> tuple[Told, ...]:
        """What came up on every job, in the order of their numbers."""
        return tuple(
            Told(about, tuple(Happened(r.kind, r.code, r.title, r.sheet) for r in rows))
            for about, rows in self._with(HAPPENED, synthetic)
        )

    def done(self, synthetic: bool) -> tuple[Done, ...]:
        """What was timed on every job."""
        return tuple(
            Done(about, tuple(Timed(r.kind, r.zone, r.minutes, r.planned) for r in rows))
            for about, rows in self._with(TIMED, synthetic)
        )

    def _with(self, table: Any, synthetic: bool) -> Iterator[tuple[Summary, Sequence[Any]]]:
        with self._engine.connect() as c:
            asked = select(JOBS).where(JOBS.c.wrong == "")
            jobs = c.execute(of_shop(asked, synthetic).order_by(JOBS.c.number)).all()
            devices = _devices(c)
            held: dict[int, list[Any]] = defaultdict(list)
            for row in c.execute(select(table).order_by(table.c.id)):
                held[row.job].append(row)
        for r in jobs:
            yield _summary(r, devices[r.id]), held[r.id]

    def check(self) -> tuple[str, ...]:
        """What is wrong with it: damaged pages, entries without a job, files that differ."""
        said: list[str] = []
        with self._engine.connect() as c:
            told = self._base.check(c)
            if told:
                said.append(f"The book is damaged: {told}. Index it anew.")
            lost = select(func.count()).select_from(ENTRIES).where(ENTRIES.c.job.notin_(
                select(JOBS.c.id)))  # fmt: skip
            if c.scalar(lost):
                said.append("Entries belong to no job: index it anew.")
            asked = select(JOBS.c.path, JOBS.c.mtime_ns, JOBS.c.size, JOBS.c.wrong)
            rows: Any = c.execute(asked).all()
        for path, mtime, size, wrong in rows:
            stat = _stat(path)
            if stat is None:
                said.append(f"{path} is gone.")
            elif stat != (mtime, size):
                said.append(f"{path} was changed outside.")
            elif wrong:
                said.append(f"{path}: {wrong}")
        return tuple(said)


def _stat(path: str) -> Stat | None:
    try:
        stat = Path(path).stat()
    except OSError:
        return None
    return stat.st_mtime_ns, stat.st_size


Read = tuple[str, Stat, Job, str]


def _read(path: str, stat: Stat) -> Read:
    """A job for the book, or why it cannot be read."""
    try:
        return path, stat, peek(Path(path)), ""
    except Problem as problem:
        return path, stat, Job(), str(problem)


def _devices(c: Connection, jobs: set[int] | None = None) -> dict[int, list[tuple[str, str]]]:
    held: dict[int, list[tuple[str, str]]] = defaultdict(list)
    asked = select(DEVICES.c.job, DEVICES.c.sheet, DEVICES.c.name).order_by(DEVICES.c.id)
    if jobs is not None:
        asked = asked.where(DEVICES.c.job.in_(jobs))
    rows: Any = c.execute(asked)
    for job, sheet, name in rows:
        held[job].append((sheet, name))
    return held


def _summary(r: Any, devices: Sequence[tuple[str, str]]) -> Summary:
    return Summary(
        r.number, r.title, r.vehicle, r.owner, tuple(devices), r.begun, r.due, r.state,
        bool(r.synthetic),
    )  # fmt: skip


def _out(base: Base, c: Connection, paths: Sequence[str]) -> None:
    """Jobs and all that belongs to them out of the book."""
    for i in range(0, len(paths), BATCH):
        some = select(JOBS.c.id).where(JOBS.c.path.in_(paths[i : i + BATCH]))
        ids: list[int] = list(c.scalars(some))
        if not ids:
            continue
        base.take_out(c, ids)
        for table in PARTS:
            c.execute(delete(table).where(table.c.job.in_(ids)))
        c.execute(delete(JOBS).where(JOBS.c.id.in_(ids)))


def _in(base: Base, c: Connection, read: Sequence[Read]) -> None:
    """Jobs into the book, many lines at once."""
    if not read:
        return
    first_job = (c.scalar(select(func.max(JOBS.c.id))) or 0) + 1
    first_entry = (c.scalar(select(func.max(ENTRIES.c.id))) or 0) + 1
    rows: dict[str, list[dict[str, Any]]] = defaultdict(list)
    for key, (path, stat, job, wrong) in enumerate(read, first_job):
        about = summary(job)
        told = {k: v for k, v in asdict(about).items() if k != "devices"}
        named = (about.number, about.title, about.vehicle, *(n for _, n in about.devices))
        rows["jobs"].append(
            {"id": key, "path": path, "mtime_ns": stat[0], "size": stat[1], "wrong": wrong}
            | {"head": plain(" ".join(named))}
            | told
        )
        rows["devices"] += [{"job": key, "sheet": s, "name": n} for s, n in about.devices]
        rows["timed"] += [{"job": key} | asdict(t) for t in timed(job)]
        rows["happened"] += [{"job": key} | asdict(h) for h in happened(job)]
        for e in entries(job):
            rows["entries"].append({"job": key} | asdict(e) | {"body": body_of(e.text)})
    for i, row in enumerate(rows["entries"], first_entry):
        row["id"] = i
    for table in (JOBS, *PARTS):
        if rows[table.name]:
            c.execute(insert(table), rows[table.name])
    if rows["entries"]:
        base.put_in(c, first_entry)
