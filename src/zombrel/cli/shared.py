"""``shared`` and ``merge``: one job that several people work on."""

from __future__ import annotations

import json
from collections.abc import Callable, Sequence
from datetime import datetime
from pathlib import Path

import msgspec

from zombrel.book.merge import merge as put_together
from zombrel.calc.job import open_job
from zombrel.cli.option import option
from zombrel.job.problem import Problem
from zombrel.store.book.book import Book
from zombrel.store.book.shared import Shared
from zombrel.store.zjob import save
from zombrel.units import METRIC, words

USAGE = """shared list                                    jobs that several bays work on
shared put JOB --by NAME                       one more of them
shared fetch ID --out F.zjob [--version N]     as it is now, or was
shared send ID JOB --since N --by NAME --out F.zjob   bring mine together with theirs
shared hold ID PART --by NAME --place WHERE [--over]   take devices.pace in hand; over: from whoever
shared drop ID PART --by NAME                  put it down
shared holds ID, shared beside ID              what is in hand; what two changed differently
shared allow NAME [--by NAME]                  who may change the house rules
shared forbid NAME --by NAME                   who may not any more
shared admit ACCOUNT                           let an account of the server work with the book
shared expel ACCOUNT                           let it no longer; what it sent stays
merge BASE THEIRS MINE --out F.zjob            put together what two did since BASE"""


def shared(argv: Sequence[str]) -> int:
    """Ask for, send and hold shared jobs."""
    typed = list(argv)
    if not typed or typed[0] not in _DOES:
        raise Problem(f"usage:\n{USAGE}")
    with Book.opened() as book:
        return _DOES[typed[0]](Shared(book), typed[1:])


def merge(argv: Sequence[str]) -> int:
    """Put together what two did since they had one job."""
    typed = list(argv)
    out = option(typed, "--out", USAGE)
    target = _free(out)
    base, theirs, mine = (open_job(word) for word in _only(typed, 3))
    found = put_together(base, theirs, mine)
    if found.whole:
        raise Problem(found.whole)
    save(found.job, target)
    return _say({"written": out, "apart": [words(a.words, METRIC) for a in found.apart]})


def _say(value: object) -> int:
    print(json.dumps(value, ensure_ascii=False, indent=1))
    return 0


def _now() -> str:
    return f"{datetime.now():%Y-%m-%d %H:%M}"


def _number(word: str) -> int:
    if not word.isdecimal():
        raise Problem(f"“{word}” is no number: shared list gives those of the jobs.")
    return int(word)


def _only(typed: list[str], count: int) -> list[str]:
    if len(typed) != count:
        raise Problem(f"usage:\n{USAGE}")
    return typed


def _free(out: str) -> Path:
    if not out:
        raise Problem(f"--out F.zjob is wanted.\n{USAGE}")
    if Path(out).exists():
        raise Problem(f"{out} exists already: give another name.")
    return Path(out)


def _list(held: Shared, typed: list[str]) -> int:
    _only(typed, 0)
    return _say([msgspec.structs.asdict(a) for a in held.jobs()])


def _put(held: Shared, typed: list[str]) -> int:
    by = option(typed, "--by", USAGE)
    (word,) = _only(typed, 1)
    return _say({"id": held.put_up(open_job(word), by, _now()), "version": 1})


def _fetch(held: Shared, typed: list[str]) -> int:
    out, version = _free(option(typed, "--out", USAGE)), option(typed, "--version", USAGE)
    (word,) = _only(typed, 1)
    found, job = held.fetch(_number(word), _number(version) if version else None)
    save(job, out)
    return _say({"id": int(word), "version": found, "written": str(out)})


def _send(held: Shared, typed: list[str]) -> int:
    by, since, out = (
        option(typed, "--by", USAGE),
        option(typed, "--since", USAGE),
        option(typed, "--out", USAGE),
    )
    target = _free(out)
    word, mine = _only(typed, 2)
    sent = held.send(_number(word), _number(since), open_job(mine), by, _now())
    save(sent.job, target)
    told = {"id": int(word), "version": sent.version, "written": out}
    return _say(told | {"apart": [words(a.words, METRIC) for a in sent.apart]})


def _hold(held: Shared, typed: list[str]) -> int:
    by, place = option(typed, "--by", USAGE), option(typed, "--place", USAGE)
    over = "--over" in typed
    word, part = _only([t for t in typed if t != "--over"], 2)
    held.hold(_number(word), part, by, place or "another bay", _now(), over)
    return _holds(held, [word])


def _drop(held: Shared, typed: list[str]) -> int:
    by = option(typed, "--by", USAGE)
    word, part = _only(typed, 2)
    held.let_go(_number(word), part, by)
    return _holds(held, [word])


def _holds(held: Shared, typed: list[str]) -> int:
    (word,) = _only(typed, 1)
    return _say([msgspec.structs.asdict(h) for h in held.holds(_number(word))])


def _beside(held: Shared, typed: list[str]) -> int:
    (word,) = _only(typed, 1)
    return _say(list(held.aparts(_number(word))))


def _allow(held: Shared, typed: list[str]) -> int:
    by = option(typed, "--by", USAGE)
    (who,) = _only(typed, 1)
    held.allow(who, by)
    return _say({"may change the house rules": list(held.allowed())})


def _forbid(held: Shared, typed: list[str]) -> int:
    by = option(typed, "--by", USAGE)
    (who,) = _only(typed, 1)
    held.forbid(who, by)
    return _say({"may change the house rules": list(held.allowed())})


def _admit(held: Shared, typed: list[str]) -> int:
    (account,) = _only(typed, 1)
    held.admit(account)
    return _say({"works with the book": account})


def _expel(held: Shared, typed: list[str]) -> int:
    (account,) = _only(typed, 1)
    held.expel(account)
    return _say({"no longer works with the book": account})


_DOES: dict[str, Callable[[Shared, list[str]], int]] = {
    "list": _list,
    "put": _put,
    "fetch": _fetch,
    "send": _send,
    "hold": _hold,
    "drop": _drop,
    "holds": _holds,
    "beside": _beside,
    "allow": _allow,
    "forbid": _forbid,
    "admit": _admit,
    "expel": _expel,
}
