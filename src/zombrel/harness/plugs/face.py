"""Where the cavities of a connector face lie, as each side shows them, and how to count them.

The mating face is the wire side seen from behind: left and right change places, top and bottom
stay. Positions are in pitches of the face, y downward.

Reference: first-angle views of ISO 128-3; neighbours by distance of centres (definition).
"""

from __future__ import annotations

import math
from typing import Literal

from zombrel.job.follow.query import query
from zombrel.job.problem import Problem
from zombrel.job.sheet import Frozen
from zombrel.job.wiring import Cavity, Connector

SAME_ROW = 0.45
"""Cavities nearer than this in height are of one row [pitches]."""

View = Literal["wire side", "mating face"]
VIEWS: dict[str, View] = {"wire": "wire side", "mating": "mating face"}
NTH = (
    "first",
    "second",
    "third",
    "fourth",
    "fifth",
    "sixth",
    "seventh",
    "eighth",
    "ninth",
    "tenth",
    "eleventh",
    "twelfth",
)
PLUG = 6
"""A plug with more wires is no sensor's: its kinds are not compared."""
RING = 0.34 / 0.172
"""Radius of a ring of cavities, in cavity sizes."""


class Place(Frozen, frozen=True, kw_only=True):
    """One cavity of a face."""

    n: int
    x: float
    y: float


def row_counts(c: Connector) -> tuple[int, ...]:
    """Cavities in each row, top to bottom."""
    return c.row_lengths or (c.columns,) * c.rows


def cavity_count(c: Connector) -> int:
    """How many cavities the face has."""
    if c.places:
        return len(c.places)
    return _in_ring(c) if c.round else sum(row_counts(c))


def _in_ring(c: Connector) -> int:
    """How many a ring has, its middle with it: rows of it count together."""
    return sum(c.row_lengths) or c.columns


@query
def places(c: Connector) -> tuple[Place, ...]:
    """Every cavity on the side it is counted on, in pitches.

    Raises:
        Problem: a cavity number is there twice in ``places``.
    """
    if c.places:
        numbers = [n for n, _, _ in c.places]
        if len(set(numbers)) < len(numbers):
            twice = next(n for n in numbers if numbers.count(n) > 1)
            raise Problem(f"{c.name}: places gives cavity {twice} twice.")
        return tuple(Place(n=n, x=x, y=y) for n, x, y in c.places)
    return _ring(c) if c.round else _rows(c)


def _ring(c: Connector) -> tuple[Place, ...]:
    """Clockwise from the upper left; the last cavity in the middle."""
    out, many = [], _in_ring(c)
    for n in range(1, many + 1):
        if n == many:
            out.append(Place(n=n, x=0.0, y=0.0))
            continue
        angle = 2 * math.pi * (n - 1) / (many - 1) - math.pi / 3
        out.append(Place(n=n, x=RING * math.sin(angle), y=-RING * math.cos(angle)))
    return tuple(out)


def _rows(c: Connector) -> tuple[Place, ...]:
    counts = row_counts(c)
    widest = max(counts)
    grid = []
    for down, count in enumerate(counts):
        shift = (widest - count) / 2 + (c.stagger if down % 2 else 0.0)
        grid.append([(shift + i, float(down)) for i in range(count)])
    lefts, tops = "left" in c.corner, "top" in c.corner
    lines = grid if tops else grid[::-1]
    order: list[tuple[float, float]] = []
    if c.numbering == "columns":
        across = [(x, y) for line in lines for x, y in line]
        order = sorted(across, key=lambda p: ((p[0] if lefts else -p[0]), p[1] if tops else -p[1]))
    else:
        for i, line in enumerate(lines):
            back = (not lefts) ^ (c.numbering == "forth and back" and i % 2 == 1)
            order += line[::-1] if back else line
    return tuple(Place(n=i + 1, x=x, y=y) for i, (x, y) in enumerate(order))


def seen(c: Connector, view: View) -> tuple[Place, ...]:
    """Every cavity as ``view`` shows it, top to bottom and left to right, from (0, 0) on."""
    found = places(c)
    if view != c.counted_on:
        found = tuple(Place(n=p.n, x=-p.x, y=p.y) for p in found)
    left, top = min(p.x for p in found), min(p.y for p in found)
    moved = [Place(n=p.n, x=round(p.x - left, 9), y=round(p.y - top, 9)) for p in found]
    return tuple(sorted(moved, key=lambda p: (p.y, p.x)))


def keyed_side(c: Connector, view: View) -> str:
    """The side of the shell with the key, as ``view`` shows it."""
    if view == c.counted_on or c.keyed in ("top", "bottom"):
        return c.keyed
    return "left" if c.keyed == "right" else "right"


def meet(a: Connector, b: Connector) -> bool:
    """Whether each cavity of ``a``, seen on its wire side, lies where ``b`` has the same number.

    ``b`` is seen on its mating face, which is what looks at ``a`` from behind it.
    """
    spots = []
    for c, view in ((a, "wire side"), (b, "mating face")):
        found = seen(c, view)  # type: ignore[arg-type]
        left, top = min(p.x for p in found), min(p.y for p in found)
        spots.append({p.n: (round(p.x - left, 2), round(p.y - top, 2)) for p in found})
    return spots[0] == spots[1]


