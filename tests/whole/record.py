"""What the program says of a whole job, and what each of its facts does to that.

Left out is the order of work: a search that ties decide, and sums of floats differ in their last
bit from Python 3.12 on.

For every kind of fact that the demo jobs hold (a field of a record), two of them are changed alone,
and what then reads otherwise is put beside what stood before: a headline to be read and a digest of
all that lies behind it. The outcome is kept in ``record-*.json``; ``python -m tests.whole.record``
writes them anew, to be read in the diff before they are committed: the changes that stand in them,
and for a kind of fact that is new those that do most. ``python -m tests.whole.record 0412
vehicle.tyre`` prints everything that one change does.
"""

from __future__ import annotations

import functools
import hashlib
import json
import re
import sys
import types
import typing
from collections.abc import Callable, Iterator, Mapping
from pathlib import Path
from typing import Any, NamedTuple, get_args

import msgspec

from tests.demo import proven
from zombrel.behaviour.gearing import gears
from zombrel.behaviour.suppose import named, usual
from zombrel.behaviour.wanted import Wanted, wanted
from zombrel.catalog import DEMO
from zombrel.diagnose.gates import road_gate
from zombrel.diagnose.step import StepSheet
from zombrel.diagnose.steps import standing, steps
from zombrel.diagnose.verdict import judge
from zombrel.findings import explain as why
from zombrel.findings.assess import assess
from zombrel.findings.finding import Assessment
from zombrel.findings.roadwork import proposal
from zombrel.handover.dossier.make import parts
from zombrel.handover.drawing import drawing
from zombrel.handover.labels import labels
from zombrel.handover.tables import cut_rows, parts_rows, pin_rows, wire_rows
from zombrel.harness.laid import bundles, laid
from zombrel.harness.plugs.changes import steps as change_steps
from zombrel.harness.plugs.face import View, keyed_side, neighbours, places, seen, shared_circuits
from zombrel.harness.plugs.face import state as cavity_state
from zombrel.harness.plugs.face import words as cavity_words
from zombrel.harness.plugs.lead import order, result
from zombrel.job.edits import KEYS, Put, apply, fact
from zombrel.job.facts import all_facts
from zombrel.job.model import Job, by_id
from zombrel.job.problem import Problem
from zombrel.job.state import State
from zombrel.job.validate import validate
from zombrel.job.value import Value
from zombrel.job.wiring import Connector
from zombrel.plan.tasks import tasks
from zombrel.signals.finder import candidates
from zombrel.signals.key_matrix import classify
from zombrel.signals.over_range import strip
from zombrel.signals.reduce import input_of
from zombrel.store.zjob import load
from zombrel.units import Units, words

JOBS = ("0409", "0412", "0413", "0412 proven")
TRIED, MOST = 3, 14
"""Facts of one kind that are looked at for the one that does most, and how many if none does."""
HERE = Path(__file__).parent
NOISE = 1e-9
"""Less is what rounding leaves, and differs from machine to machine."""
FALLS = (
    ("vehicle.system_v", 24),
    ("vehicle.strokes", 2),
    ("vehicle.tyre", "195/60 R15"),
    ("vehicle.lamps", "filament"),
    ("devices.pace.sheet.inputs.CANCEL.need_ohm", 20.0),
    ("devices.pace.settings.SPEED.at", "C2"),
    ("chains.brake-pace.hops", []),
    ("wires.W3.area_mm2", 1.5),
)
"""Changes under a proof."""
Said = dict[str, tuple[str, Any]]
"""By the name of a thing: a headline, and all that is behind it."""


class Change(NamedTuple):
    """One fact, alone, given another value."""

    job: str
    path: str
    value: Any


@functools.cache
def job(name: str) -> Job:
    """A demo job as it ships, or mended and every step of its proof passed."""
    if name == "0412 proven":
        return proven()
    return load(DEMO / f"{name}.zjob")


