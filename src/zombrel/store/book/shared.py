"""One job that several bays work on: sent, brought together, each part in one hand at a time.

Every version that anybody sent is kept. Who worked on from an older one is merged into the newest
(``book.merge``); what two changed and not alike stays as the job had it, with the other value
beside.
"""

from __future__ import annotations

from typing import Any

import msgspec
from sqlalchemy import Connection, delete, func, insert, select, update

from zombrel.book.merge import HELD, Apart, merge
from zombrel.job.differences import differences
from zombrel.job.model import Job
from zombrel.job.problem import Problem
from zombrel.job.value import Value
from zombrel.store import log_files
from zombrel.store.book.book import Book
from zombrel.store.book.schema import APARTS, FILES, HOLDS, RIGHTS, SHARED, VERSIONS
from zombrel.store.zjob import belonging, job_of

LONGEST = 4000


class About(Value, frozen=True):
    """A shared job, without what is in it."""

    id: int
    number: str
    title: str
    version: int
    who: str
    """Who sent it last."""
    at: str


class Hold(Value, frozen=True):
    """A part that somebody has in hand."""

    part: str
    who: str
    place: str
    since: str

    @property
    def words(self) -> str:
        """``devices.pace: Ada, bay 1, since 10:12``"""
        return f"{self.part}: {self.who}, {self.place}, since {self.since}"


class Sent(Value, frozen=True):
    """What sending came to."""

    version: int
    job: Job
    """As it is on the server now."""
    apart: tuple[Apart, ...]
    """What somebody else changed differently: the job has theirs, mine is kept beside."""


class People(Value, frozen=True):
    """Who works with a book, and who may what."""

    account: str
    """Whose account is at work; empty for the one that the book belongs to."""
    admitted: tuple[str, ...]
    """Other accounts of the server that work with it."""
    allowed: tuple[str, ...]
    """Who may change the house rules; nobody named: all may."""


