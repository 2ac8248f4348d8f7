"""What papers and plots draw of the demo jobs, what logs are made to say, what explains a reading,
what the book makes of past jobs, and what is found in a large job, each by its digest.

``python -m tests.whole.drawn`` writes ``drawn.json`` anew. A line that differs is to be looked at:
the paper or the plot itself, or the log in Road. That what is drawn is right is the matter of the
other tests; this one sees that nothing moves unseen.
"""

from __future__ import annotations

import itertools
import json
import tempfile
from collections.abc import Callable, Iterator
from datetime import date
from pathlib import Path
from typing import Any

import msgspec
import numpy as np

from tests.catalog.test_form import every_field, parts
from tests.logs.made_up import coasting, pulls, pulsed, through_gears, two_speeds
from tests.whole.record import coarse, digest
from tests.whole.small_logs import small
from tests.whole.stirred import stirred
from zombrel.behaviour.suppose import named, usual
from zombrel.behaviour.wanted import wanted
from zombrel.book.comes_back import Told, go_by, priors, recurring
from zombrel.book.entries import entries, happened, summary, timed
from zombrel.book.reuse import use
from zombrel.book.stock import back, needs, orders
from zombrel.book.times import Done, by_device, by_task, words
from zombrel.catalog import DEMO
from zombrel.catalog.form.fields import Field, put
from zombrel.catalog.form.pins import pin_rows
from zombrel.cli.synthetic import big_job
from zombrel.diagnose.misread import cases, of_job
from zombrel.diagnose.misread.outage import outage, suspects
from zombrel.diagnose.misread.weigh import Pair
from zombrel.findings.assess import assess
from zombrel.findings.finding import Finding
from zombrel.handover import tables
from zombrel.handover.compare_sheet import compared
from zombrel.handover.dossier.make import dossier
from zombrel.handover.dossier.page import Table
from zombrel.handover.files import DRAWN, lacks, sheets
from zombrel.handover.owner.make import owner_page
from zombrel.harness.laid import laid
from zombrel.job.model import Job
from zombrel.job.problem import Problem
from zombrel.job.quantity import QUANTITIES
from zombrel.job.records.logs import Comparison, PullRow
from zombrel.job.sheet import DeviceSheet, Plug
from zombrel.job.wiring import Connector, Lead
from zombrel.logs import compare, gearfit, harvest, read_any, says, speedlog, speedpair, spots
from zombrel.logs.coastdown import coast
from zombrel.logs.recording import Channel, Recording
from zombrel.logs.write import to_csv
from zombrel.plots import settings
from zombrel.signals.chain_reading import ready, top_of
from zombrel.signals.reduce import input_of
from zombrel.signals.study import study
from zombrel.signals.ways import air
from zombrel.store.zjob import load
from zombrel.units import CUSTOMARY, METRIC

KEPT = Path(__file__).with_name("drawn.json")
JOBS = ("0409", "0412", "0413")
DAY = "27 November 2026"
STIRRED = 4
"""So many jobs of each kind that are drawn."""


def _tried(what: Callable[[], Any], tell: Callable[[Any], str] = digest) -> str:
    try:
        return tell(what())
    except Problem as problem:
        return f"problem: {problem}"


def _papers(name: str, raw: Job) -> Iterator[tuple[str, str]]:
    found, job = assess(raw, usual(raw.vehicle)), laid(raw)
    for units in (METRIC, CUSTOMARY):
        for kind in DRAWN:
            for i, page in enumerate(() if lacks(kind, raw) else sheets(kind, job, units), 1):
                yield f"{name} {units.paper} {kind} {i}: {len(page.items)} items", digest(page)
        for i, section in enumerate(dossier(raw, found, units, DAY).sections):
            yield f"{name} {units.paper} dossier {i} {section.title}", digest(section)
            held = [x for x in section.blocks if isinstance(x, Table)]
            yield f"{name} {units.paper} widths {i}", digest([t.shares(units) for t in held])
        yield f"{name} {units.paper} parts", digest(tables.parts_rows(job, units))
    yield f"{name} owner", digest(owner_page(raw, found, DAY))
    rows = (tables.wire_rows(job, found), tables.cut_rows(job), tables.pin_rows(job))
    yield f"{name} tables", digest(rows)


