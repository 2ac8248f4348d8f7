"""``book``: the shop's jobs found, taken over, planned, ordered for, backed up."""

from __future__ import annotations

import json
import time
from collections.abc import Callable, Sequence
from datetime import date, datetime
from pathlib import Path

import msgspec

from zombrel.book.comes_back import recurring
from zombrel.book.reuse import use
from zombrel.book.stock import to_csv
from zombrel.book.times import by_device, by_task, estimate
from zombrel.book.times import words as time_words
from zombrel.book.week import ics
from zombrel.calc.job import open_job
from zombrel.catalog.sheets import shelf
from zombrel.cli.option import option
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
USAGE = """book find "words" [--like JOB] [--most N]   what the shop knows, JSON
book index [FOLDER …] [--anew]     look at the files again; folders belong to it from then on
book use JOB --from NUMBER --at PATH --out F.zjob   take over what another job knows
book back [JOB]                    what comes back, and times learned
book week [--out F.ics]            the bays; book order [--out F.csv]   what to order by when
book stock ["PART=12" …]           what is there, as it was counted
book give F.zip [--job JOB] [--sheets] [--plugs]   for another shop, without the owner's name
book take F.zip [--yes]            look at what another shop gives; --yes takes it
book server [postgresql://USER@SERVER/NAME | this-machine]   where the book lies
book backup F.zip, book restore F.zip, book check"""


def book(argv: Sequence[str]) -> int:
    """Ask the book, or look after it."""
    typed = list(argv)
    if not typed or typed[0] not in (*_DOES, "server"):
        raise Problem(f"usage:\n{USAGE}")
    if typed[0] == "server":
        return server(typed[1:])
    with Book.opened() as held:
        return _DOES[typed[0]](held, typed[1:])


def _say(value: object) -> int:
    print(json.dumps(value, ensure_ascii=False, indent=1))
    return 0


def _synthetic(held: Book) -> bool:
    """Made-up jobs are shown until the shop has one of its own."""
    return not held.has_own()


def _find(held: Book, typed: list[str]) -> int:
    like, most = option(typed, "--like", USAGE), option(typed, "--most", USAGE) or "60"
    if not most.isdecimal() or not 1 <= int(most) <= MOST:
        raise Problem(f"--most is a number from 1 to {MOST}, not “{most}”.")
    asked = " ".join(typed).strip()
    if not asked:
        raise Problem(
            'book find wants words, a pin, a colour or a figure: book find "green/white".'
        )
    held.refresh()
    vehicle = open_job(like).vehicle.name if like else ""
    hits = held.find(asked, _synthetic(held), vehicle, int(most))
    return _say([_hit(h) for h in hits])


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


def _index(held: Book, typed: list[str]) -> int:
    anew = "--anew" in typed
    for name in (t for t in typed if t != "--anew"):
        held.watch(Path(name))
    begun = time.perf_counter()
    report = held.refresh(anew=anew)
    took = time.perf_counter() - begun
    told = msgspec.structs.asdict(report) | {"wrong": list(report.wrong), "seconds": round(took, 2)}
    return _say(told | {"jobs": len(held.jobs(True)), "folders": [str(f) for f in held.folders()]})


def _use(held: Book, typed: list[str]) -> int:
    number, at, out = (option(typed, name, USAGE) for name in ("--from", "--at", "--out"))
    if len(typed) != 1 or not (number and at and out):
        raise Problem(f"usage:\n{USAGE}")
    if Path(out).exists():
        raise Problem(f"{out} exists already: give another name.")
    held.refresh()
    job, there = open_job(typed[0]), _numbered(held, number)
    after = validate(apply(job, use(job, there, at, f"{datetime.now():%Y-%m-%d}")))
    save(after, Path(out))
    return _say({"job": job.number, "from": there.number, "at": at, "written": out})


def _numbered(held: Book, number: str) -> Job:
    paths = [path for about, path in held.jobs(True) if about.number == number]
    if not paths:
        raise Problem(f"The book has no job {number}: book index FOLDER puts the jobs of one in.")
    return peek(Path(paths[0]))


def _back(held: Book, typed: list[str]) -> int:
    held.refresh()
    shown = _synthetic(held)
    job = open_job(typed[0]) if typed else Job()
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
    if typed:
        order = work_order(job)
        found = estimate(order.slots, done)
        told["estimate_min"] = {
            k: round(getattr(found, k)) for k in ("middle", "low", "high", "many")
        }
    return _say(told)


