"""``simulate``: a drive through a job, with faults that come and go, as every signal shows it.

The drive is a table with ``time_s`` and any of the columns below; what it does not say stays as
usual. Faults are conductors in another state, or facts that stand otherwise, from one time on.
"""

from __future__ import annotations

import argparse
import csv
import io
import json
import math
from collections.abc import Callable, Iterator, Sequence
from pathlib import Path
from typing import Any

import msgspec

from zombrel.behaviour.suppose import usual, with_speed
from zombrel.calc.circuit import fault_of
from zombrel.calc.job import open_job
from zombrel.cli.parser import add_job, add_out, free
from zombrel.job.edits import Put, apply
from zombrel.job.model import Chain, Job
from zombrel.job.problem import Problem
from zombrel.job.quantity import QUANTITIES, truth
from zombrel.job.state import State
from zombrel.job.validate import validate
from zombrel.job.value import Value
from zombrel.signals.circuit.build import Fault
from zombrel.signals.circuit.rest import electric
from zombrel.signals.what_if import Shown, line
from zombrel.store.atomic import write_atomically
from zombrel.units import KMH, METRIC, RPM, ZERO_C
from zombrel.units.measure import Kind, unit, value_in

MOST_ROWS = 200_000
COLUMNS: dict[str, tuple[str, Callable[[float], float]]] = {
    "speed_kmh": ("speed", lambda x: x * KMH),
    "engine_rpm": ("engine", lambda x: x * RPM),
    "volts": ("volts", lambda x: x),
    "ambient_c": ("ambient", lambda x: x + ZERO_C),
    "coolant_c": ("coolant", lambda x: x + ZERO_C),
    "charge_c": ("charge", lambda x: x + ZERO_C),
    "exhaust_c": ("exhaust", lambda x: x + ZERO_C),
    "oil_kpa": ("oil", lambda x: x * 1000),
    "boost_kpa": ("boost", lambda x: x * 1000),
    "barometer_kpa": ("barometer", lambda x: x * 1000),
    "fuel_l": ("fuel", lambda x: x / 1000),
    "blend_pct": ("blend", lambda x: x / 100),
    "mixture_lambda": ("mixture", lambda x: x),
    "pump_pct": ("pump", lambda x: x / 100),
}
"""Columns of figures: the field of a state, and how it is made of them."""
FLAGS = (
    "brake", "clutch", "park", "park_brake", "lights", "arm", "turn_left", "turn_right",
    "main_beam", "warning", "contact",
)  # fmt: skip
"""Columns of 0 and 1."""
KEYS = ("off", "on", "crank")
FAULTS = (
    '[{"from_s": 60, "to_s": 90, "wire": "W3", "fault": "open"}, {"set": "PATH", "value": JSON}]'
)


class Bad(Value, frozen=True):
    """One fault and when it is there [s]."""

    start: float
    stop: float
    wire: Fault | None
    edit: Put | None


def declare(parser: argparse.ArgumentParser) -> None:
    """What it takes."""
    add_job(parser)
    heads = f"a table with time_s and any of {', '.join(('key', 'gear', *COLUMNS, *FLAGS))}"
    parser.add_argument("--drive", metavar="F.csv", required=True, help=heads)
    faults = f"a list such as {FAULTS}"
    parser.add_argument("--faults", metavar="F.json", help=faults.replace("%", "%%"))
    add_out(parser, "csv")


def run(asked: argparse.Namespace) -> int:
    """Write what every signal shows along a drive; nothing is written when any of it fails."""
    job = open_job(asked.job)
    out = free(asked.out, asked.force)
    faults = _faults(Path(asked.faults)) if asked.faults else ()
    table = io.StringIO()
    writer = csv.writer(table)
    writer.writerow(_heads(job))
    for row in _rows(job, Path(asked.drive), faults):
        writer.writerow(row)
    write_atomically(out, table.getvalue().encode())
    print(out)
    return 0


def _text(path: Path) -> str:
    try:
        return path.read_text(encoding="utf-8-sig")
    except (OSError, UnicodeDecodeError) as error:
        raise Problem(f"{path} cannot be read ({error}).") from None


def _faults(path: Path) -> tuple[Bad, ...]:
    try:
        listed = json.loads(_text(path))
    except ValueError:
        raise Problem(f"{path} is not JSON: a list such as {FAULTS} is wanted.") from None
    if not isinstance(listed, list) or not all(isinstance(x, dict) for x in listed):
        raise Problem(f"{path}: a list of faults is wanted, such as {FAULTS}.")
    return tuple(_fault(x, f"{path}, fault {i}") for i, x in enumerate(listed, 1))


def _fault(given: dict[str, Any], where: str) -> Bad:
    start, stop = given.get("from_s", 0.0), given.get("to_s", math.inf)
    if not all(isinstance(x, int | float) and not isinstance(x, bool) for x in (start, stop)):
        raise Problem(f"{where}: from_s and to_s are seconds.")
    if isinstance(given.get("wire"), str) and isinstance(given.get("fault"), str):
        try:
            return Bad(start, stop, fault_of(given["wire"], given["fault"]), None)
        except Problem as problem:
            raise Problem(f"{where}: {problem}") from None
    if isinstance(given.get("set"), str) and "value" in given:
        return Bad(start, stop, None, Put(path=given["set"], value=given["value"]))
    raise Problem(f"{where}: a wire with its fault, or set with its value, is wanted.")


