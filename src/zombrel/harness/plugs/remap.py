"""A remap lead: what of the old plug goes where on the new ones, and what does not fit.

What has the same function on both sides belongs together; where the kinds are known and alike it
is sure, where they are not it matches by name only. What would harm or not work is a conflict:
a driver too weak for its load, a sensor of another sort, a pull-up that is missing, two into one.

References: as in ``harness.function``; limits of what matches are definitions of the kinds.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator, Sequence
from typing import Literal

from zombrel.harness.plugs.function import ROLE_WORDS, Function, Kind, Role, function_of, kind_of
from zombrel.job.value import Value
from zombrel.units import number

By = Literal["function", "name", "kind", "hand"]


class Way(Value, frozen=True):
    """One cavity of a plug."""

    cavity: str
    """``V52.7``, or its number."""
    circuit: str
    kind: str = ""
    colour: str = ""

    @property
    def function(self) -> Function:
        """What it is for."""
        return function_of(self.circuit)

    @property
    def means(self) -> Kind:
        """What lies behind it."""
        return kind_of(self.kind, self.circuit)


class Joined(Value, frozen=True):
    """One conductor of the lead."""

    a: Way
    b: Way
    by: By


class Conflict(Value, frozen=True):
    """What does not fit at a conductor."""

    a: str
    b: str
    code: str
    why: str
    mend: str


class Remap(Value, frozen=True):
    """The lead as it is matched."""

    pairs: tuple[Joined, ...]
    unused: tuple[Way, ...]
    """Of the old plug, what the new ones have nothing for."""
    missing: tuple[Way, ...]
    """Of the new plugs, what this car does not give."""
    conflicts: tuple[Conflict, ...]


SHARED: tuple[Role, ...] = ("feed", "ground", "sensor ground", "reference")
"""What several cavities may share by a joint in the lead."""
ALIKE: tuple[frozenset[Role], ...] = (
    frozenset({"driver", "output"}),
    frozenset({"contact", "output"}),
    frozenset({"volts", "output"}),
    frozenset({"feed", "contact"}),
)
"""Kinds that go together although they are called otherwise."""


def remap(old: Sequence[Way], new: Sequence[Way], by_hand: Sequence[tuple[str, str]] = ()) -> Remap:
    """Match the cavities of ``old`` with those of ``new``; ``by_hand`` first, as it is said."""
    left, open_ = [w for w in old if w.circuit], [w for w in new if w.circuit]
    pairs: list[Joined] = []

    def take(a: Way, b: Way, by: By) -> None:
        pairs.append(Joined(a, b, by))
        left.remove(a)
        open_.remove(b)

    at_old, at_new = {w.cavity: w for w in old}, {w.cavity: w for w in new}
    for x, y in by_hand:
        if at_old.get(x) in left and at_new.get(y) in open_:
            take(at_old[x], at_new[y], "hand")
    for a in list(left):
        same = [b for b in open_ if b.function == a.function]
        best = min(same, key=lambda b: not _fit(a.means, b.means), default=None)
        if best is not None:
            take(a, best, "function" if _sure(a, best) else "name")
    for a, b in list(_numbered(left, open_)):
        take(a, b, "function" if _sure(a, b) else "name")
    for a, b in list(_only_ones(left, open_)):
        take(a, b, "kind")
    order = {w.cavity: i for i, w in enumerate(old)}
    pairs.sort(key=lambda p: order[p.a.cavity])
    conflicts = [c for p in pairs for c in _conflicts(p)]
    conflicts += _two_to_one(left, pairs)
    return Remap(tuple(pairs), tuple(left), tuple(open_), tuple(conflicts))


def _sure(a: Way, b: Way) -> bool:
    """Both sides say their kind, and they are alike."""
    return bool(a.means.role and b.means.role) and _fit(a.means, b.means)


def _fit(a: Kind, b: Kind) -> bool:
    if not a.role or not b.role or a.role == b.role:
        return True
    return frozenset((a.role, b.role)) in ALIKE


def _numbered(left: Sequence[Way], open_: Sequence[Way]) -> Iterator[tuple[Way, Way]]:
    """Grounds and feeds that one paper numbers and the other does not, in their order."""
    used: set[str] = set()
    for a in left:
        if a.means.role not in SHARED:
            continue
        for b in open_:
            same = (b.function.name, b.function.sign) == (a.function.name, a.function.sign)
            if same and b.cavity not in used:
                used.add(b.cavity)
                yield a, b
                break


def _only_ones(left: Sequence[Way], open_: Sequence[Way]) -> Iterator[tuple[Way, Way]]:
    """What is the only one of its kind on both sides, among what there is one of in a car."""
    olds, news = Counter(w.means.role for w in left), Counter(w.means.role for w in open_)
    for role in SHARED:
        if olds[role] == news[role] == 1:
            yield (
                next(w for w in left if w.means.role == role),
                next(w for w in open_ if w.means.role == role),
            )


def _conflicts(p: Joined) -> Iterator[Conflict]:
    a, b = p.a.means, p.b.means
    where = (p.a.cavity, p.b.cavity)
    if a.role == "driver" == b.role and a.amps and b.amps and a.amps > b.amps:
        yield Conflict(
            *where,
            "driver-current",
            f"{p.a.circuit} takes {number(a.amps, 2)} A and {p.b.circuit} drives "
            f"{number(b.amps, 2)} A.",
            "A relay between them, or a stronger output of the new computer.",
        )
    if {a.role, b.role} == {"hall", "reluctor"}:
        yield Conflict(*where, "sensor-type", *_hall_or_reluctor(a.role == "hall"))
    elif a.role == "resistive" and b.role in ("volts", "hall", "reluctor"):
        yield Conflict(
            *where,
            "pull-up",
            "A resistive sender gives nothing by itself, and that input does not pull it up.",
            "A pull-up to 5 V at the input, or an input meant for resistive senders.",
        )
    elif not _fit(a, b):
        yield Conflict(
            *where,
            "kind",
            f"{p.a.circuit} is {ROLE_WORDS[a.role]} and {p.b.circuit} wants {ROLE_WORDS[b.role]}.",
            "Join it elsewhere, or leave it unused.",
        )
    if a.volts and b.volts and a.volts > b.volts and a.role != "driver":
        yield Conflict(
            *where,
            "level",
            f"{p.a.circuit} stands at {number(a.volts, 1)} V and {p.b.circuit} is made for "
            f"{number(b.volts, 1)} V.",
            "A divider of two resistors, or another input.",
        )
    if (p.a.function.sign and p.b.function.sign) and p.a.function.sign != p.b.function.sign:
        yield Conflict(
            *where,
            "sign",
            f"{p.a.circuit} and {p.b.circuit} are opposite ends of a pair.",
            "Exchange the two of the pair.",
        )


def _hall_or_reluctor(hall: bool) -> tuple[str, str]:
    if hall:
        return (
            "A Hall sensor into a reluctor input: it stands at one level and gives no crossing.",
            "Set the input to Hall; else a pull-up and a coupling capacitor.",
        )
    return (
        "A reluctor into a Hall input: it never reaches the level, and goes below ground.",
        "Set the input to reluctor, or a converter between them.",
    )


def _two_to_one(left: Sequence[Way], pairs: Sequence[Joined]) -> Iterator[Conflict]:
    """What is left over although its function is taken: two would end in one."""
    for w in left:
        taken = next((p for p in pairs if p.a.function == w.function), None)
        like = next(
            (
                p
                for p in pairs
                if p.a.function.name == w.function.name
                and p.a.means.role == w.means.role
                and w.means.role in SHARED
            ),
            None,
        )
        found = taken or like
        if found is None:
            continue
        shares = w.means.role in SHARED
        yield Conflict(
            w.cavity,
            found.b.cavity,
            "two-to-one",
            f"{w.circuit} and {found.a.circuit} would both end in {found.b.cavity}.",
            "A joint in the lead: both wires into one terminal’s wire."
            if shares
            else "Only one of them can: choose it, leave the other unused.",
        )


def conductors(found: Remap) -> tuple[tuple[str, str, str, str], ...]:
    """(a, b, colour, circuit) of the lead: colours follow the car's own."""
    rows = [(p.a.cavity, p.b.cavity, p.a.colour or p.b.colour, p.a.circuit) for p in found.pairs]
    at = {w.cavity: w for w in found.unused}
    rows += [
        (c.a, c.b, at[c.a].colour, at[c.a].circuit)
        for c in found.conflicts
        if c.code == "two-to-one" and at[c.a].means.role in SHARED
    ]
    return tuple(rows)
