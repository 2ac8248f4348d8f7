"""Connectors on paper: the face as found and as built, and what is in each cavity.

A4 upright, for the bench and for whoever opens the plug next.
"""

from __future__ import annotations

from zombrel.catalog.colours import stripe
from zombrel.handover.sheet import (
    INK,
    LINE,
    QUIET,
    Box,
    Item,
    Path,
    Sheet,
    Text,
    fit,
    lifted,
    shrunk,
)
from zombrel.harness.plugs import face
from zombrel.job.ledger import MEANING, provenance
from zombrel.job.model import Job
from zombrel.job.wiring import Cavity, Connector

A4 = (210.0, 297.0)
MARGIN, TOP, ROW = 12.0, 30.0, 5.6
PICTURE = 62.0
"""Height of the faces [mm]."""
FIRST, NEXT = 33, 44
"""Rows on the first page of a connector, and on each that follows."""
COLUMNS = (12.0, 24.0, 34.0, 62.0, 102.0, 128.0, 156.0)
HEADS = ("cavity", "", "colour, size", "circuit", "seen", "ours", "change")
"""Where each column begins [mm], and its heading."""
CELL, FEWEST = 7.0, 3.0
"""A cavity is drawn no larger, and told by its number no smaller [mm]."""


def as_found(job: Job, c: Connector) -> Connector:
    """The connector as it was before the first change that was made at it."""
    for change in job.changes:
        if change.state != "planned":
            for old in change.before:
                if old.id == c.id:
                    return old
    return c


def pin_sheets(job: Job) -> tuple[Sheet, ...]:
    """The pages of every connector of the job."""
    pages: list[Sheet] = []
    for c in job.connectors:
        pages += _pages(job, c)
    return tuple(pages)


def _pages(job: Job, c: Connector) -> list[Sheet]:
    found = as_found(job, c)
    rows = cells(job, c, found)
    groups = [rows[:FIRST], *(rows[i : i + NEXT] for i in range(FIRST, len(rows), NEXT))]
    pages = []
    for n, group in enumerate(groups, 1):
        items = _head(job, c, n, len(groups))
        down = TOP
        if n == 1:
            items += _faces(c, found)
            down += max(_tall(x, found != c) for x in (c, found))
        items += _table(group, down + 4)
        pages.append(Sheet(*A4, tuple(items)))
    return pages


def _head(job: Job, c: Connector, n: int, count: int) -> list[Item]:
    title, size = shrunk(f"{c.id}, {c.name}", 5.2, 150, 3.4)
    rung = provenance(job, f"connectors.{c.id}.cavities")
    said = [f"{job.number} {job.title}".strip(), f"{len(face.places(c))} ways", c.family]
    said += [f"{c.terminals} terminals" if c.terminals else ""]
    said += [f"pin-out {MEANING[rung]}" if rung else "nobody has said how it is known"]
    right = A4[0] - MARGIN
    words = fit(", ".join(x for x in said if x), 2.8, right - MARGIN)
    return [
        Text(MARGIN, 16, title, size, bold=True),
        Text(MARGIN, 22, words, 2.8, colour=QUIET),
        Text(right, 16, f"{n} of {count}", 3.2, "end", colour=QUIET),
        Path(((MARGIN, 25), (right, 25)), LINE),
    ]


def _faces(c: Connector, found: Connector) -> list[Item]:
    """One face; two where a change was made: as found, as built."""
    right = A4[0] - MARGIN
    if found == c:
        return _face(c, "wire side", MARGIN, right - MARGIN)
    half = (right - MARGIN - 8) / 2
    return [
        *_face(found, "as found, wire side", MARGIN, half),
        *_face(c, "as built, wire side", MARGIN + half + 8, half),
    ]


def both_faces(c: Connector, found: Connector) -> Sheet:
    """The face alone; where a change was made, as found beside as built."""
    tall = max(_tall(x, found != c) for x in (c, found))
    items = tuple(lifted(i, TOP - 3, MARGIN) for i in _faces(c, found))
    return Sheet(A4[0] - 2 * MARGIN, tall + 1, items)


def _side(c: Connector, room: float) -> tuple[float, float]:
    """Size of a cavity and height of the face within ``room`` [mm]."""
    seen = face.seen(c, "wire side")
    wide = max(p.x for p in seen) - min(p.x for p in seen) + 1
    tall = max(p.y for p in seen) - min(p.y for p in seen) + 1
    side = min(CELL, (room - 8) / wide, (PICTURE - 18) / tall)
    return side, tall * side


def _tall(c: Connector, two: bool) -> float:
    """What its picture takes of the page [mm]."""
    room = A4[0] - 2 * MARGIN
    return _side(c, (room - 8) / 2 if two else room)[1] + 18