def plain(value: Any) -> Any:
    """A value as JSON that is the same on every machine: floats to five digits, sets in order."""
    match value:
        case bool() | int() | str() | None:
            return value
        case float():
            return "0" if abs(value) < NOISE else f"{value:.5g}"
        case Value():
            return [plain(v) for v in msgspec.structs.astuple(value)]
        case msgspec.Struct():
            kept = {f: plain(getattr(value, f)) for f in value.__struct_fields__}
            return {"": type(value).__name__} | kept
        case Mapping():
            return {str(k): plain(v) for k, v in value.items()}
        case frozenset() | set():
            return sorted(map(str, map(plain, value)))
        case tuple() | list() | Iterator():
            return [plain(v) for v in value]
        case _ if hasattr(value, "__dataclass_fields__"):
            return {f: plain(getattr(value, f)) for f in value.__dataclass_fields__}
        case _ if hasattr(value, "tolist"):
            return plain(value.tolist())
        case types.FunctionType():
            return "a function"
    return str(value)


def text(line: str) -> str:
    """A sentence with its figures written out."""
    return words(line, Units())


def _tried(what: Callable[[], Any]) -> Any:
    """What it gives, or what it says of why not."""
    try:
        return plain(what())
    except Problem as e:
        return f"problem: {e}"


def _signals(tree: Job, got: Assessment) -> Said:
    units = Units(distance="mi")
    said: Said = {}
    for c in tree.chains:
        r = got.chain(c.id)
        device, sheet = input_of(tree, c)
        found = _tried(lambda d=device, s=sheet: candidates(tree, d, s))
        head = r.problem or f"{plain(r.true)}→{plain(r.shown)} {r.status}"
        behind = [r]
        source = by_id(tree.sources, c.source)
        if source is not None and not r.problem:
            behind += [
                why.explain_source(tree, c, r, units),
                why.explain_input(tree, c, r, units),
                _tried(lambda: strip(tree, c, source, device)),  # noqa: B023
                why.reach_words(tree, c, r, units),
            ]
        said[f"signal {c.id}"] = (head, behind)
        best = found[0]["name"] if found and isinstance(found, list) else str(found)
        said[f"best for {c.id}"] = (best, found)
    return said


def _wires(tree: Job, got: Assessment, state: State) -> Said:
    said: Said = {}
    for wire, r in zip(got.runs, got.wires, strict=True):
        head = f"{plain(wire.length_m)} m, {plain(r.amps)} A"
        said[f"wire {wire.id}"] = (head, [wire, r, why.explain_wire(tree, wire, r, state)])
    p = got.power
    said["power"] = (f"{plain(p.days)} days, {plain(p.idle_margin_a)} A spare at idle", p)
    return said


def _want(found: Wanted) -> dict[str, object]:
    """With the reason told, which a control is asked for only where it is shown."""
    return {"": "Wanted"} | {k: getattr(found, k) for k in ("at", "value", "target", "reason")}


def _controls(tree: Job) -> Said:
    said: Said = {}
    for d in tree.devices:
        for control in d.sheet.controls:
            found = _tried(lambda d=d, c=control: _want(wanted(tree, d, c)))
            head = found["at"] if isinstance(found, dict) else found
            said[f"wanted {d.id}/{control.pin}"] = (head, found)
    said["gears"] = ("", _tried(lambda: gears(tree.vehicle)))
    return said


def _proof(tree: Job) -> Said:
    said: Said = {"road": (road_gate(tree)[:60], "")}
    for step in steps(tree):
        head = "; ".join(text(f.expect) for f in step.fields) or step.short
        said[f"step {step.id}"] = (f"{standing(tree, step)} {head}", step)
        tried = () if step.blocked else (0.1, 0.5, 0.97, 1.5)
        verdicts = [_tried(lambda s=step, x=x: judge(tree, s, _share(s, x))) for x in tried]
        said[f"judged {step.id}"] = ("", verdicts)
    return said


def _share(step: StepSheet, share: float) -> dict[str, float]:
    """What might be seen: a share of the most that passes."""
    return {f.name: share * f.high for f in step.fields}


def _face(c: Connector) -> list[Any]:
    numbers = [p.n for p in places(c)]
    sides = [(keyed_side(c, view), seen(c, view)) for view in get_args(View)]
    said_ = [(cavity_words(c, n), cavity_state(c, n)) for n in numbers]
    return [sides, said_, neighbours(c)]


ELSE = ("curves", "drawing", "hearsay")
"""Parts of the dossier that are told elsewhere here, or take long."""


