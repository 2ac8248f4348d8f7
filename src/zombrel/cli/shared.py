"""``shared``: one job that several people work on."""

from __future__ import annotations

import argparse
from collections.abc import Callable
from datetime import datetime
from pathlib import Path
from typing import Any

import msgspec

from zombrel.calc.job import open_job
from zombrel.cli.parser import add_commands, free, say
from zombrel.store.book.book import Book
from zombrel.store.book.shared import Shared
from zombrel.store.zjob import save
from zombrel.units import METRIC, words

DOES: dict[str, tuple[str, str]] = {
    "list": ("", "jobs that several bays work on"),
    "put": ("job --by", "one more of them"),
    "fetch": ("id --version out=zjob", "a job as it is now, or was"),
    "send": ("id job --since --by out=zjob", "bring mine together with theirs"),
    "hold": ("id part --by --place --over", "take a part of a job, as devices.pace, in hand"),
    "drop": ("id part --by", "put it down"),
    "holds": ("id", "what is in hand"),
    "beside": ("id", "what two changed differently"),
    "allow": ("name --by", "who may change the house rules"),
    "forbid": ("name --by", "who may not any more"),
    "admit": ("account", "let an account of the server work with the book"),
    "expel": ("account", "let it no longer; what it sent stays"),
}
"""By name: what it takes, and what it does."""
TAKES: dict[str, dict[str, Any]] = {
    "id": {"type": int, "metavar": "ID", "help": "number of a job, as list gives it"},
    "part": {"metavar": "PART", "help": "a path, as devices.pace"},
    "name": {"metavar": "NAME", "help": "who"},
    "account": {"metavar": "ACCOUNT", "help": "an account of the server"},
    "--by": {"metavar": "NAME", "default": "", "help": "who you are"},
    "--place": {"default": "another bay", "help": "where"},
    "--over": {"action": "store_true", "help": "from whoever has it"},
    "--version": {"type": int, "metavar": "N", "help": "an earlier one"},
    "--since": {"type": int, "metavar": "N", "required": True, "help": "version you began with"},
}


def declare(parser: argparse.ArgumentParser) -> None:
    """What it takes."""
    add_commands(parser, DOES, TAKES)


def run(asked: argparse.Namespace) -> int:
    """Ask for, send and hold shared jobs."""
    if "out" in asked:
        free(asked.out, asked.force)
    with Book.opened() as book:
        return say(_RUN[asked.does](Shared(book), asked))


def _now() -> str:
    return f"{datetime.now():%Y-%m-%d %H:%M}"


def _list(held: Shared, asked: argparse.Namespace) -> object:
    return [msgspec.structs.asdict(a) for a in held.jobs()]


def _put(held: Shared, asked: argparse.Namespace) -> object:
    return {"id": held.put_up(open_job(asked.job), asked.by, _now()), "version": 1}


def _fetch(held: Shared, asked: argparse.Namespace) -> object:
    found, job = held.fetch(asked.id, asked.version)
    save(job, Path(asked.out))
    return {"id": asked.id, "version": found, "written": asked.out}


def _send(held: Shared, asked: argparse.Namespace) -> object:
    sent = held.send(asked.id, asked.since, open_job(asked.job), asked.by, _now())
    save(sent.job, Path(asked.out))
    told = {"id": asked.id, "version": sent.version, "written": asked.out}
    return told | {"apart": [words(a.words, METRIC) for a in sent.apart]}


def _hold(held: Shared, asked: argparse.Namespace) -> object:
    held.hold(asked.id, asked.part, asked.by, asked.place, _now(), asked.over)
    return _holds(held, asked)


def _drop(held: Shared, asked: argparse.Namespace) -> object:
    held.let_go(asked.id, asked.part, asked.by)
    return _holds(held, asked)


def _holds(held: Shared, asked: argparse.Namespace) -> object:
    return [msgspec.structs.asdict(h) for h in held.holds(asked.id)]


def _beside(held: Shared, asked: argparse.Namespace) -> object:
    return list(held.aparts(asked.id))


def _allow(held: Shared, asked: argparse.Namespace) -> object:
    held.allow(asked.name, asked.by)
    return {"may change the house rules": list(held.allowed())}


def _forbid(held: Shared, asked: argparse.Namespace) -> object:
    held.forbid(asked.name, asked.by)
    return {"may change the house rules": list(held.allowed())}


def _admit(held: Shared, asked: argparse.Namespace) -> object:
    held.admit(asked.account)
    return {"works with the book": asked.account}


def _expel(held: Shared, asked: argparse.Namespace) -> object:
    held.expel(asked.account)
    return {"no longer works with the book": asked.account}


_RUN: dict[str, Callable[[Shared, argparse.Namespace], object]] = {
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