def _face(c: Connector, words: str, left: float, room: float) -> list[Item]:
    seen = face.seen(c, "wire side")
    low = min(p.x for p in seen), min(p.y for p in seen)
    wide = max(p.x for p in seen) - low[0] + 1
    side, tall = _side(c, room)
    x0, y0 = left + 4, TOP + 8
    keyed = f"{words}; {c.key or 'key'} {face.keyed_side(c, 'wire side')}"
    items: list[Item] = [
        Text(left, TOP + 2, fit(keyed, 2.8, room), 2.8, bold=True),
        Box(x0 - 2, y0 - 2, wide * side + 4, tall + 4, radius=1.5),
    ]
    for p in seen:
        x, y = x0 + (p.x - low[0]) * side, y0 + (p.y - low[1]) * side
        items += _cell(c, p.n, x, y, side)
    return items


def _cell(c: Connector, n: int, x: float, y: float, side: float) -> list[Item]:
    held = face.cavity(c, n)
    how = face.state(c, n)
    box = Box(x + 0.2, y + 0.2, side - 0.4, side - 0.4, colour=LINE, width=0.15)
    items: list[Item] = [box]
    if how == "occupied" and held is not None and face.colour_of(held):
        base, mark = stripe(face.colour_of(held))
        items.append(Box(x + side * 0.2, y + side * 0.55, side * 0.6, side * 0.3, base, LINE, 0.1))
        if mark is not None:
            band = Box(x + side * 0.2, y + side * 0.66, side * 0.6, side * 0.08, mark, mark, 0.0)
            items.append(band)
    elif how in ("unusable", "blanked"):
        items.append(Path(((x + 0.8, y + 0.8), (x + side - 0.8, y + side - 0.8)), QUIET, 0.2))
    if side >= FEWEST:
        name = held.mark if held is not None and held.mark else str(n)
        items.append(Text(x + side / 2, y + side * 0.44, name, side * 0.32, "middle", colour=INK))
    return items


Row = tuple[tuple[str, ...], str, bool]
"""(words of the columns but the swatch, colour of the wire, it was changed)"""


def cells(job: Job, c: Connector, found: Connector) -> list[Row]:
    """Every cavity that something is in, comes to, or is said of."""
    ours = {(e.place, e.pin): w.id for w in job.wires for e in (w.a, w.b)}
    changed = {x.cavity: x for x in job.changes if x.connector == c.id}
    rows: list[Row] = []
    for place in sorted(face.places(c), key=lambda p: p.n):
        held = face.cavity(c, place.n) or Cavity(n=place.n)
        how = face.state(c, place.n)
        change = changed.get(place.n)
        wire = ours.get((c.id, str(place.n)), "")
        if how in ("vacant", "unusable", "not looked into") and not (
            wire or change or face.on_paper(held)
        ):
            continue  # nothing is there and nothing comes
        seen = {"occupied": held.seen_colour or held.seen}.get(how, how)
        words = (
            held.mark or str(place.n),
            f"{face.colour_of(held)} {held.area_mm2:g}" if held.area_mm2 else face.colour_of(held),
            held.circuit,
            ", ".join(x for x in (seen or "on paper only", held.known) if x),
            wire,
            f"{change.id} {change.kind}, {change.state}" if change is not None else "",
        )
        rows.append((words, face.colour_of(held), face.cavity(found, place.n) != held))
    return rows


def _table(rows: list[Row], down: float) -> list[Item]:
    right = A4[0] - MARGIN
    items: list[Item] = [
        Text(x, down, word, 2.6, colour=QUIET) for x, word in zip(COLUMNS, HEADS, strict=True)
    ]
    items.append(Path(((MARGIN, down + 1.4), (right, down + 1.4)), LINE))
    if not rows:
        nothing = "Nothing is noted of any cavity yet."
        items.append(Text(MARGIN, down + 6, nothing, 2.8, colour=QUIET))
    ends = (*COLUMNS[1:], right)
    for i, (words, colour, changed) in enumerate(rows, 1):
        y = down + 1 + i * ROW
        for k, text in enumerate((words[0], "", *words[1:])):
            strong = k == 0 or (changed and k in (2, 3))
            room = ends[k] - COLUMNS[k] - 1
            items.append(Text(COLUMNS[k], y, *shrunk(text, 2.8, room, 2.0), bold=strong))
        if colour:
            base, mark = stripe(colour)
            items.append(Box(COLUMNS[1], y - 2.4, 7, 3, base, LINE, 0.15))
            if mark is not None:
                items.append(Box(COLUMNS[1], y - 1.3, 7, 0.8, mark, mark, 0.0))
        items.append(Path(((MARGIN, y + 1.8), (right, y + 1.8)), "#E4DFD2", 0.15))
    return items