LONG = ", the one that was fitted again after the gearbox came out (see the note beside it)"
"""Behind every name: what has no room is made smaller or cut, and cut in the right place."""
LONGEST = 80
"""So many characters a name may have."""


def _named_longer(part: Any) -> Any:
    said = [f for f in ("name", "circuit", "signal") if getattr(part, f, "")]
    longer: dict[str, Any] = {f: (getattr(part, f) + LONG)[:LONGEST] for f in said}
    inside = {Connector: "cavities", Lead: "rows"}.get(type(part), "")
    if inside:
        longer[inside] = tuple([_named_longer(x) for x in getattr(part, inside)])
    return msgspec.structs.replace(part, **longer)


def _long_names(name: str, raw: Job) -> Iterator[tuple[str, str]]:
    parts = ("devices", "sources", "feeds", "studs", "zones", "connectors", "leads")
    longer = {part: tuple([_named_longer(x) for x in getattr(raw, part)]) for part in parts}
    yield from _papers(f"{name} long", msgspec.structs.replace(raw, **longer))


def _plots(name: str, raw: Job) -> Iterator[tuple[str, str]]:
    job, state = laid(raw), usual(raw.vehicle)
    found = assess(raw, state)
    for units in (METRIC, CUSTOMARY):
        of = f"{name} {units.distance}"
        yield f"{of} gears", _tried(lambda: settings.gears_picture(job.vehicle, units, 30.0))  # noqa: B023
        for chain in job.chains:
            device, sheet = input_of(job, chain)
            kind = QUANTITIES[chain.quantity].kind
            warned = settings.warnings(device, sheet, kind, units)

            def rate(chain: Any = chain, units: Any = units) -> Any:
                law, top = ready(job, chain.id).law, top_of(chain, job.vehicle)
                other = law._replace(setting=law.setting * 1.1)
                return settings.rate_picture(
                    chain, (("now", law), ("as set", other)), top, units, 9
                )

            def curve(args: Any = (chain, sheet, kind, units, warned)) -> Any:
                of_chain, given, way, say, marks = args
                studied = study(job, of_chain, "straight pieces")
                drawn = (studied, given, way, say)
                return [
                    settings.curve_picture(*drawn, found.chain(of_chain.id).true, marks, x, direct)
                    for x, direct in ((0.0, True), (air(given), False))
                ] + [settings.error_picture(*drawn, air(given))]

            yield f"{of} {chain.id}", _tried(rate if chain.quantity in ("speed", "tach") else curve)
    yield f"{name} timing", _tried(lambda: settings.timing_picture(job.vehicle))
    for device in job.devices:
        yield f"{name} torque {device.id}", _tried(lambda d=device: settings.rpm_picture(job, d))
        for c in device.sheet.controls:
            if isinstance(c.setting, Plug):

                def plug(device: Any = device, c: Any = c) -> Any:
                    at = wanted(job, device, c).at
                    return settings.plug_picture(c.setting, at, at)

                yield f"{name} plug {c.pin}", _tried(plug)


def _misread(name: str, raw: Job) -> Iterator[tuple[str, str]]:
    """What explains each signal that shows a half, four fifths, or twice what is true."""
    for chain in raw.chains:
        for share in (0.5, 0.8, 1.0, 2.0):

            def told(key: str = chain.id, share: float = share) -> Any:
                case = of_job.case_of(raw, key)
                span = case.high - case.low or 60.0
                true = (case.low + 0.3 * span, case.low + 0.7 * span)
                got = cases.answer(case, [Pair(x, share * x) for x in true])
                ranked = [(r.cause, r.share, r.words, r.mend) for r in got.ranked]
                return [ranked, got.sound, got.next.probe.key if got.next else ""]

            yield f"{name} misread {chain.id} × {share}", _tried(told, coarse)
    fed = sorted({k for s in suspects(raw) for k in s.takes})
    for dead in (fed[:1], fed[-1:], fed[::2]):
        got = outage(raw, dead, [k for k in fed if k not in dead])
        yield f"{name} dead: {', '.join(dead)}", coarse([got.ranked, got.next])