class Shared:
    """The shared jobs of a book."""

    def __init__(self, book: Book) -> None:
        self._book = book

    def jobs(self) -> tuple[About, ...]:
        """All of them, the one that was sent last first."""
        last = select(
            VERSIONS.c.shared, VERSIONS.c.version, VERSIONS.c.who, VERSIONS.c.at
        ).subquery()
        asked = (
            select(SHARED, last.c.who, last.c.at)
            .join(last, (last.c.shared == SHARED.c.id) & (last.c.version == SHARED.c.version))
            .order_by(last.c.at.desc(), SHARED.c.id.desc())
        )
        with self._book._engine.connect() as c:
            rows: Any = c.execute(asked).all()
        return tuple(About(r.id, r.number, r.title, r.version, r.who, r.at) for r in rows)

    def put_up(self, job: Job, who: str, at: str) -> int:
        """A job that the others may work on from now on: its number here, as version 1."""
        _named(who)
        with self._book._writing() as c:
            key = (c.scalar(select(func.max(SHARED.c.id))) or 0) + 1
            row = {"id": key, "number": job.number, "title": job.title, "version": 1}
            c.execute(insert(SHARED).values(row))
            _keep(c, key, 1, job, who, at)
        return key

    def fetch(self, key: int, version: int | None = None) -> tuple[int, Job]:
        """A version of a shared job, the newest without one; it says so of itself.

        Raises:
            Problem: there is none.
        """
        with self._book._engine.connect() as c:
            number, job = _fetched(c, key, version)
            _bring_files(c, job)
        return number, msgspec.structs.replace(job, shared=f"{key}.{number}")

    def send(self, key: int, base: int, mine: Job, who: str, at: str) -> Sent:
        """What was done since version ``base``, brought together with what others did.

        What is sent as it is already is no new version.

        Raises:
            Problem: the job is not there, house rules were changed by one who may not, or the two
                do not go together: then nothing is sent, and mine is where it was.
        """
        _named(who)
        with self._book._writing() as c:
            mine = msgspec.structs.replace(mine, shared="")
            now, theirs = _fetched(c, key, None)
            _, was = _fetched(c, key, base)
            self._may(c, was, mine, who)
            mine, kept = _without_held(c, key, was, mine, who)
            merged = merge(was, theirs, mine)
            if merged.whole:
                raise Problem(f"{merged.whole}. Yours is as it was: fetch theirs, and do it anew.")
            apart = (*kept, *merged.apart)
            version = now
            if merged.job != theirs or apart:
                version = now + 1
                c.execute(update(SHARED).where(SHARED.c.id == key).values(
                    version=version, number=merged.job.number, title=merged.job.title))  # fmt: skip
                _keep(c, key, version, merged.job, who, at)
            for a in apart:
                _keep_apart(c, key, version, a, who, at)
        job = msgspec.structs.replace(merged.job, shared=f"{key}.{version}")
        return Sent(version, job, apart)

    def aparts(self, key: int) -> tuple[dict[str, str], ...]:
        """What is kept beside a job, the newest first: path, both values, whose."""
        with self._book._engine.connect() as c:
            asked = select(APARTS).where(APARTS.c.shared == key).order_by(APARTS.c.id.desc())
            rows: Any = c.execute(asked).all()
        names = ("path", "theirs", "mine", "who", "at")
        return tuple({n: getattr(r, n) for n in names} for r in rows)

    # ---- parts in hand

    def hold(
        self, key: int, part: str, who: str, place: str, since: str, over: bool = False
    ) -> None:
        """Take a part in hand; ``over`` from whoever has it and went home.

        Raises:
            Problem: somebody else has it.
        """
        _named(who)
        if part.partition(".")[0] not in HELD or "." not in part:
            raise Problem(
                f"“{part}” is no part: say devices.pace, connectors.D2 or chains.speed-pace."
            )
        with self._book._writing() as c:
            _fetched(c, key, None)
            for h in _holds(c, key):
                if h.part == part and h.who != who and over:
                    c.execute(delete(HOLDS).where(HOLDS.c.shared == key, HOLDS.c.part == part))
                elif h.part == part and h.who != who:
                    raise Problem(
                        f"{h.who} has {part} in hand at {h.place} since {h.since}: ask, or take "
                        "another part. What you do to it meanwhile is kept beside theirs."
                    )
                elif h.part == part:
                    return
            key_hold = (c.scalar(select(func.max(HOLDS.c.id))) or 0) + 1
            row = {"id": key_hold, "shared": key, "part": part, "who": who, "place": place}
            c.execute(insert(HOLDS).values(row | {"since": since}))

    def let_go(self, key: int, part: str, who: str) -> None:
        """Put a part down; one that another has stays theirs."""
        with self._book._writing() as c:
            mine = (HOLDS.c.shared == key, HOLDS.c.part == part, HOLDS.c.who == who)
            c.execute(delete(HOLDS).where(*mine))

    def holds(self, key: int) -> tuple[Hold, ...]:
        """Parts of a job that are in somebody's hand."""
        with self._book._engine.connect() as c:
            return _holds(c, key)

    # ---- house rules

    def allow(self, who: str, by: str) -> None:
        """From now on ``who`` may change the house rules; the first may be let by anybody.

        ``who`` is an account of the server where each has their own, else a name.

        Raises:
            Problem: ``by`` may not say so.
        """
        _named(who)
        with self._book._writing() as c:
            allowed = self._may_say(c, by)
            if who not in allowed:
                c.execute(insert(RIGHTS).values(who=who))

    def forbid(self, who: str, by: str) -> None:
        """From now on ``who`` may not change the house rules any more.

        Raises:
            Problem: ``by`` may not say so, or nobody would be left who may.
        """
        with self._book._writing() as c:
            allowed = self._may_say(c, by)
            if who not in allowed:
                raise Problem(f"{who or 'Nobody'} is not among those who may: {_listed(allowed)}.")
            if len(allowed) == 1:
                raise Problem(
                    f"{who} is the only one who may change the house rules: without a name "
                    "everybody may. Name another first."
                )
            c.execute(delete(RIGHTS).where(RIGHTS.c.who == who))

    def _may_say(self, c: Connection, by: str) -> tuple[str, ...]:
        """Who may change the house rules, when ``by`` may say who does."""
        allowed, account = _allowed(c), self._book._base.account(c)
        by = account or by
        if (allowed or account) and by not in allowed:
            raise Problem(f"{by or 'Nobody'} may not say who changes the house rules.")
        return allowed

    def admit(self, account: str) -> None:
        """Let another account of the server work with the book.

        Raises:
            Problem: the server does not know it, there is no server, or the book is another's.
        """
        with self._book._writing() as c:
            self._book._base.admit(c, account)

    def expel(self, account: str) -> None:
        """Let an account in no longer; what it sent stays.

        Raises:
            Problem: it was not let in, there is no server, or the book is another's.
        """
        with self._book._writing() as c:
            self._book._base.expel(c, account)

    def allowed(self) -> tuple[str, ...]:
        """Who may change the house rules; nobody named: all may."""
        with self._book._engine.connect() as c:
            return _allowed(c)

    def people(self) -> People:
        """Who works with the book, and who may what."""
        base = self._book._base
        with self._book._engine.connect() as c:
            return People(base.account(c), base.admitted(c), _allowed(c))

    def _may(self, c: Connection, was: Job, mine: Job, who: str) -> None:
        allowed, who = _allowed(c), self._book._base.account(c) or who
        if was.house == mine.house or not allowed or who in allowed:
            return
        changed = differences(
            msgspec.structs.replace(Job(), house=was.house),
            msgspec.structs.replace(Job(), house=mine.house),
            3,
        )
        raise Problem(
            f"{who} may not change the house rules ({'; '.join(changed)}): "
            f"{_listed(allowed)} may. Take that back and send the rest."
        )