def _paper(tree: Job, got: Assessment) -> Said:
    down = laid(tree)
    todo = tasks(tree)
    minutes = sum(t.minutes for t in todo)
    said: Said = {
        "tasks": (f"{minutes:.0f} min", todo),
        "parts": ("", parts_rows(down)),
        "cuts": ("", cut_rows(down)),
        "pins": ("", pin_rows(tree)),
        "wire list": ("", wire_rows(down, got)),
        "bundles": ("", bundles(tree)),
        "faces": ("", [_face(c) for c in tree.connectors]),
        "shared": ("", shared_circuits(tree.connectors)),
        "feeds": ("", [classify(f.volts) for f in tree.feeds if f.volts is not None]),
        "sheet": ("", [(k, tuple(b)) for k, _, b in parts(down, got, Units()) if k not in ELSE]),
        "drawing": ("", [drawing(down), labels(down)]),
        "facts": ("", [why.explain_fact(tree, f, Units()) for f in all_facts(tree)]),
        "changes": ("", [change_steps(tree, c) for c in tree.changes]),
        "leads": ("", [[order(lead), result(lead)] for lead in tree.leads]),
        "runs": ("", [_tried(lambda r=r: proposal(tree, r)) for r in tree.road]),
    }
    return said


def everything(tree: Job, state: State) -> Said:
    """All that is said of a job."""
    got = assess(tree, state)
    said = _signals(tree, got) | _wires(tree, got, state) | _controls(tree) | _proof(tree)
    for f in got.findings:
        said[f"finding {f.id}"] = (f"{f.level} {text(f.title)}", f)
    said |= {f"stage {s.stage}": (f"{s.mark} {text(s.words)}", "") for s in got.stages}
    return said | _paper(tree, got)


def lines(tree: Job, state: State) -> dict[str, str]:
    """Headlines with the digest of what lies behind each."""
    return {k: f"{h} #{digest(b)}" for k, (h, b) in everything(tree, state).items()}


@functools.cache
def as_it_ships(number: str) -> dict[str, str]:
    """What is said of a demo job in its usual state."""
    return lines(job(number), usual(job(number).vehicle))


def digest(value: Any) -> str:
    """Eight letters that stand for a value."""
    raw = json.dumps(plain(value), ensure_ascii=False).encode()
    return hashlib.sha256(raw).hexdigest()[:8]


def coarse(value: Any) -> str:
    """The same of what was fitted or averaged: its last digits differ between machines."""
    said = text(json.dumps(plain(value), ensure_ascii=False, sort_keys=True))
    figure = re.compile(r'"(-?\d[\d.]*(?:e[-+]\d+)?)"')
    return digest(figure.sub(lambda m: f'"{float(m[1]):.3g}"', said))


def facts(node: Any, path: str = "") -> Iterator[tuple[str, str, Any]]:
    """(what kind of fact, path, value) for every fact below a record that a path can reach."""
    for field in node.__struct_fields__:
        value, at = getattr(node, field), f"{path}.{field}".lstrip(".")
        if isinstance(value, msgspec.Struct):
            yield from facts(value, at)
        elif isinstance(value, tuple) and any(isinstance(v, msgspec.Struct) for v in value):
            for place, item in enumerate(value):
                key = next((k for k in KEYS if k in item.__struct_fields__), "")
                yield from facts(item, f"{at}.{getattr(item, key) if key else place}")
        else:
            yield f"{type(node).__name__}.{field}", at, value


def others(kind: str, value: Any, hint: Any, turn: int) -> Any:
    """Another value a fact of this kind may have; ``turn`` says which."""
    literals = [a for h in (hint, *typing.get_args(hint)) for a in _literals(h) if a != value]
    match value:
        case bool():
            return not value
        case _ if literals:
            return literals[turn % len(literals)]
        case int():
            return (value + 1, max(value - 2, 0))[turn % 2]
        case float():
            return ((value or 1.0) * 1.7, value * 0.4)[turn % 2]
        case None:
            return 40 if turn else None
        case str():
            return "" if turn % 2 else f"{value}x"
        case tuple():
            return value[1:] if turn % 2 == 0 else value[:-1]
    raise TypeError(kind)


def _literals(hint: Any) -> tuple[Any, ...]:
    if typing.get_origin(hint) is typing.Annotated:
        return _literals(typing.get_args(hint)[0])
    return typing.get_args(hint) if typing.get_origin(hint) is typing.Literal else ()


