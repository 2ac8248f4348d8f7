"""Every function of the core that can be called with what the demo jobs hold, and what it gives.

Arguments are drawn by their type: parts of the demo jobs and of what is said of them, a few
numbers, names that occur. What comes of some draws makes one digest a function. That a result is
right is the matter of the other tests; this one sees that no result moves unseen.

``python -m tests.whole.called`` writes ``called.json`` anew; name functions to see their results.
"""

from __future__ import annotations

import builtins
import collections
import collections.abc
import contextlib
import datetime
import functools
import importlib
import inspect
import itertools
import json
import os
import pkgutil
import random
import signal
import subprocess
import sys
import time
import types
import typing
import warnings
from collections.abc import Callable, Iterator, Sequence
from pathlib import Path
from typing import Any
from unittest import mock

import msgspec
import numpy as np

from tests.whole.record import digest, everything, kept
from tests.whole.slots import at, put, slots
from tests.whole.stirred import stirred
from zombrel.behaviour.suppose import named, usual
from zombrel.catalog import DEMO
from zombrel.diagnose.steps import steps
from zombrel.findings.assess import assess
from zombrel.findings.scene import Scene
from zombrel.harness.laid import laid
from zombrel.job import unjudged
from zombrel.job.edits import Put, apply
from zombrel.job.follow.query import forget
from zombrel.job.model import Job
from zombrel.job.problem import Problem
from zombrel.job.validate import validate
from zombrel.logs.read_any import read_any
from zombrel.logs.recording import Channel, Recording
from zombrel.plan.day import work_order
from zombrel.plan.tasks import tasks
from zombrel.store.zjob import load
from zombrel.units import CUSTOMARY, METRIC, Units

KEPT = Path(__file__).with_name("called.json")
PACKAGES = (
    "actions",
    "behaviour",
    "book",
    "calc",
    "calibrate",
    "catalog",
    "diagnose",
    "findings",
    "handover",
    "harness",
    "instruments",
    "intake",
    "job",
    "logs",
    "plan",
    "plots",
    "signals",
    "units",
)
LEFT_OUT = (
    "zombrel.job.unjudged",
    "zombrel.job.follow",
    "zombrel.handover.paper",
    "zombrel.calc.registry",
    "zombrel.instruments.lines",
    "zombrel.instruments.scope",
)
"""What keeps what it is told, lays out paper, or looks for what is plugged in."""
ELSE_ELSEWHERE = ("signals.circuit.build._hops", "signals.circuit.network.load")
"""Python 3.13 draws other nodes for them: which of two types comes first is kept from elsewhere."""
JOBS = ("0409", "0412", "0413")
DRAWS = 32
SLOW_S = 0.2
"""A function that takes longer is drawn for no further."""
HANGS_S = 1
MOST = 16
"""Of one kind of record so many are at hand."""
LONG = 3
OTHERS = (
    {"PYTHONHASHSEED": "1"},
    {"PYTHONHASHSEED": "2", "OPENBLAS_CORETYPE": "Nehalem"},
    {"NPY_DISABLE_CPU_FEATURES": "AVX2 FMA3 AVX512F AVX512CD AVX512_SKX"},
)
"""Other runs and other machines."""
NUMBERS = (0.0, 0.5, 1.0, 2.5, 7.0, 13.8, 80.0, 293.15, 1000.0, -1.0)
BYTES = (b"", b"time (s),speed (km/h)\n0,10\n1,20\n2,31\n3,40\n4,50\n", b"\x00\xff zombrel")
ANYTHING = (bool, int, float, str, None, tuple[float, ...], tuple[str, ...])
TRIES = 6
VARIED, DEEP = 0.4, 3
"""Such a share of the records have some numbers changed, so deep in them."""
SHORT, MOST_OWN = 24, 16
"""Of a function's own words the short ones, and so many of all it holds."""
COUNTS = (0, 1, 2, 3, 7, 40)
DAYS = (datetime.date(2026, 3, 2), datetime.date(2026, 3, 6), datetime.date(2026, 12, 31))
LOGS = ("0412-road.csv", "0413-pulls-before.csv", "0413-pulls-after.csv")
LEAST = 400
"""So many samples of a log are at hand."""
UNLIKE, CHANGES = 3, 3
"""Jobs that differ from a demo job, each in so many facts."""
WORDS = ("", "12 V feed", "205/60 R15", "black", "green/white", "3-6", "engine speed", "no such")