def cavity(c: Connector, n: int) -> Cavity | None:
    """What is noted of cavity ``n``; None when nothing is."""
    return next((x for x in c.cavities if x.n == n), None)


State = Literal["occupied", "terminal", "vacant", "blanked", "unusable", "not looked into"]
SEEN: dict[str, State] = {
    "wire": "occupied",
    "terminal": "terminal",
    "empty": "vacant",
    "blanked": "blanked",
}
"""What was seen decides over what the paper says."""


def family(c: Connector, n: int) -> str:
    """Terminal family of a cavity: its own, or the housing's."""
    found = cavity(c, n)
    return (found.family if found is not None else "") or c.family


def on_paper(found: Cavity | None) -> bool:
    """The paper has a wire in it."""
    return found is not None and bool(found.colour or found.circuit)


def colour_of(found: Cavity) -> str:
    """Colour of the wire in a cavity: as it was seen, else as the paper has it."""
    return found.seen_colour if found.seen == "wire" and found.seen_colour else found.colour


def held(found: Cavity) -> str:
    """Colour and circuit of the wire in a cavity, as one says them; empty where there is none."""
    return f"{colour_of(found)} {found.circuit}".strip()


def state(c: Connector, n: int) -> State:
    """What is in cavity ``n``: as it was seen, else as the paper has it.

    A cavity that no paper names and nobody looked into is not called vacant.
    """
    found = cavity(c, n)
    if found is None:
        return "not looked into"
    if found.unusable:
        return "unusable"
    if found.seen:
        return SEEN[found.seen]
    if on_paper(found):
        return "occupied"
    return "blanked" if found.blank else "not looked into"


def vacant(c: Connector) -> tuple[int, ...]:
    """Cavities a terminal could go into, those to unblank last."""
    free = [p.n for p in places(c) if state(c, p.n) in ("vacant", "blanked")]
    return tuple(sorted(free, key=lambda n: (state(c, n) == "blanked", n)))


def twins(c: Connector, n: int) -> tuple[int, ...]:
    """Other cavities whose wire has the same colour."""
    mine = cavity(c, n)
    if mine is None or not colour_of(mine):
        return ()
    colour = colour_of(mine)
    return tuple(x.n for x in c.cavities if colour_of(x) == colour and x.n != n)


def neighbours(c: Connector, reach: float = 1.2) -> tuple[tuple[int, int], ...]:
    """Pairs of cavities that lie side by side, at most ``reach`` pitches apart.

    ``reach`` [pitches].
    """
    found = places(c)
    out = []
    for i, p in enumerate(found):
        for q in found[i + 1 :]:
            if math.hypot(p.x - q.x, p.y - q.y) <= reach:
                out.append((min(p.n, q.n), max(p.n, q.n)))
    return tuple(sorted(out))


def nth(n: int) -> str:
    """``seventh``."""
    return NTH[n - 1] if n <= len(NTH) else f"{n}th"


def counted(c: Connector, n: int) -> str:
    """How to count to cavity ``n``: ``row 3, seventh from the lever end``."""
    start = c.key or "cavity 1"
    if c.round and not c.places:
        return "in the middle" if n == cavity_count(c) else f"{nth(n)} round the ring from {start}"
    found = places(c)
    here = next((p for p in found if p.n == n), None)
    if here is None:
        return f"there is no cavity {n}"
    tops = "bottom" not in c.corner
    lines = sorted({p.y for p in found}, reverse=not tops)
    # cavities set off by less than half a pitch are still one row to the eye
    rows: list[float] = []
    for y in lines:
        if not rows or abs(y - rows[-1]) > SAME_ROW:
            rows.append(y)
    mine = min(rows, key=lambda y: abs(y - here.y))
    line = sorted((p for p in found if abs(p.y - mine) <= SAME_ROW), key=lambda p: p.x)
    if "right" in c.corner:
        line.reverse()
    place = [p.n for p in line].index(n) + 1
    if len(rows) == 1:
        return f"{nth(place)} from {start}"
    return f"row {rows.index(mine) + 1}, {nth(place)} from {start}"


def words(c: Connector, n: int) -> str:
    """Everything worth saying of cavity ``n``."""
    text = f"Cavity {n}: {counted(c, n)}"
    how, mine = state(c, n), cavity(c, n)
    if mine is None or how != "occupied":
        paper = paper_words(mine)
        return f"{text}. {STATE_WORDS[how]}{f'; on paper {paper}' if paper else ''}."
    carries = f", {mine.circuit}" if mine.circuit else ""
    if not mine.seen:
        carries += ", on paper only"
    if twins(c, n):
        others = ", ".join(map(str, twins(c, n)))
        plural = "Cavities" if len(twins(c, n)) > 1 else "Cavity"
        have = "have" if len(twins(c, n)) > 1 else "has"
        return f"{text}{carries}. {plural} {others} {have} the same {colour_of(mine)}: count it."
    return f"{text}. {colour_of(mine) or 'No colour noted'}{carries}."