@functools.cache
def _hints(cls: type) -> dict[str, Any]:
    return typing.get_type_hints(cls, include_extras=True)


def kinds() -> dict[str, list[Change]]:
    """By the kind of a fact, all that the jobs hold of it."""
    found: dict[str, list[Change]] = {}
    for name in JOBS[:3]:
        for kind, path, value in facts(job(name)):
            found.setdefault(kind, []).append(Change(name, path, value))
    return found


def changes() -> dict[str, list[Change]]:
    """By the kind of a fact, the two changes that do most of those looked at."""
    chosen: dict[str, list[Change]] = {}
    for name in JOBS[:3]:
        if kept(name).exists():
            for told in json.loads(kept(name).read_text(encoding="utf-8"))["changed"]:
                change = Change(name, told["path"], told["value"])
                chosen.setdefault(told["kind"], []).append(change)
    for kind, all_ in kinds().items():
        for turn in () if kind in chosen else (0, 1):
            found = _those_that_do_most(kind, all_, turn)
            if found is not None:
                chosen.setdefault(kind, []).append(found)
    return chosen


def _those_that_do_most(kind: str, all_: list[Change], turn: int) -> Change | None:
    """Of some facts of a kind the one that does most; more are looked at while none does any."""
    done: list[tuple[int, Change]] = []
    for one in all_[:: max(1, len(all_) // MOST)][:MOST]:
        change = _changed(kind, one, turn)
        if change is not None:
            done.append((len(outcome(change)), change))
        if len(done) >= TRIED and max(n for n, _ in done):
            break
    return max(done, key=lambda d: d[0])[1] if done else None


def _changed(kind: str, one: Change, turn: int) -> Change | None:
    owner = fact(job(one.job), one.path.rpartition(".")[0]) if "." in one.path else None
    hint = _hints(type(owner) if owner is not None else Job)[one.path.split(".")[-1]]
    new = others(kind, one.value, hint, turn)
    return None if new == one.value else one._replace(value=new)


def outcome(change: Change) -> dict[str, str]:
    """What one change makes read otherwise; of what is gone or new, that it is."""
    base = job(change.job)
    state = usual(base.vehicle)
    before = as_it_ships(change.job)
    try:
        after = lines(validate(apply(base, Put(path=change.path, value=change.value))), state)
    except Problem as e:
        return {"refused": str(e)}
    names = sorted({*before, *after}, key=lambda n: (n not in before, n))
    return {n: after.get(n, "gone") for n in names if before.get(n) != after.get(n)}


def states(name: str) -> dict[str, str]:
    """What is said of a job in every named state; of all but the first, what is otherwise."""
    base = job(name)
    said: dict[str, str] = {}
    for state_name, state in named(base.vehicle):
        for key, line in lines(base, state).items():
            if said.setdefault(key, line) != line:
                said[f"{state_name}: {key}"] = line
    return said


def kept(name: str) -> Path:
    """Where the record of a job is kept."""
    return HERE / f"record-{name.replace(' ', '-')}.json"


def main(asked: list[str]) -> None:
    """Write the records anew, or print what one change does."""
    if asked:
        return show(*asked)
    chosen = changes()
    chosen["proven"] = [Change("0412 proven", path, value) for path, value in FALLS]
    for name in JOBS:
        made = [
            {"kind": kind, "path": c.path, "value": c.value, "does": outcome(c)}
            for kind, all_ in chosen.items()
            for c in all_
            if c.job == name
        ]
        whole = {"as it ships": states(name), "changed": made}
        text_ = msgspec.json.format(msgspec.json.encode(whole), indent=1).decode()
        kept(name).write_text(text_ + "\n", encoding="utf-8")
    return None


def show(name: str, path: str) -> None:
    """Print everything that the changes of one fact do."""
    state = usual(job(name).vehicle)
    before = everything(job(name), state)
    for change in json.loads(kept(name).read_text(encoding="utf-8"))["changed"]:
        if change["path"] == path:
            after = everything(apply(job(name), Put(path=path, value=change["value"])), state)
            for key in sorted({*before, *after}):
                if plain(before.get(key)) != plain(after.get(key)):
                    print(f"--- {key}\n- {plain(before.get(key))}\n+ {plain(after.get(key))}")


if __name__ == "__main__":
    main(sys.argv[1:])
