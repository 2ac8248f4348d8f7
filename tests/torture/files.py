"""Files as they come: cut, flipped, doubled, of other encodings, with numbers that cannot be.

Each is read in by what reads its kind. It is taken, or refused in one sentence; it takes neither
long nor much room; a job that is taken is judged.
"""

from __future__ import annotations

import csv
import io
import json
import os
import random
import resource
import struct
import tempfile
import time
import wave
import zipfile
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import NamedTuple

import numpy as np
import openpyxl

from tests.demo import demo
from tests.logs.test_bus import TEXT as BUS
from tests.torture import Failed
from zombrel.behaviour.suppose import usual
from zombrel.calc.harness import read_face, read_pairs, read_text
from zombrel.calibrate.roadfit import fit
from zombrel.catalog import DATA, DEMO
from zombrel.catalog.sheets import read_sheet
from zombrel.catalog.sources import source_shelf
from zombrel.findings.assess import assess
from zombrel.handover.paper import dossier_html
from zombrel.instruments.satellite import read_nmea
from zombrel.job import unjudged
from zombrel.job.follow.query import forget
from zombrel.job.model import Job
from zombrel.job.problem import Problem
from zombrel.logs import bus, speedlog
from zombrel.logs.read_any import read_any
from zombrel.logs.recording import Channel, Recording
from zombrel.logs.says import Car, says
from zombrel.logs.spots import spots
from zombrel.logs.write import to_csv, to_gpx
from zombrel.store import pairs_file, prefs, shop_times, zjob
from zombrel.units import Units

PLUG = {
    "id": "B4",
    "name": "Brown plug",
    "row_lengths": [4, 5, 4],
    "corner": "top left",
    "key": "the hinge",
    "cavities": [{"n": 1, "colour": "red"}, {"n": 7, "colour": "black", "circuit": "b"}],
}
PAPER = "a,b\nV.1,E.1\nV.2,E.2\nV.3,E.3\nV.4,E.4\nV.5,E.5\n"
SEEN = "a,b\nV.1,E.1\nV.2,E.3\nV.3,E.2\nV.4,E.4\nV.4,E.5\n"
SLOW_S = 2.0
ASIDE_S = 60.0
LONGEST = 400
ROOM = 10
"""Peak memory may be so many times the file, and a fixed amount for the libraries themselves."""
SPARE_MB = 80.0
NUMBERS = (
    "0",
    "-1",
    "1e308",
    "-1e308",
    "1e-308",
    "1e999",
    "NaN",
    "Infinity",
    "99999999999999999999",
    "2147483648",
    "0.1",
    "-0",
    "1e9",
    "1e-9",
    '"x"',
    "null",
    "true",
    "[]",
    "{}",
)
WORDS = (
    *(b"\0", b"\xff", b"\xfe\xff", b"\r", b"\n\n", b'"', b"\\", b"{", b"}", b";", b"\t", b"=1+1"),
    *(b"[" * 2000, b"," * 500, b"9" * 400, b"<img src=x>", b"../../", b"\xed\xa0\x80"),
    "💧".encode(),
)
UNITS = ("km/h", "mph", "m/s", "_m_s", "ft/s", "kn", "", "rpm", "°C", "ms")


class Kind(NamedTuple):
    """One kind of file."""

    name: str
    ending: str
    good: tuple[bytes, ...]
    read: Callable[[Path], object]
    slow_s: float = SLOW_S
    """What is read off the window's thread, with a sign that it goes on and a way to give it up,
    may take longer."""


def _job(path: Path) -> object:
    job = zjob.load(path)
    _judge(job)
    return job


def _judge(job: Job) -> None:
    """A job that opens is shown: judged and printed."""
    forget()
    state = usual(job.vehicle)
    found = assess(job, state)
    dossier_html(job, found, Units())
    if said := unjudged.kept():
        raise RuntimeError(said[0][-1500:])


def _times(path: Path) -> object:
    place = shop_times.times_file()
    place.parent.mkdir(parents=True, exist_ok=True)
    place.write_bytes(path.read_bytes())
    return shop_times.read_times()