class UnknownError(Exception):
    """Nothing of such a type is at hand."""


class Dice(random.Random):
    """Throws for one function, which is also given what it compares with."""

    def __init__(self, seed: str, own: Own) -> None:
        super().__init__(seed)
        self.own = own
        self.met: Own = []
        """Numbers and words of what it was given so far."""

    def one_of(self, kind: type, usual: Sequence[Any]) -> Any:
        """A usual value, one of the function's own, or one that it has been given elsewhere."""
        own, met = ([v for v in some if type(v) is kind] for some in (self.own, self.met))
        chosen = self.choice([some for some in (usual, usual, own, own, met) if some])
        self.met.append(self.choice(chosen))
        return self.met[-1]

    def meet(self, thing: msgspec.Struct) -> None:
        """Remember the numbers of a record."""
        values = [getattr(thing, f) for f in thing.__struct_fields__]
        self.met += [v for v in values if type(v) in (int, float)]


class Hangs(BaseException):
    """It does not come back."""


Own = list[float | str]
Pool = dict[type, list[Any]]
OWNERS: dict[Callable[..., Any], type] = {}
"""Of methods: the class whose record they are asked of."""


def _met(value: Any, pool: Pool, seen: set[int], deep: int = 0) -> None:
    """File what a value holds by its type."""
    if id(value) in seen or deep > 9:
        return
    if isinstance(value, msgspec.Struct):
        seen.add(id(value))
        pool[type(value)].append(value)
        for field in value.__struct_fields__:
            _met(getattr(value, field), pool, seen, deep + 1)
    elif isinstance(value, dict):
        for part in value.values():
            _met(part, pool, seen, deep + 1)
    elif isinstance(value, tuple | list):
        for part in value:
            _met(part, pool, seen, deep + 1)


