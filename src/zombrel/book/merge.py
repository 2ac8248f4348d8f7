"""Two who went on from one job: what each did is put together; where they differ both are kept.

Three-way merge of ordered trees by the names of their items (Khanna, Kunal, Pierce, *A formal
investigation of diff3*, 2007, for the cases): what only one side changed is taken from it, what
both changed alike is taken once, and what they changed differently stays as *theirs* has it, with
*mine* told apart from it. Lines that are only ever added, evidence and proofs, are numbered anew.
"""

from __future__ import annotations

from typing import Any

import msgspec

from zombrel.job.differences import shown
from zombrel.job.edits import Edit, Put
from zombrel.job.model import Job
from zombrel.job.problem import Problem
from zombrel.job.validate import validate
from zombrel.job.value import Value

NAMES = ("id", "pin", "n")
"""Fields that name an item of a list, the first that it has."""
HELD = ("devices", "connectors", "chains", "sources", "wires", "zones", "leads")
"""Lists whose items are parts that one person has in hand."""
ADDED = ("ledger", "proofs")
"""Lists that only grow, numbered by ``id``."""


class _Gone:
    """Stands for what is not there."""

    def __repr__(self) -> str:
        return "not there"


GONE = _Gone()


class Apart(Value, frozen=True):
    """One thing that both changed, and not alike."""

    path: str
    base: Any
    theirs: Any
    """What the merged job has, unless they took it away: then it has mine."""
    mine: Any

    @property
    def words(self) -> str:
        """``vehicle.tyre: theirs 195/65 R15, mine 205/55 R16``"""
        theirs, mine = said(self.path, self.theirs), said(self.path, self.mine)
        return f"{self.path}: theirs {theirs}, mine {mine}"


class Merged(Value, frozen=True):
    """One job of two."""

    job: Job
    apart: tuple[Apart, ...]
    whole: str
    """Why the two do not go together at all; then the job is theirs, and mine is to be kept."""


def merge(base: Job, theirs: Job, mine: Job) -> Merged:
    """``theirs`` with all that was done in ``mine`` since ``base``."""
    trees = [msgspec.json.decode(msgspec.json.encode(x)) for x in (base, theirs, mine)]
    added = {name: _added(name, *trees) for name in ADDED}
    for tree in trees:
        for name in ADDED:
            tree[name] = []
    apart: list[Apart] = []
    tree = _merged(trees[0], trees[1], trees[2], "", apart)
    try:
        job = validate(msgspec.convert(tree | added, Job))
    except (Problem, msgspec.ValidationError) as error:
        return Merged(theirs, (), f"What both did does not go together: {error}")
    return Merged(job, tuple(apart), "")


def _added(name: str, base: Any, theirs: Any, mine: Any) -> list[Any]:
    """Theirs, then what mine has more, numbered on."""
    bare = [{k: v for k, v in x.items() if k != "id"} for x in (*base[name], *theirs[name])]
    found = list(theirs[name])
    next_id = 1 + max((x["id"] for t in (theirs, mine) for x in t[name]), default=0)
    for line in mine[name]:
        if {k: v for k, v in line.items() if k != "id"} not in bare:
            taken = any(x["id"] == line["id"] for x in found)
            found.append(line | {"id": next_id} if taken else line)
            next_id += taken
    kept = {x["id"] for x in base[name]} - {x["id"] for x in mine[name]}
    return [x for x in found if x["id"] not in kept]


def _merged(base: Any, theirs: Any, mine: Any, path: str, apart: list[Apart]) -> Any:
    if mine in (base, theirs):
        return theirs
    if theirs == base:
        return mine
    sides = (base, theirs, mine)
    if all(isinstance(x, dict) for x in (theirs, mine)) and _alike(theirs, mine):
        was = base if isinstance(base, dict) and _alike(base, theirs) else {}
        return _fields(was, theirs, mine, path, apart)
    if all(isinstance(x, list) or x is GONE for x in sides) and GONE not in (theirs, mine):
        old, one, other = (_by_name(x if x is not GONE else []) for x in sides)
        if old is not None and one is not None and other is not None:
            return _items(old, one, other, path, apart)
    apart.append(Apart(path, base, theirs, mine))
    return mine if theirs is GONE else theirs


def _alike(a: dict[str, Any], b: dict[str, Any]) -> bool:
    """Records of one kind."""
    return a.get("type") == b.get("type")


def _fields(base: Any, theirs: Any, mine: Any, path: str, apart: list[Apart]) -> dict[str, Any]:
    found = {}
    for name in dict.fromkeys((*theirs, *mine)):
        was, one, other = (x.get(name, GONE) for x in (base, theirs, mine))
        value = _merged(was, one, other, f"{path}.{name}".lstrip("."), apart)
        if value is not GONE:
            found[name] = value
    return found


def _by_name(items: list[Any]) -> dict[Any, Any] | None:
    """Items of a list by name; None where they have none, or share one."""
    if not all(isinstance(x, dict) for x in items):
        return None
    names = [next((x[n] for n in NAMES if n in x), None) for x in items]
    if None in names or len(set(names)) < len(names):
        return None
    return dict(zip(names, items, strict=True))


def _items(
    base: dict[Any, Any],
    theirs: dict[Any, Any],
    mine: dict[Any, Any],
    path: str,
    apart: list[Apart],
) -> list[Any]:
    """In their order, what mine has more after that."""
    found = []
    for name in dict.fromkeys((*theirs, *mine)):
        was, one, other = (x.get(name, GONE) for x in (base, theirs, mine))
        value = _merged(was, one, other, f"{path}.{name}", apart)
        if value is not GONE:
            found.append(value)
    return found


def said(path: str, value: Any) -> str:
    """A value in a few words, as ``units.words`` writes them."""
    if value is GONE:
        return "took it away"
    if isinstance(value, dict | list):
        text = msgspec.json.encode(value).decode()
        return text if len(text) <= LONGEST else f"{text[:LONGEST]}…"
    return shown(tuple(path.split(".")), value) or str(value)


LONGEST = 120
"""So many letters of a record are told."""


def touched(old: Job, new: Job) -> tuple[str, ...]:
    """Parts that an edit changed, made or took away."""
    found: list[str] = []
    for name in HELD:
        was, now = getattr(old, name), getattr(new, name)
        if was is now:
            continue
        before, after = ({x.id: x for x in items} for items in (was, now))
        keys = dict.fromkeys((*before, *after))
        found += [f"{name}.{k}" for k in keys if before.get(k) != after.get(k)]
    return tuple(found)


def shared_as(key: int, version: int) -> Edit:
    """The job is this version of a shared one."""
    return Put(path="shared", value=f"{key}.{version}")