def _prefs(path: Path) -> object:
    place = prefs.config_file()
    place.parent.mkdir(parents=True, exist_ok=True)
    place.write_bytes(path.read_bytes())
    found, said = prefs.read_prefs()
    if said:
        raise Problem(said)
    return found


def _source(path: Path) -> object:
    found, troubles = source_shelf(path.parent)
    if troubles:
        raise Problem(troubles[0])
    return found


def _plug(path: Path) -> object:
    return read_face(read_text(path, "connector"), path.name)


def _conductors(path: Path) -> object:
    return read_pairs(read_text(path, "list of conductors"), path.name)


def _log(path: Path) -> object:
    log = speedlog.read(path, "kmh")
    return fit(log.t, log.true, log.shown)


BUS_LOG = """VERSION ""
BU_: ECU
BO_ 256 Motion: 8 ECU
 SG_ Speed : 0|16@1+ (0.01,0) [0|300] "km/h" ECU
 SG_ Coolant : 16|8@1+ (1,-40) [-40|215] "degC" ECU
"""


def _any_log(path: Path) -> object:
    """A log of any kind, and all that is made of one."""
    described = path.with_name("bus.dbc")
    described.write_text(BUS_LOG)
    log = read_any(path, description=described)
    found = spots(log)
    return found, says(log, Car(1300.0, (3.42, 2.05, 1.39, 1.0), 3.6, 1.9)), to_csv(log)


def _logs() -> dict[str, tuple[bytes, ...]]:
    """Good logs of every kind, by their ending."""
    t = np.arange(0, 20, 0.1)
    v = 15 + 5 * np.sin(t / 3)
    drive = Recording("drive", (Channel("speed", "speed", "km/h", t, v),))
    sound = io.BytesIO()
    with wave.open(sound, "wb") as out:
        out.setnchannels(1)
        out.setsampwidth(2)
        out.setframerate(8000)
        out.writeframes((20000 * np.sin(np.arange(8000) / 9)).astype("<i2").tobytes())
    frames = [(k * 0.02, struct.pack("<HB5x", 5000 + 10 * k, 120)) for k in range(60)]
    dump = "".join(f"({1000 + t:.6f}) can0 100#{data.hex()}\n" for t, data in frames)
    asc = "date Mon Jan 5 10:00:00.000 am 2026\nbase hex  timestamps absolute\n" + "".join(
        f"   {t:.6f} 1  100             Rx   d 8 {data.hex(' ')}\n" for t, data in frames
    )
    book = io.BytesIO()
    made = openpyxl.Workbook()
    for cells in csv.reader(to_csv(drive).decode().splitlines()):
        made.active.append([float(x) if x[:1].isdigit() else x for x in cells])
    made.save(book)
    return {
        ".csv": ((DEMO / "0413-pulls-before.csv").read_bytes()[:60_000], to_csv(drive)),
        ".gpx": (to_gpx(along(drive)),),
        ".nmea": ((DEMO / "0412-road.nmea").read_bytes()[:60_000],),
        ".wav": (sound.getvalue(),),
        ".log": (dump.encode(),),
        ".asc": (asc.encode(),),
        ".xlsx": (book.getvalue(),),
    }


def along(log: Recording) -> Recording:
    """The log with the places of a car that drives east by it."""
    t, v = log.channels[0].t, log.channels[0].v
    east = np.degrees(np.cumsum(v) * (t[1] - t[0]) / 6_371_008.8)
    placed = (
        Channel("latitude", "angle", "°", t, np.zeros(len(t))),
        Channel("longitude", "angle", "°", t, east),
    )
    return Recording(log.name, (*log.channels, *placed))