@functools.cache
def _logs() -> list[Recording]:
    """Logs of the demo jobs, thinned."""
    found = []
    for name in LOGS:
        log = read_any(DEMO / name)
        thin = [max(1, len(c.t) // LEAST) for c in log.channels]
        channels = [
            Channel(c.name, c.what, c.unit, c.t[::n], c.v[::n])
            for c, n in zip(log.channels, thin, strict=True)
        ]
        found.append(Recording(log.name, tuple(channels), log.notes))
    return found


def _unlike(name: str, raw: Job) -> Iterator[Job]:
    """Jobs that differ from a demo job in some facts, of those that are known to do something."""
    told = json.loads(kept(name).read_text(encoding="utf-8"))["changed"]
    does = [t for t in told if t["does"] and "refused" not in t["does"]]
    for turn in range(UNLIKE):
        job = raw
        for change in random.Random(f"{name} {turn}").sample(does, CHANGES):
            try:
                job = validate(apply(job, Put(path=change["path"], value=change["value"])))
            except Problem:
                continue
        yield job


class Held:
    """What is at hand of one demo job: records by type, ids by the part they lie in, words."""

    def __init__(self, name: str) -> None:
        forget()  # so that the same things are the same objects, whatever was asked before
        raw = load(DEMO / f"{name}.zjob")
        job, now = laid(raw), usual(raw.vehicle)
        found: Pool = collections.defaultdict(list)
        seen: set[int] = set()
        for value in (raw, now, [s for _, s in named(raw.vehicle)], assess(raw, now), steps(raw)):
            _met(value, found, seen)
        for value in (tasks(raw), work_order(raw), everything(job, now)):
            _met(value, found, seen)
        stirred_too = list(stirred(name, raw))
        _met(stirred_too, found, seen)
        self.pool: Pool = {}
        for kind, values in found.items():
            apart = [v for i, v in enumerate(values) if i == 0 or v != values[i - 1]]
            self.pool[kind] = apart[:: max(1, len(apart) // MOST)][:MOST]
        self.pool[Job] = [raw, *_unlike(name, raw), *stirred_too]
        states = [s for _, s in named(raw.vehicle)]
        self.pool[Scene] = [Scene(j, states[i % len(states)]) for i, j in enumerate(self.pool[Job])]
        self.pool[Units] = [METRIC, CUSTOMARY]
        self.pool[datetime.date] = list(DAYS)
        self.pool[Recording] = _logs()
        self.pool[Channel] = [c for log in _logs() for c in log.channels]
        parts = {f: getattr(raw, f) for f in raw.__struct_fields__}
        self.ids = {
            part: [i.id for i in items]
            for part, items in parts.items()
            if isinstance(items, tuple) and items and hasattr(items[0], "id")
        }
        pins = {p for d in raw.devices for p in [i.pin for i in d.sheet.inputs]}
        self.ids["pins"] = sorted(pins)
        self.words = (*WORDS, *sorted(pins), *[i for ids in self.ids.values() for i in ids[:3]])

    def word(self, key: str, dice: Dice) -> str:
        """A text for a parameter of this name: most often an id of what it speaks of."""
        for part, ids in self.ids.items():
            if key.rstrip("s") == part.rstrip("s"):
                return dice.choice(ids)
        if key in ("key", "place", "where", "id") and dice.random() < 0.8:
            return dice.choice(self.ids[dice.choice(("chains", "devices", "wires", "feeds"))])
        return str(dice.one_of(str, self.words))


@functools.cache
def held(name: str) -> Held:
    """What is at hand of a demo job, met once."""
    return Held(name)


def drawn(hint: Any, key: str, dice: Dice, of: Held, deep: int = 0) -> Any:
    """Something of a type."""
    origin, inside = typing.get_origin(hint), typing.get_args(hint)
    if deep > 5:
        raise UnknownError
    again = functools.partial(drawn, key=key, dice=dice, of=of, deep=deep + 1)
    if hint is bool:
        return dice.random() < 0.5
    if hint is float:
        return dice.one_of(float, NUMBERS)
    if hint is int:
        return dice.one_of(int, COUNTS)
    if hint is str:
        return of.word(key, dice)
    if hint is None or hint is type(None):
        return None
    if hint is bytes:
        return dice.choice(BYTES)
    if hint in (Any, object):
        return again(dice.choice(ANYTHING))
    if origin is typing.Annotated:
        return again(inside[0])
    if origin is typing.Literal:
        return dice.choice(inside)
    if origin in (typing.Union, types.UnionType):
        return again(dice.choice(inside))
    if origin is tuple:
        if inside[-1:] == (Ellipsis,):
            return tuple([again(inside[0]) for _ in range(dice.randint(0, LONG))])
        return tuple([again(i) for i in inside])
    if origin is dict or origin is collections.abc.Mapping:
        return {again(inside[0]): again(inside[1]) for _ in range(dice.randint(0, LONG))}
    if origin in (set, frozenset, collections.abc.Set):
        return frozenset(again(inside[0]) for _ in range(dice.randint(0, LONG)))
    if np.ndarray in (origin, hint):
        return np.array([dice.choice(NUMBERS) for _ in range(8)])
    if origin is collections.abc.Callable and inside:
        return _answering(inside[-1], again)
    if isinstance(origin, type) and issubclass(origin, collections.abc.Iterable) and inside:
        return [again(inside[0]) for _ in range(dice.randint(0, LONG))]
    if isinstance(hint, type):
        known = [v for kind, vs in of.pool.items() if issubclass(kind, hint) for v in vs]
        if known:
            return _varied(dice.choice(known), dice)
        return _made(hint, again)
    raise UnknownError


def _varied(thing: Any, dice: Dice) -> Any:
    """As it was found, or now and then with other numbers somewhere in it."""
    if not isinstance(thing, msgspec.Struct) or isinstance(thing, Job):
        return thing
    dice.meet(thing)
    if dice.random() > VARIED:
        return thing
    numbers = list(slots(thing, DEEP))
    for slot in dice.sample(numbers, min(len(numbers), dice.randint(1, LONG))):
        kind = type(at(thing, slot))
        thing = put(thing, slot, dice.one_of(kind, NUMBERS if kind is float else COUNTS))
    return thing


def _made(kind: type, draw: Callable[..., Any]) -> Any:
    """A record of a kind that none is at hand of, of fields that are drawn."""
    if not kind.__module__.startswith("zombrel") or inspect.isabstract(kind):
        raise UnknownError
    fields = getattr(kind, "_fields", None) or getattr(kind, "__struct_fields__", None)
    typed = kind if fields else kind.__init__
    hints = typing.get_type_hints(typed, _classes() | vars(sys.modules[kind.__module__]))
    fields = fields or [f for f in hints if f != "return"]
    for _ in range(TRIES):
        try:
            return kind(**{f: draw(hints[f], key=f) for f in fields})
        except (Problem, ValueError, TypeError, LookupError, ArithmeticError):
            continue
    raise UnknownError


def _answering(gives: Any, draw: Callable[..., Any]) -> Callable[..., Any]:
    """A function to be asked, whose answer follows from what it is asked."""
    match gives:
        case builtins.float:
            return lambda *x: 0.5 + 0.75 * sum(v for v in x if isinstance(v, float))
        case builtins.bool:
            return lambda *x: sum(v for v in x if isinstance(v, float)) > 2.0
        case builtins.str:
            return lambda *x: f"of {len(x)}"
    value = draw(gives)
    return lambda *_: value


def functions(package: str) -> Iterator[tuple[str, Callable[..., Any]]]:
    """Functions of a package by their full names."""
    whole = importlib.import_module(f"zombrel.{package}")
    for found in [
        types.SimpleNamespace(name=whole.__name__),
        *pkgutil.walk_packages(whole.__path__, f"{whole.__name__}."),
    ]:
        if not found.name.startswith(LEFT_OUT):
            module = importlib.import_module(found.name)
            for name, thing in sorted(vars(module).items()):
                own = getattr(thing, "__module__", "") == found.name
                full = f"{found.name.removeprefix('zombrel.')}.{name}"
                if own and inspect.isclass(thing):
                    yield from _of_class(full, thing)
                elif full in ELSE_ELSEWHERE:
                    continue
                elif own and inspect.isfunction(inspect.unwrap(thing)) and callable(thing):
                    yield full, thing


def _of_class(full: str, cls: type) -> Iterator[tuple[str, Callable[..., Any]]]:
    """What can be asked of a record."""
    if issubclass(cls, msgspec.Struct) or cls is Scene:
        for name, thing in sorted(vars(cls).items()):
            asked = {property: "fget", functools.cached_property: "func"}.get(type(thing), "")
            method = getattr(thing, asked) if asked else thing
            if inspect.isfunction(method) and not name.startswith("__"):
                OWNERS[method] = cls
                yield f"{full}.{name}", method


@functools.cache
def _classes() -> dict[str, Any]:
    """What an annotation may name that its module imports for the type checker alone."""
    found: dict[str, Any] = {"np": np}
    for package in PACKAGES:  # these alone, and in order: others may be loaded or not
        whole = importlib.import_module(f"zombrel.{package}")
        inside = pkgutil.walk_packages(whole.__path__, f"{whole.__name__}.")
        for module in sorted(m.name for m in inside):
            defined = vars(importlib.import_module(module)).items()
            found |= {k: v for k, v in defined if isinstance(v, type)}
    return found


def _hints(function: Callable[..., Any]) -> dict[str, Any]:
    bare = inspect.unwrap(function)
    return typing.get_type_hints(bare, _classes() | bare.__globals__, include_extras=True)


def own_of(function: Callable[..., Any]) -> Own:
    """Numbers and words that a function holds or names: where it may turn to and fro."""
    bare = inspect.unwrap(function)
    found: dict[float | str, None] = {}
    codes = [bare.__code__]
    while codes:
        code = codes.pop()
        codes += [c for c in code.co_consts if isinstance(c, types.CodeType)]
        named = [bare.__globals__.get(n) for n in code.co_names]
        for value in (*code.co_consts, *named):
            if type(value) in (int, float) or (type(value) is str and len(value) < SHORT):
                found[value] = None
    return list(found)[:MOST_OWN]


def given(name: str, function: Callable[..., Any], turn: int, own: Own) -> dict[str, Any]:
    """Arguments by name: parts of one and the same job where a job is asked for."""
    dice = Dice(f"{name} {turn}", own)
    hints, found = _hints(function), {}
    of = held(dice.choice(JOBS))
    if inspect.unwrap(function) in OWNERS:
        hints["self"] = OWNERS[function]
    for key, parameter in inspect.signature(function).parameters.items():
        if parameter.kind not in (parameter.POSITIONAL_OR_KEYWORD, parameter.POSITIONAL_ONLY):
            raise UnknownError
        if parameter.default is not parameter.empty and dice.random() < 0.5:
            break
        found[key] = drawn(hints[key], key, dice, of)
    return found


def outcome(function: Callable[..., Any], arguments: dict[str, Any]) -> str:
    """What comes of a call, as a digest; of what goes wrong, what it is."""
    try:
        with np.errstate(all="ignore"), warnings.catch_warnings():
            warnings.simplefilter("ignore")
            made = function(*arguments.values())
            if isinstance(made, collections.abc.Iterator):
                made = list(itertools.islice(made, 300))
            return digest(made)
    except Problem as problem:
        return f"problem {digest(str(problem))}"
    except Exception as error:
        return type(error).__name__


def told(
    name: str, function: Callable[..., Any], own: Own, draws: int = 0
) -> tuple[int, list[str]]:
    """How often a function was drawn for, and what came of it; 0: as often as it is quick."""
    said: list[str] = []
    spent = 0.0
    for turn in range(draws or DRAWS):
        begun = time.monotonic()
        try:
            said.append(outcome(function, given(name, function, turn, own)))
        except (UnknownError, NameError, TypeError, KeyError):
            said.append("Unknown")
        spent += time.monotonic() - begun
        if spent > SLOW_S and not draws:
            break
    return len(said), said


@contextlib.contextmanager
def _quiet() -> Iterator[None]:
    """LAPACK prints past Python when what it is given is no figure."""
    sys.stdout.flush()
    own = os.dup(1)
    nowhere = os.open(os.devnull, os.O_WRONLY)
    try:
        os.dup2(nowhere, 1)
        yield
    finally:
        os.dup2(own, 1)
        os.close(own)
        os.close(nowhere)


def _late(*_: Any) -> None:
    raise Hangs


Record = dict[str, list[Any]]
"""By function: how many draws, the digest of what they gave, and what it was given of its own.

Kept, and not looked up when it is asked again: what it holds then may be what is wrong.
"""


def record() -> Record:
    """What is kept."""
    return dict(json.loads(KEPT.read_text(encoding="utf-8"))) if KEPT.exists() else {}


def recorded() -> Record:
    """All functions anew, as often each as before."""
    found: Record = {}
    before = record()
    for name in JOBS:
        held(name)  # before the clock runs
    signal.signal(signal.SIGALRM, _late)
    for package in PACKAGES:
        for name, function in functions(package):
            signal.alarm(HANGS_S)
            try:
                own = own_of(function)
                count, said = told(name, function, own, before.get(name, [0])[0])
                if any(not s[:1].isupper() for s in said):
                    found[name] = [count, digest(said), *own]
            except Hangs:
                continue
            finally:
                signal.alarm(0)
    return found


def again(package: str, kept: Record) -> dict[str, str]:
    """The digests of the functions of a package that are kept."""
    found = {}
    with (
        _quiet(),
        mock.patch.object(unjudged, "_kept", []),
    ):  # odd arguments make faults that are none
        for name, function in functions(package):
            if name in kept:
                count, _, *own = kept[name]
                found[name] = digest(told(name, function, own, count)[1])
    return found


def _write(found: Record) -> None:
    lines = [f"{json.dumps(k)}: {json.dumps(v, ensure_ascii=False)}" for k, v in found.items()]
    KEPT.write_text("{\n" + ",\n".join(sorted(lines)) + "\n}\n", encoding="utf-8")


def main(asked: list[str]) -> None:
    """Write the record, or print what some functions give."""
    if asked == ["-"]:
        now = {k: v for p in PACKAGES for k, v in again(p, record()).items()}
        print(json.dumps(now))
    elif asked:
        for package in PACKAGES:
            for name, function in functions(package):
                if name in asked:
                    for turn in range(DRAWS):
                        arguments = given(name, function, turn, own_of(function))
                        print(name, arguments, "->", outcome(function, arguments))
    else:  # what another hash seed, another hour or another machine changes is left out
        with _quiet():
            alike = recorded()
        count = len(alike)
        _write(alike)
        for other in OTHERS:
            done = subprocess.run(
                [sys.executable, "-m", "tests.whole.called", "-"],
                env={**os.environ, **other},
                check=True,
                capture_output=True,
                text=True,
            )
            now = json.loads(done.stdout.splitlines()[-1])
            alike = {k: v for k, v in alike.items() if now.get(k) == v[1]}
        _write(alike)
        print(len(alike), "kept of", count)


if __name__ == "__main__":
    main(sys.argv[1:])