STATE_WORDS: dict[State, str] = {
    "occupied": "A wire",
    "terminal": "A terminal without a wire",
    "vacant": "Seen empty",
    "blanked": "Blanked",
    "unusable": "Unusable",
    "not looked into": "Nobody has looked into it",
}


def paper_words(found: Cavity | None) -> str:
    """What the paper has in a cavity: ``green/white, brake lamps``; empty where it has nothing."""
    return ", ".join(x for x in (found.colour, found.circuit) if x) if found is not None else ""


def contradicts(found: Cavity) -> bool:
    """What was seen is not what the paper says."""
    if not found.seen:
        return False
    if found.seen != "wire":
        return on_paper(found)
    return bool(found.seen_colour and found.colour and found.seen_colour != found.colour)


class Match(Frozen, frozen=True, kw_only=True):
    """One circuit that the paper has in two connectors."""

    circuit: str
    a: str
    b: str
    advice: str = ""
    """What that means, by what was seen at both ends."""


ADVICE = {
    "filled": "wires lie at both ends: meter it, it may be there already",
    "empty": "both were seen empty: one wire does it, with a terminal for each end",
    "look": "look into both cavities first",
}


def _advice(connectors: tuple[Connector, ...], a: str, b: str) -> str:
    seen_in = []
    for end in (a, b):
        place, _, n = end.rpartition(".")
        found = next(c for c in connectors if c.id == place)
        seen_in.append((getattr(cavity(found, int(n)), "seen", ""), state(found, int(n))))
    if all(seen == "wire" for seen, _ in seen_in):
        return ADVICE["filled"]
    if all(how in ("vacant", "blanked") for _, how in seen_in):
        return ADVICE["empty"]
    return ADVICE["look"]


def shared_circuits(connectors: tuple[Connector, ...]) -> tuple[Match, ...]:
    """Circuits that the paper has in two connectors, and what to do about each."""
    seen_at: dict[str, list[str]] = {}
    for c in connectors:
        for x in c.cavities:
            if x.circuit:
                seen_at.setdefault(x.circuit.casefold(), []).append(f"{c.id}.{x.n}")
    names = {x.circuit.casefold(): x.circuit for c in connectors for x in c.cavities}
    out = []
    for key, at in seen_at.items():
        for i, a in enumerate(at):
            for b in at[i + 1 :]:
                if a.partition(".")[0] != b.partition(".")[0]:
                    advice = _advice(connectors, a, b)
                    out.append(Match(circuit=names[key], a=a, b=b, advice=advice))
    return tuple(out)


def joinable(a: Connector, b: Connector) -> tuple[int, int] | None:
    """The vacant cavities where one new wire would join ``a`` and ``b``; None without any."""
    first, second = vacant(a), vacant(b)
    return (first[0], second[0]) if first and second else None


def rotation(early: tuple[str, ...], late: tuple[str, ...]) -> int | None:
    """By how many places the wires move round from one keying of a sensor to the other.

    ``early`` and ``late`` name the wire in cavity 1, 2, … of each. None when the late order is no
    rotation of the early one.

    Raises:
        Problem: the two do not have the same wires.
    """
    if sorted(early) != sorted(late):
        raise Problem("The two keyings must name the same wires, each once.")
    for k in range(len(early)):
        if all(late[(i + k) % len(late)] == w for i, w in enumerate(early)):
            return k
    return None


def two_kinds(a: Connector, b: Connector) -> str:
    """How the wires of two kinds of one plug lie to each other, in words.

    Empty when they are no two kinds of one plug: fewer than two and more than ``PLUG`` wires, a
    circuit without a name, or one of the smaller plug that the larger has not.
    """
    first, second = (
        {x.circuit: x.n for x in sorted(c.cavities, key=lambda x: x.n)} for c in (a, b)
    )
    both = first.keys() & second.keys()
    fewer = min(len(first), len(second))
    if "" in both or not 1 < fewer <= PLUG or len(both) < fewer:
        return ""
    if len(first) == len(second):
        turned = rotation(tuple(first), tuple(second))
        if turned:
            return f"{turned} place{'s' if turned > 1 else ''} round"
    said = []
    swapped = sorted(
        (x, y)
        for x in both
        for y in both
        if x < y and first[x] == second[y] != first[y] == second[x]
    )
    moved = {x for x in both if first[x] != second[x]} - {x for pair in swapped for x in pair}
    said += [f"{x} and {y} exchanged" for x, y in swapped]
    if moved:
        said.append(f"{', '.join(sorted(moved))} elsewhere: count each one")
    said += [f"{x} added in cavity {second[x]}" for x in second if x not in both]
    said += [f"{x} left out" for x in first if x not in both]
    return "; ".join(said) or "in the same places"
