"""``book``: the shop's jobs found, taken over, planned, ordered for, backed up."""

from __future__ import annotations

import argparse
import time
from collections.abc import Callable
from datetime import date, datetime
from pathlib import Path
from typing import Any

import msgspec

from zombrel.book.comes_back import recurring
from zombrel.book.reuse import use
from zombrel.book.stock import to_csv
from zombrel.book.times import by_device, by_task, estimate
from zombrel.book.times import words as time_words
from zombrel.book.week import ics
from zombrel.calc.job import open_job
from zombrel.catalog.sheets import shelf
from zombrel.cli.parser import add_commands, free, say
from zombrel.job.edits import apply
from zombrel.job.model import House, Job
from zombrel.job.problem import Problem
from zombrel.job.validate import validate
from zombrel.plan.day import clock_of, work_order
from zombrel.store.atomic import write_atomically
from zombrel.store.book.backup import backup, look, restore
from zombrel.store.book.book import Book, Hit
from zombrel.store.book.desk import loads, open_jobs, planned, to_order
from zombrel.store.book.exchange import accept, give
from zombrel.store.book.exchange import look as shown
from zombrel.store.book.shop import load_shop, load_stock, save_stock
from zombrel.store.plug_library import kept_plugs
from zombrel.store.prefs import read_prefs, save_prefs, user_sheets
from zombrel.store.shelf_files import is_own
from zombrel.store.zjob import peek, save
from zombrel.units import METRIC, words

MOST = 1000
HERE = "this-machine"
MANY = 1e9
DOES: dict[str, tuple[str, str]] = {
    "find": ("words --like --most", "what the shop knows, by words, a pin, a colour or a figure"),
    "index": ("folders --anew", "look at the files again; folders belong to the book from then on"),
    "use": ("job --from --at out=zjob", "take over what another job knows"),
    "back": ("of", "what comes back, and times learned"),
    "week": ("out?=ics", "the bays, as JSON or as a calendar"),
    "order": ("out?=csv", "what to order by when"),
    "stock": ("counts", "what is there, as it was counted"),
    "give": ("zip --job --sheets --plugs force", "for another shop, without the owner's name"),
    "take": ("zip --yes", "look at what another shop gives; --yes takes it"),
    "server": ("address", "where the book lies"),
    "backup": ("zip force", "everything into one file, read again"),
    "restore": ("zip", "jobs and the rest from a backup"),
    "check": ("", "whether every job it knows can be read"),
}
"""By name: what it takes, and what it does."""
TAKES: dict[str, dict[str, Any]] = {
    "words": {"nargs": "+", "metavar": "WORD"},
    "folders": {"nargs": "*", "metavar": "FOLDER", "type": Path},
    "counts": {"nargs": "*", "metavar": "PART=COUNT"},
    "zip": {"metavar": "F.zip", "type": Path},
    "of": {"nargs": "?", "metavar": "JOB", "help": "a job file or demo"},
    "address": {
        "nargs": "?",
        "metavar": "ADDRESS",
        "help": f"postgresql://USER@SERVER/NAME | {HERE}",
    },
    "--like": {"metavar": "JOB", "help": "its vehicle comes first"},
    "--most": {"metavar": "N", "type": int, "default": 60},
    "--anew": {"action": "store_true", "help": "read every file again"},
    "--from": {"dest": "number", "metavar": "NUMBER", "required": True, "help": "of a job"},
    "--at": {"metavar": "PATH", "required": True, "help": "what of it, as connectors.D2.4"},
    "--job": {"metavar": "JOB", "help": "this job"},
    "--sheets": {"action": "store_true", "help": "device sheets of one's own"},
    "--plugs": {"action": "store_true", "help": "corrected pin-outs"},
    "--yes": {"action": "store_true", "help": "take it"},
}


def declare(parser: argparse.ArgumentParser) -> None:
    """What it takes."""
    add_commands(parser, DOES, TAKES)


def run(asked: argparse.Namespace) -> int:
    """Ask the book, or look after it."""
    if asked.does == "server":
        return server(asked)
    with Book.opened() as held:
        return _RUN[asked.does](held, asked)


def _synthetic(held: Book) -> bool:
    """Made-up jobs are shown until the shop has one of its own."""
    return not held.has_own()


def _find(held: Book, asked: argparse.Namespace) -> int:
    if not 1 <= asked.most <= MOST:
        raise Problem(f"--most is a number from 1 to {MOST}, not “{asked.most}”.")
    sought = " ".join(asked.words).strip()
    if not sought:
        raise Problem(
            'book find wants words, a pin, a colour or a figure: book find "green/white".'
        )
    held.refresh()
    vehicle = open_job(asked.like).vehicle.name if asked.like else ""
    hits = held.find(sought, _synthetic(held), vehicle, asked.most)
    return say([_hit(h) for h in hits])


def _hit(h: Hit) -> dict[str, object]:
    return {
        "job": h.job.number,
        "vehicle": h.job.vehicle,
        "kind": h.entry.kind,
        "text": words(h.entry.text, METRIC).replace("\u00a0", " "),
        "provenance": h.entry.known or "not said",
        "at": h.entry.at,
        "file": h.path,
        "synthetic": h.job.synthetic,
    }


def _index(held: Book, asked: argparse.Namespace) -> int:
    for folder in asked.folders:
        held.watch(folder)
    begun = time.perf_counter()
    report = held.refresh(anew=asked.anew)
    took = time.perf_counter() - begun
    told = msgspec.structs.asdict(report) | {"wrong": list(report.wrong), "seconds": round(took, 2)}
    return say(told | {"jobs": len(held.jobs(True)), "folders": [str(f) for f in held.folders()]})