def _book() -> Iterator[tuple[str, str]]:
    """What the past jobs say, and what comes of taking each of it over into a demo job."""
    past = {p.stem: load(p) for p in sorted((DEMO / "past").glob("*.zjob"))}
    demos = {name: load(DEMO / f"{name}.zjob") for name in JOBS}
    told = [Told(summary(job), happened(job)) for job in past.values()]
    done = [Done(summary(job), timed(job)) for job in past.values()]
    for key, job in (past | demos).items():
        yield f"book {key}", digest([summary(job), entries(job), timed(job), happened(job)])
    for name, here in demos.items():
        taken: dict[str, list[str]] = {}
        for there in (past | demos).values():
            for e in entries(there):
                taken.setdefault(e.kind, []).append(
                    _tried(lambda e=e, there=there: use(here, there, e.at, DAY))  # noqa: B023
                )
        for kind, of_kind in taken.items():
            yield f"book {name} {kind}: {len(of_kind)}", digest(of_kind)
        comes = [recurring(here, told), priors(here, told), go_by(here, told)]
        yield f"book {name} comes back", digest(comes)
        days = [needs(here, day) for day in (None, date(2026, 11, 27))]
        yield (
            f"book {name} needs",
            digest([days, orders(days[1], {}, 3), back(date(2026, 11, 30), 4)]),
        )
    for asked in (by_device(done), by_task(done), by_task(done, "Brackwell Curlew")):
        yield f"book learned {len(asked)}", digest([asked, [words(x) for x in asked]])


def _big() -> Iterator[tuple[str, str]]:
    """A job of 200 signals and 500 wires: what only many of a kind bring, long lists cut off."""
    tree = big_job()
    for name, state in (n for n in named(tree.vehicle) if n[0] in ("Idle", "Hot hill")):
        got = assess(tree, state)
        by_rule: dict[str, list[Finding]] = {}
        for f in got.findings:
            by_rule.setdefault(f.rule, []).append(f)
        for rule, found in sorted(by_rule.items()):
            yield f"big {name} {rule}: {len(found)}", digest(found)
        rest = (got.chains, got.wires, got.power, got.stages, got.engine_lock, got.road_lock)
        yield f"big {name} read", digest(rest)


def _compared() -> Iterator[tuple[str, str]]:
    """The page of a comparison, for each verdict."""
    curve = tuple((float(x), 10.0 + 2 * x) for x in range(12))
    pulls = tuple(
        PullRow(
            side=side,
            length_s=12.0 + i,
            starts_k=20.0 + i,
            rise_k=25.0 - 3 * i,
            load=0.95,
            back_s=None if i == 1 else 40.0,
            ambient_k=None if i == 2 else 291.15,
            curve=curve,
        )
        for i, side in enumerate(("before", "before", "after", "after"))
    )
    for verdict in ("better", "worse", "not-shown", "refused"):
        told = Comparison(
            id="C1",
            before="0" * 64,
            after="1" * 64,
            verdict=verdict,
            difference_k=7.9,
            low_k=6.5,
            high_k=9.3,
            why="Three pulls each.",
            mind=("The tank was half.",),
            changed="The cooler",
            pulls=pulls,
        )
        for units in (METRIC, CUSTOMARY):
            yield f"compared {verdict} {units.paper}", digest(compared(told, units))


def _said(log: Recording, car: says.Car) -> Any:
    parts = (
        lambda: says.says(log, car),
        lambda: spots.spots(log),
        lambda: compare.runs(log),
        lambda: [_short(c) for c in log.channels],
    )
    return [*(_tried(part, coarse) for part in parts), log.notes]