def _listed(names: tuple[str, ...]) -> str:
    return ", ".join(names) or "nobody is named"


def _named(who: str) -> None:
    if not who.strip():
        raise Problem("Say who you are: what is sent is told apart by that.")


def _allowed(c: Connection) -> tuple[str, ...]:
    found: Any = c.scalars(select(RIGHTS.c.who).order_by(RIGHTS.c.who)).all()
    return tuple(found)


def _holds(c: Connection, key: int) -> tuple[Hold, ...]:
    asked = select(HOLDS).where(HOLDS.c.shared == key).order_by(HOLDS.c.part)
    rows: Any = c.execute(asked).all()
    return tuple(Hold(r.part, r.who, r.place, r.since) for r in rows)


def _keep(c: Connection, key: int, version: int, job: Job, who: str, at: str) -> None:
    row_id = (c.scalar(select(func.max(VERSIONS.c.id))) or 0) + 1
    row = {"id": row_id, "shared": key, "version": version, "content": _bytes(job)}
    c.execute(insert(VERSIONS).values(row | {"who": who, "at": at}))
    _take_files(c, job)


def _take_files(c: Connection, job: Job) -> None:
    """Logs and photos of a job onto the server, those that it has not; none that is not here."""
    for sha in belonging(job):
        there = c.scalar(select(FILES.c.sha).where(FILES.c.sha == sha))
        if there is None and log_files.packed(sha).exists():
            c.execute(insert(FILES).values(sha=sha, content=log_files.packed(sha).read_bytes()))


def _bring_files(c: Connection, job: Job) -> None:
    """Logs and photos of a job from the server, those that are not here."""
    for sha, name in belonging(job).items():
        if not log_files.packed(sha).exists():
            content: Any = c.scalar(select(FILES.c.content).where(FILES.c.sha == sha))
            if content is not None:
                log_files.restore(sha, bytes(content), name)


def _bytes(job: Job) -> bytes:
    """Without its number here: that is said of every copy anew."""
    return msgspec.json.encode(msgspec.structs.replace(job, shared=""))


def _keep_apart(c: Connection, key: int, version: int, apart: Apart, who: str, at: str) -> None:
    row_id = (c.scalar(select(func.max(APARTS.c.id))) or 0) + 1
    row = {"id": row_id, "shared": key, "version": version, "path": apart.path}
    told = {"theirs": _text(apart.theirs), "mine": _text(apart.mine), "who": who, "at": at}
    c.execute(insert(APARTS).values(row | told))


def _text(value: Any) -> str:
    if not isinstance(value, str | int | float | bool | list | dict | None):
        return "taken away"
    return msgspec.json.encode(value).decode()


def _fetched(c: Connection, key: int, version: int | None) -> tuple[int, Job]:
    asked = select(VERSIONS.c.version, VERSIONS.c.content).where(VERSIONS.c.shared == key)
    if version is not None:
        asked = asked.where(VERSIONS.c.version == version)
    row: Any = c.execute(asked.order_by(VERSIONS.c.version.desc()).limit(1)).first()
    if row is None:
        what = "" if version is None else f" in version {version}"
        raise Problem(f"The book has no shared job {key}{what}.")
    return int(row.version), job_of(bytes(row.content), f"shared job {key}")


def _without_held(
    c: Connection, key: int, was: Job, mine: Job, who: str
) -> tuple[Job, tuple[Apart, ...]]:
    """Mine without what was done to parts that others have in hand; that is told apart."""
    kept: list[Apart] = []
    for h in _holds(c, key):
        if h.who == who:
            continue
        kind, _, name = h.part.partition(".")
        old, new = (_item(j, kind, name) for j in (was, mine))
        if old == new:
            continue
        kept.append(Apart(h.part, _plain(old), _plain(old), _plain(new)))
        items = [x for x in getattr(mine, kind) if _name(x) != name]
        if old is not None:
            items.append(old)
        mine = msgspec.structs.replace(mine, **{kind: tuple(items)})
    return mine, tuple(kept)


def _name(item: Any) -> str:
    return str(item.id)


def _item(job: Job, kind: str, name: str) -> Any:
    return next((x for x in getattr(job, kind) if _name(x) == name), None)


def _plain(item: Any) -> Any:
    return None if item is None else msgspec.json.decode(msgspec.json.encode(item))