def _heads(job: Job) -> list[str]:
    heads = ["time_s"]
    for chain in job.chains:
        name = _unit(chain)
        heads += [f"{chain.id} true {name}".strip(), f"{chain.id} shown {name}".strip()]
        heads.append(f"{chain.id} status")
    return heads


def _kind(chain: Chain) -> Kind:
    return QUANTITIES[chain.quantity].kind


def _unit(chain: Chain) -> str:
    return "rpm" if chain.quantity == "tach" else unit(_kind(chain), METRIC)


def _shown(chain: Chain, value: float) -> str:
    if not math.isfinite(value):
        return ""
    if chain.quantity == "tach":
        return f"{value / RPM:.6g}"
    if QUANTITIES[chain.quantity].group == "contact":
        return f"{value:.0f}"
    return f"{value_in(_kind(chain), value, METRIC):.6g}"


def _rows(job: Job, path: Path, faults: tuple[Bad, ...]) -> Iterator[list[str]]:
    for fault in faults:
        if fault.wire is not None and fault.wire.wire not in {w.id for w in job.wires}:
            raise Problem(f"There is no wire “{fault.wire.wire}”.")
    lines: dict[Any, Callable[[State], Shown]] = {}
    jobs: dict[tuple[int, ...], Job] = {(): job}
    for t, state in _states(job, path):
        now = tuple(i for i, f in enumerate(faults) if f.start <= t < f.stop)
        edited = tuple(i for i in now if faults[i].edit is not None)
        if edited not in jobs:
            jobs[edited] = _changed(job, [faults[i].edit for i in edited])
        wires = tuple(f.wire for f in (faults[i] for i in now) if f.wire is not None)
        row = [f"{t:g}"]
        alike = tuple(electric(state))
        for chain in job.chains:
            name = (chain.id, alike, now)
            if name not in lines:
                lines[name] = _line(jobs[edited], state, chain.id, wires)
            shown = lines[name](state)
            row += [_shown(chain, truth(chain.quantity, state)), _shown(chain, shown.shown)]
            row.append(shown.status)
        yield row


def _changed(job: Job, edits: Sequence[Put | None]) -> Job:
    for edit in edits:
        if edit is not None:
            job = apply(job, edit)
    return validate(job)


def _line(job: Job, state: State, key: str, wires: tuple[Fault, ...]) -> Callable[[State], Shown]:
    """A line as it is now; one that cannot be computed says why all the way."""
    try:
        return line(job, state, key, wires)
    except Problem as problem:
        said = Shown(str(problem), math.nan, math.nan, math.nan)
        return lambda now: said


def _states(job: Job, path: Path) -> Iterator[tuple[float, State]]:
    """The drive as states; columns that are not given stay as usual."""
    table = csv.DictReader(io.StringIO(_text(path)))
    heads = [h.strip() for h in table.fieldnames or ()]
    known = {"time_s", "key", "gear", *COLUMNS, *FLAGS}
    odd = [h for h in heads if h not in known]
    if "time_s" not in heads or odd:
        raise Problem(
            f"{path}: {'no column time_s' if 'time_s' not in heads else f'column “{odd[0]}”'}; "
            f"it may have {', '.join(sorted(known))}."
        )
    start = usual(job.vehicle)
    for n, row in enumerate(table, 2):
        if n > MOST_ROWS:
            raise Problem(f"{path} has more than {MOST_ROWS} rows.")
        given = {k.strip(): v for k, v in row.items() if k and v not in (None, "")}
        yield _state(job, start, given, f"{path}, line {n}")


def _state(job: Job, start: State, given: dict[str, str], where: str) -> tuple[float, State]:
    fields = {
        field: value
        for name, text in given.items()
        if name != "time_s"
        for field, value in [_field(name, text, where)]
    }
    t = _figure(given.get("time_s", ""), f"{where}, time_s")
    try:
        state = msgspec.convert({**msgspec.to_builtins(start), **fields}, State, strict=False)
    except msgspec.ValidationError as error:
        raise Problem(f"{where}: {error}.") from None
    if "speed" in fields and "engine" not in fields:
        state = with_speed(job.vehicle, state, state.speed)
    return t, state


def _field(name: str, text: str, where: str) -> tuple[str, Any]:
    """One column as the field of a state."""
    if name == "key":
        if text not in KEYS:
            raise Problem(f"{where}: the key is off, on or crank, not “{text}”.")
        return name, text
    value = _figure(text, f"{where}, {name}")
    if name in COLUMNS:
        field, make = COLUMNS[name]
        return field, make(value)
    return name, int(value) if name == "gear" else value != 0


def _figure(text: str, where: str) -> float:
    try:
        value = float(text)
    except ValueError:
        value = math.nan
    if not math.isfinite(value):
        raise Problem(f"{where}: “{text}” is no figure.")
    return value