def _week(held: Book, typed: list[str]) -> int:
    out = option(typed, "--out", USAGE)
    held.refresh()
    jobs = open_jobs(held, _synthetic(held))
    stays = planned(loads(jobs), load_shop(), House(), date.today())
    if out:
        write_atomically(Path(out), ics(stays))
        print(out)
        return 0
    return _say(
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


def _order(held: Book, typed: list[str]) -> int:
    out = option(typed, "--out", USAGE)
    held.refresh()
    jobs, shop = open_jobs(held, _synthetic(held)), load_shop()
    stays = planned(loads(jobs), shop, House(), date.today())
    data = to_csv(to_order(jobs, stays, load_stock(), shop.lead_days))
    if out:
        write_atomically(Path(out), data)
        print(out)
    else:
        print(data.decode(), end="")
    return 0


def _backup(held: Book, typed: list[str]) -> int:
    target = _file(typed, "backup")
    if target.exists():
        raise Problem(f"{target} exists already: give another name.")
    held.refresh()
    count = backup(held, target)
    return _say({"written": str(target), "files": count, "read again": "every file is whole"})


def _restore(held: Book, typed: list[str]) -> int:
    source = _file(typed, "restore")
    jobs, others = look(source)
    told = restore(held, source)
    held.refresh()
    return _say(
        {"jobs": jobs, "others": others}
        | {k: list(v) for k, v in msgspec.structs.asdict(told).items()}
    )


def _stock(held: Book, typed: list[str]) -> int:
    stock = load_stock()
    for word in typed:
        part, _, count = word.rpartition("=")
        try:
            have = float(count)
        except ValueError:
            have = -1.0
        if not part.strip() or not 0 <= have < MANY:
            raise Problem(f'“{word}” is no count of a part: say "blade fuse 5 A=12".')
        stock[part.strip()] = have
    if typed:
        save_stock(stock)
    return _say(stock)


def _give(held: Book, typed: list[str]) -> int:
    word = option(typed, "--job", USAGE)
    sheets, plugs = "--sheets" in typed, "--plugs" in typed
    target = _file([t for t in typed if t not in ("--sheets", "--plugs")], "give")
    if target.exists():
        raise Problem(f"{target} exists already: give another name.")
    jobs = (open_job(word),) if word else ()
    own = [s for s in shelf(user_sheets())[0] if sheets and is_own(user_sheets(), s.id)]
    kept = kept_plugs()[0] if plugs else ()
    name = jobs[0].house.name if jobs else ""
    write_atomically(target, give(name, own, kept, jobs))
    told = {"job": word or None, "sheets": [s.id for s in own], "plugs": [p.id for p in kept]}
    return _say({"written": str(target)} | told)


def _take(held: Book, typed: list[str]) -> int:
    yes = "--yes" in typed
    shop, offered = shown(_file([t for t in typed if t != "--yes"], "take"))
    told = [{"kind": o.kind, "what": o.words, "here": o.state} for o in offered]
    written = accept(offered) if yes else ()
    return _say({"from": shop, "holds": told, "written": list(written)})


def server(typed: list[str]) -> int:
    """Where the book lies; another place is tried before it is taken."""
    prefs, _ = read_prefs()
    if len(typed) > 1:
        raise Problem(f"book server takes one address.\n{USAGE}")
    if typed:
        address = "" if typed[0] == HERE else typed[0]
        with Book.opened(where=address):
            save_prefs(msgspec.structs.replace(prefs, book_server=address))
    return _say({"server": read_prefs()[0].book_server or HERE})


def _check(held: Book, typed: list[str]) -> int:
    if typed:
        raise Problem(f"book check takes nothing after it.\n{USAGE}")
    wrong = held.check()
    _say({"wrong": list(wrong), "jobs": len(held.jobs(True))})
    return 1 if wrong else 0


def _file(typed: list[str], what: str) -> Path:
    if len(typed) != 1:
        raise Problem(f"book {what} wants one file: book {what} shop.zip.")
    return Path(typed[0])


_DOES: dict[str, Callable[[Book, list[str]], int]] = {
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