def _use(held: Book, asked: argparse.Namespace) -> int:
    out = free(asked.out, asked.force)
    held.refresh()
    job, there = open_job(asked.job), _numbered(held, asked.number)
    after = validate(apply(job, use(job, there, asked.at, f"{datetime.now():%Y-%m-%d}")))
    save(after, out)
    told = {"job": job.number, "from": there.number, "at": asked.at, "written": asked.out}
    return say(told)


def _numbered(held: Book, number: str) -> Job:
    paths = [path for about, path in held.jobs(True) if about.number == number]
    if not paths:
        raise Problem(f"The book has no job {number}: book index FOLDER puts the jobs of one in.")
    return peek(Path(paths[0]))


def _back(held: Book, asked: argparse.Namespace) -> int:
    held.refresh()
    shown = _synthetic(held)
    job = open_job(asked.of) if asked.of else Job()
    shown = shown or job.synthetic
    done = held.done(shown)
    told: dict[str, object] = {
        "comes back": [
            msgspec.structs.asdict(r) | {"words": words(r.words, METRIC)}
            for r in recurring(job, held.told(shown))
        ],
        "by device": [time_words(x) for x in by_device(done)],
        "by task": [time_words(x) for x in by_task(done)],
    }
    if job.vehicle.name:
        own = by_task(done, job.vehicle.name)
        told["by task, this vehicle"] = [time_words(x) for x in own]
    if asked.of:
        order = work_order(job)
        found = estimate(order.slots, done)
        told["estimate_min"] = {
            k: round(getattr(found, k)) for k in ("middle", "low", "high", "many")
        }
    return say(told)


def _week(held: Book, asked: argparse.Namespace) -> int:
    out = free(asked.out, asked.force) if asked.out else None
    held.refresh()
    jobs = open_jobs(held, _synthetic(held))
    stays = planned(loads(jobs), load_shop(), House(), date.today())
    if out:
        write_atomically(out, ics(stays))
        print(out)
        return 0
    return say(
        [
            {
                "job": s.number,
                "title": s.title,
                "bay": s.bay,
                "who": s.who,
                "day": s.day.isoformat(),
                "begin": clock_of(s.begin),
                "end": clock_of(s.end),
                "says": list(s.says),
                "late": s.late,
            }
            for s in stays
        ]
    )


def _order(held: Book, asked: argparse.Namespace) -> int:
    out = free(asked.out, asked.force) if asked.out else None
    held.refresh()
    jobs, shop = open_jobs(held, _synthetic(held)), load_shop()
    stays = planned(loads(jobs), shop, House(), date.today())
    data = to_csv(to_order(jobs, stays, load_stock(), shop.lead_days))
    if out:
        write_atomically(out, data)
        print(out)
    else:
        print(data.decode(), end="")
    return 0


def _backup(held: Book, asked: argparse.Namespace) -> int:
    target = free(asked.zip, asked.force)
    held.refresh()
    count = backup(held, target)
    return say({"written": str(target), "files": count, "read again": "every file is whole"})


def _restore(held: Book, asked: argparse.Namespace) -> int:
    source = asked.zip
    jobs, others = look(source)
    told = restore(held, source)
    held.refresh()
    return say(
        {"jobs": jobs, "others": others}
        | {k: list(v) for k, v in msgspec.structs.asdict(told).items()}
    )


def _stock(held: Book, asked: argparse.Namespace) -> int:
    stock = load_stock()
    for word in asked.counts:
        part, _, count = word.rpartition("=")
        try:
            have = float(count)
        except ValueError:
            have = -1.0
        if not part.strip() or not 0 <= have < MANY:
            raise Problem(f'“{word}” is no count of a part: say "blade fuse 5 A=12".')
        stock[part.strip()] = have
    if asked.counts:
        save_stock(stock)
    return say(stock)


def _give(held: Book, asked: argparse.Namespace) -> int:
    word, sheets, plugs = asked.job, asked.sheets, asked.plugs
    target = free(asked.zip, asked.force)
    jobs = (open_job(word),) if word else ()
    own = [s for s in shelf(user_sheets())[0] if sheets and is_own(user_sheets(), s.id)]
    kept = kept_plugs()[0] if plugs else ()
    name = jobs[0].house.name if jobs else ""
    write_atomically(target, give(name, own, kept, jobs))
    told = {"job": word or None, "sheets": [s.id for s in own], "plugs": [p.id for p in kept]}
    return say({"written": str(target)} | told)


def _take(held: Book, asked: argparse.Namespace) -> int:
    shop, offered = shown(asked.zip)
    told = [{"kind": o.kind, "what": o.words, "here": o.state} for o in offered]
    written = accept(offered) if asked.yes else ()
    return say({"from": shop, "holds": told, "written": list(written)})


def server(asked: argparse.Namespace) -> int:
    """Where the book lies; another place is tried before it is taken."""
    prefs, _ = read_prefs()
    if asked.address:
        address = "" if asked.address == HERE else asked.address
        with Book.opened(where=address):
            save_prefs(msgspec.structs.replace(prefs, book_server=address))
    return say({"server": read_prefs()[0].book_server or HERE})


def _check(held: Book, asked: argparse.Namespace) -> int:
    wrong = held.check()
    say({"wrong": list(wrong), "jobs": len(held.jobs(True))})
    return 1 if wrong else 0


_RUN: dict[str, Callable[[Book, argparse.Namespace], int]] = {
    "find": _find,
    "index": _index,
    "use": _use,
    "back": _back,
    "week": _week,
    "order": _order,
    "stock": _stock,
    "give": _give,
    "take": _take,
    "backup": _backup,
    "restore": _restore,
    "check": _check,
}