def _short(c: Channel) -> Any:
    """A channel in a few figures."""
    return c.name, c.what, c.unit, len(c.t), c.t[-1], c.rate_hz, c.gaps, np.nanmean(c.v), c.v[-1]


def _logs() -> Iterator[tuple[str, str]]:
    car = says.car_of(load(DEMO / "0413.zjob").vehicle)
    for path in sorted((*DEMO.glob("04*-*.csv"), *DEMO.glob("04*.nmea"))):
        if read_any.is_table(path) and "paper" not in path.name and "seen" not in path.name:
            yield f"log {path.name}", _tried(lambda p=path: _said(read_any.read_any(p), car))
    rng = np.random.default_rng(1)
    geared, _ = through_gears(rng)
    rolling, *_ = coasting(rng)
    hot, cool = pulls(rng, 25, 4, 18), pulls(rng, 17, 4, 24)
    pair, wheel = two_speeds(rng, 0.8, 1.04, 0.01), pulsed(rng, 4971.0)
    for i, log in enumerate((geared, rolling, hot, cool, pair, wheel)):
        yield f"made up {i}", digest(_said(log, car))
        lines = to_csv(log).decode().splitlines()
        yield f"made up {i} written", digest([lines[0], len(lines)])
    axle = gearfit.gears(geared)
    yield "gears", coarse([axle, gearfit.final_drive(axle, (3.42, 2.05, 1.39, 1.0, 0.79), 1.912)])
    yield "coast", coarse(coast(rolling, 1290.0))
    yield "compared", coarse([compare.compare(hot, cool), compare.compare(cool, hot)])
    yield "speeds", coarse([speedpair.compare_speeds(pair), speedpair.pulses_per_km(wheel)])
    yield "surge", _tried(lambda: speedpair.surge(pair), coarse)
    yield "harvest", coarse(harvest.harvest(*speedpair.pair_of(pair)))


def _small() -> Iterator[tuple[str, str]]:
    car = says.car_of(load(DEMO / "0413.zjob").vehicle)
    with tempfile.TemporaryDirectory() as folder:
        for path in small(Path(folder)):
            yield path.name, _tried(lambda p=path: _said(read_any.read_any(p), car))
            if path.suffix == ".csv":
                yield (
                    f"{path.name} for speed",
                    _tried(lambda p=path: speedlog.read(p, "kmh"), coarse),
                )