def kinds() -> tuple[Kind, ...]:
    """Every kind of file that is read, with good ones to begin from."""
    demos = tuple((DEMO / f"{n}.zjob").read_bytes() for n in ("0412", "0413", "0409"))
    sheets = tuple(p.read_bytes() for p in sorted((DATA / "sheets").glob("*.json")))
    source = json.dumps(json.loads((DATA / "sources.json").read_text())[0]).encode()
    timed = {"id": "run a", "kind": "run", "minutes": 20, "planned": 10, "state": "done"}
    times = json.dumps({"0412 x": [timed]}).encode()
    trees = tuple(zipfile.ZipFile(io.BytesIO(d)).read("job.json") for d in demos)
    liked = b'{"night": true, "units": {"distance": "mi"}, "recent": ["/a.zjob"]}'
    pairs = b"ohm;litre\n10;0\n60;30\n180;60\n"
    return (
        Kind("job", ".zjob", demos, _job),
        Kind("job tree", ".json", trees, _tree),
        Kind("sheet", ".json", sheets, read_sheet),
        Kind("source", ".json", (source,), _source),
        Kind("connector", ".json", (json.dumps(PLUG).encode(),), _plug),
        Kind("conductors", ".csv", (PAPER.encode(), SEEN.encode()), _conductors),
        Kind("pairs", ".csv", (pairs,), pairs_file.read_pairs),
        Kind("bus", ".dbc", (BUS.encode(),), bus.values, ASIDE_S),
        Kind("log", ".csv", ((DEMO / "0412-road.csv").read_bytes(),), _log, ASIDE_S),
        Kind("recording", ".nmea", ((DEMO / "0412-road.nmea").read_bytes(),), read_nmea, ASIDE_S),
        *(Kind("any log", e, good, _any_log, ASIDE_S) for e, good in _logs().items()),
        Kind("times", ".json", (times,), _times),
        Kind("preferences", ".json", (liked,), _prefs),
    )