def _holed(x: np.ndarray) -> np.ndarray:
    return np.concatenate((x[: len(x) // 3], x[len(x) // 2 :]))


Log = tuple[np.ndarray, np.ndarray]
SPOILT: dict[str, Callable[[np.ndarray, np.ndarray], Log]] = {
    "short": lambda t, v: (t[:9], v[:9]),
    "shorter": lambda t, v: (t[: len(t) // 12], v[: len(v) // 12]),
    "holed": lambda t, v: (
        np.r_[t[: len(t) // 3], t[len(t) // 2 :]],
        np.r_[v[: len(v) // 3], v[len(v) // 2 :]],
    ),
    "seldom": lambda t, v: (t[::23], v[::23]),
    "spiked": lambda t, v: (t, np.where(np.arange(len(v)) % 97 == 5, 3 * v + 1, v)),
    "still": lambda t, v: (t, np.full(len(v), v[0])),
    "stepped": lambda t, v: (t, np.round(v, 0)),
}
"""What becomes of a log in life."""


TIED = ("stepped", "coast")
"""Where such a run begins is decided by ties, which differ between processors."""


def _spoilt() -> Iterator[tuple[str, str]]:
    car = says.car_of(load(DEMO / "0413.zjob").vehicle)
    for how, spoil in SPOILT.items():
        rng = np.random.default_rng(2)
        whole = {
            "gears": through_gears(rng)[0],
            "coast": coasting(rng)[0],
            "pulls": pulls(rng, 22, 4, 20),
            "pair": two_speeds(rng, 0.5, 0.97, 0.01),
            "wheel": pulsed(rng, 4971.0),
        }
        logs = {
            name: Recording(
                name,
                tuple([c.but(t=t, v=v) for c in log.channels for t, v in [spoil(c.t, c.v)]]),
            )
            for name, log in whole.items()
        }
        for name, log in logs.items():
            if (how, name) != TIED:
                yield f"{how} {name}", _tried(lambda log=log: _said(log, car))
        for name, fit in _fits(logs, whole["pulls"]):
            if (how, name) != TIED:
                yield f"{how} {name} fitted", _tried(fit, coarse)


def _with(log: Recording, spoil: Callable[[np.ndarray, np.ndarray], Log]) -> Recording:
    channels = []
    for c in log.channels:
        t, v = spoil(c.t, c.v)
        channels.append(c.but(t=t, v=v))
    return Recording(log.name, tuple(channels))


def _fits(logs: dict[str, Recording], other: Recording) -> Iterator[tuple[str, Callable[[], Any]]]:
    pair = logs["pair"]
    yield "gears", lambda: gearfit.gears(logs["gears"])
    yield "coast", lambda: coast(logs["coast"], 1290.0)
    yield "compared", lambda: compare.compare(logs["pulls"], other)
    yield "speeds", lambda: speedpair.compare_speeds(pair)
    yield "pulses", lambda: speedpair.pulses_per_km(logs["wheel"])
    yield "surge", lambda: speedpair.surge(pair)
    yield "harvest", lambda: harvest.harvest(*speedpair.pair_of(pair))


def _all_fields(record: Any) -> list[Field]:
    found = list(every_field(record))
    for row in pin_rows(record) if isinstance(record, DeviceSheet) else ():
        found += every_field(record, row.path)
    return found


def _asked(record: Any) -> list[Any]:
    return [(f.path, f.say.label, f.shape.how, f.usual, f.unsaid) for f in _all_fields(record)]


def _forms() -> Iterator[tuple[str, str]]:
    """What is asked of each ready part, and once any of its choices stands otherwise."""
    for part in parts():
        name = f"form {type(part).__name__} {getattr(part, 'id', '')}"
        yield name, digest(_asked(part))
        others: list[Any] = []
        for f in _all_fields(part):
            for value in f.shape.choices if f.shape.how == "choice" else (not f.value,):
                if f.shape.how in ("choice", "yes") and value != f.value:
                    others.append(_tried(lambda f=f, v=value: _asked(put(part, f.path, v))))  # noqa: B023
        yield f"{name} turned: {len(others)}", digest(others)


def _stirred(name: str, raw: Job) -> Iterator[tuple[str, str]]:
    """Papers, plots and misreadings of jobs in which much is otherwise."""
    for i, job in enumerate(itertools.islice(stirred(name, raw), STIRRED)):
        for what in (_papers, _plots, _misread):
            yield from what(f"{name} stirred {i}", job)


def _each(what: Callable[[str, Job], Iterator[tuple[str, str]]]) -> Iterator[tuple[str, str]]:
    for name in JOBS:
        yield from what(name, load(DEMO / f"{name}.zjob"))


GROUPS: dict[str, Callable[[], Iterator[tuple[str, str]]]] = {
    "papers": lambda: _each(_papers),
    "papers of long names": lambda: _each(_long_names),
    "plots": lambda: _each(_plots),
    "stirred": lambda: _each(_stirred),
    "compared": _compared,
    "logs": _logs,
    "spoilt logs": _spoilt,
    "small logs": _small,
    "misread": lambda: _each(_misread),
    "book": _book,
    "forms": _forms,
    "big": _big,
}


if __name__ == "__main__":
    every = {group: dict(made()) for group, made in GROUPS.items()}
    KEPT.write_text(json.dumps(every, ensure_ascii=False, indent=0, sort_keys=True) + "\n")