def _tree(path: Path) -> object:
    """A changed job.json in a sound archive."""
    inside = io.BytesIO()
    with zipfile.ZipFile(inside, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr("job.json", path.read_bytes())
    job = zjob.from_bytes(inside.getvalue(), path.name)
    _judge(job)
    return job


def spoilt(dice: random.Random, data: bytes) -> bytes:
    """A file with one to four things done to it."""
    for _ in range(dice.choice((1, 1, 1, 2, 3, 4))):
        data = dice.choice(WAYS)(dice, data)
    return data[:3_000_000]


def _flip(dice: random.Random, data: bytes) -> bytes:
    made = bytearray(data)
    for _ in range(dice.choice((1, 1, 3, 20))):
        if made:
            made[dice.randrange(len(made))] = dice.randrange(256)
    return bytes(made)


def _cut(dice: random.Random, data: bytes) -> bytes:
    a, b = sorted((dice.randrange(len(data) + 1), dice.randrange(len(data) + 1)))
    return dice.choice((data[:a], data[b:], data[:a] + data[b:]))


def _put(dice: random.Random, data: bytes) -> bytes:
    at = dice.randrange(len(data) + 1)
    return data[:at] + dice.choice(WORDS) + data[at:]


def _double(dice: random.Random, data: bytes) -> bytes:
    a = dice.randrange(len(data) + 1)
    part = data[a : a + dice.choice((1, 20, 300, 5000))]
    return data[:a] + part * dice.choice((2, 10, 400)) + data[a:]


def _figure(dice: random.Random, data: bytes) -> bytes:
    places = [i for i in range(len(data)) if data[i : i + 1].isdigit()]
    if not places:
        return data
    a = b = dice.choice(places)
    while a and data[a - 1 : a] in b"0123456789.-":
        a -= 1
    while b < len(data) and data[b : b + 1] in b"0123456789.eE-":
        b += 1
    return data[:a] + dice.choice(NUMBERS).encode() + data[b:]


def _code(dice: random.Random, data: bytes) -> bytes:
    text = data.decode("latin-1")
    return text.encode(dice.choice(("utf-16", "utf-16-le", "utf-32", "utf-8-sig", "utf-8")))


def _unit(dice: random.Random, data: bytes) -> bytes:
    a, b = (u.encode() for u in (dice.choice(UNITS), dice.choice(UNITS)))
    return data.replace(a, b, dice.choice((1, 2, -1))) if a else data


def _line(dice: random.Random, data: bytes) -> bytes:
    lines = data.split(b"\n")
    i, j = dice.randrange(len(lines)), dice.randrange(len(lines))
    lines[i], lines[j] = lines[j], lines[i]
    return dice.choice((b"\n", b"\r\n", b"\r", b"")).join(lines)


def _json(dice: random.Random, data: bytes) -> bytes:
    """Change the structure of a tree."""
    try:
        tree = json.loads(data)
    except (ValueError, RecursionError):
        return _figure(dice, data)
    node, parent, key = tree, None, None
    while isinstance(node, dict | list) and node and dice.random() < 0.85:
        parent = node
        key = dice.choice(list(node)) if isinstance(node, dict) else dice.randrange(len(node))
        node = node[key]
    if parent is None or key is None:
        return data
    what = dice.randrange(5)
    if what == 0:
        del parent[key]
    elif what == 1:
        parent[key] = json.loads(
            dice.choice([n for n in NUMBERS if n not in ("1e999", "NaN", "Infinity")])
        )
    elif what == 2:
        parent[key] = [node] * dice.choice((0, 2, 30, 3000))
    elif what == 3:
        parent[key] = dice.choice(
            ("", "x" * 5000, "../../etc/x", "<b>", "a.b", "\u0000", "W1", "0")
        )
    elif isinstance(node, float | int):
        parent[key] = dice.choice((node * 1e6, -node, node + 1e-12, node * 0))
    return json.dumps(tree).encode()


WAYS = (_flip, _cut, _put, _double, _figure, _figure, _code, _unit, _line, _json, _json)


def one(dice: random.Random, kind: Kind, folder: Path, timed: bool) -> Failed | None:
    """One file of a kind; ``timed``: what takes long fails, too."""
    data = spoilt(dice, dice.choice(kind.good))
    path = folder / f"it{kind.ending}"
    path.write_bytes(data)
    before = _peak_mb()
    why, took = _read(kind, path)
    if _peak_mb() - before > ROOM * len(data) / 1e6 + SPARE_MB:
        why = why or f"took {_peak_mb() - before:.0f} MB for {len(data)} bytes"
    if timed and took > kind.slow_s:  # the first imports, or the machine is busy: once more
        again, took = _read(kind, path)
        why = why or again or (f"took {took:.1f} s" if took > kind.slow_s else "")
    return Failed(f"file {kind.name}", why, data) if why else None


def _read(kind: Kind, path: Path) -> tuple[str, float]:
    """What is wrong with what comes of it, and how long it took [s]."""
    start, why = time.monotonic(), ""
    try:
        kind.read(path)
    except Problem as problem:
        said = str(problem)
        why = f"more than a line: {said[:200]}" if "\n" in said or len(said) > LONGEST else ""
        if isinstance(problem.__cause__, MemoryError):
            why = "asked for more memory than there is"
    except Exception as error:
        why = f"{type(error).__name__}: {error}"
    return why, time.monotonic() - start


def _peak_mb() -> float:
    return resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1000


def tries(count: int, seed: int, timed: bool = False) -> Iterator[Failed | None]:
    """So many files; None for one that went well."""
    dice = random.Random(seed)
    every = kinds()
    _judge(demo())  # libraries are loaded before any memory is looked at
    with tempfile.TemporaryDirectory() as home:
        for kind in every:
            if kind.read is _any_log:
                path = Path(home) / f"it{kind.ending}"
                path.write_bytes(kind.good[0])
                _any_log(path)
        names = ("XDG_CONFIG_HOME", "XDG_DATA_HOME")
        before = {name: os.environ.get(name) for name in names}
        os.environ.update(dict.fromkeys(names, home))
        unjudged.strict(False)
        try:
            for _ in range(count):
                yield one(dice, dice.choice(every), Path(home), timed)
        finally:
            unjudged.strict(True)
            for name, value in before.items():
                if value is None:
                    os.environ.pop(name, None)
                else:
                    os.environ[name] = value
