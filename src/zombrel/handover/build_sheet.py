"""The build sheet of a lead: how it lies, every piece with both its ends, and what it takes.

A4 upright: what the hands need at the bench, piece by piece, with a box to tick.
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
    shrunk,
)
from zombrel.harness.plugs.build import Build, Piece, build
from zombrel.job.model import Job
from zombrel.job.problem import Problem
from zombrel.job.wiring import Lead
from zombrel.units import METRIC, Units
from zombrel.units.measure import section, written

A4 = (210.0, 297.0)
MARGIN, TOP = 12.0, 30.0
ROW = 8.6
PICTURE = 66.0
FIRST = 14
"""Pieces on the first page, below the picture."""
NEXT = 27
PLUG = (24.0, 16.0)
COLUMNS = (12.0, 20.0, 29.0, 60.0, 85.0, 112.0, 126.0, 150.0)
"""Where number, swatch, circuit, near end, far end, size, length and crimp begin [mm]."""


def build_sheets(job: Job, units: Units = METRIC) -> tuple[Sheet, ...]:
    """The sheets of every remap lead of the job that has a conductor."""
    pages: list[Sheet] = []
    for lead in job.leads:
        if not lead.old:
            continue
        try:
            made = build(job, lead)
        except Problem:
            continue
        pages += _pages(job, lead, made, units)
    return tuple(pages)


def _pages(job: Job, lead: Lead, made: Build, units: Units) -> list[Sheet]:
    first, rest = made.pieces[:FIRST], made.pieces[FIRST:]
    groups = [first, *(rest[i : i + NEXT] for i in range(0, len(rest), NEXT))]
    count = len(groups) + 1
    pages = []
    for n, group in enumerate(groups, 1):
        items = _head(job, lead, n, count)
        down = TOP
        if n == 1:
            items += _picture(made, units)
            down += PICTURE
        items += _heads(down)
        for i, piece in enumerate(group):
            items += _piece(piece, down + 6 + i * ROW, units)
        pages.append(Sheet(*A4, tuple(items)))
    pages.append(Sheet(*A4, (*_head(job, lead, count, count), *_parts(made))))
    return pages


def _head(job: Job, lead: Lead, n: int, count: int) -> list[Item]:
    title, size = shrunk(lead.name, 5.2, 130, 3.4)
    right = A4[0] - MARGIN
    return [
        Text(MARGIN, 16, title, size, bold=True),
        Text(MARGIN, 22, f"Build sheet. {job.number} {job.title}".strip(), 2.8, colour=QUIET),
        Text(right, 16, f"{n} of {count}", 3.2, "end", colour=QUIET),
        Path(((MARGIN, 25), (right, 25)), LINE),
    ]


def _picture(made: Build, units: Units) -> list[Item]:
    """Plugs, trunk and branches with their lengths."""
    near = [x.name for x in made.plugs if x.near]
    far = [x.name for x in made.plugs if not x.near]
    middle = TOP + PICTURE / 2 - 6
    left, right = 70.0, 140.0
    items: list[Item] = [
        Path(((left, middle), (right, middle)), INK, 2.2),
        Text(105, middle - 3, f"trunk {written('length', made.trunk_m, units)}", 3.0, "middle"),
        Text(
            105,
            middle + 6,
            f"tube {written('short', made.tube_mm / 1000, units)}, bundle "
            f"{written('short', made.bundle_mm / 1000, units)}",
            2.6,
            "middle",
            colour=QUIET,
        ),
    ]
    branches = {p.name: p for p in made.plugs}
    for names, x, join in ((near, MARGIN + 4, left), (far, A4[0] - MARGIN - 4 - PLUG[0], right)):
        step = (PICTURE - 10) / (len(names) + 1)
        for i, name in enumerate(names, 1):
            y = TOP + step * i - PLUG[1] / 2 + 2
            plug = branches[name]
            edge = x + PLUG[0] if join > x + PLUG[0] else x
            items += [
                Path(((edge, y + PLUG[1] / 2), (join, middle)), INK, 1.2),
                Box(x, y, *PLUG, fill="#F4F1EA"),
                Text(x + PLUG[0] / 2, y + 7, fit(name, 3.6, PLUG[0] - 2), 3.6, "middle", bold=True),
                Text(
                    x + PLUG[0] / 2,
                    y + 12.4,
                    written("length", plug.branch_m, units),
                    2.6,
                    "middle",
                    colour=QUIET,
                ),
            ]
    return items


def _heads(down: float) -> list[Item]:
    words = ("no.", "", "circuit", "from", "to", "size", "cut", "crimp")
    return [
        *(Text(x, down, word, 2.6, colour=QUIET) for x, word in zip(COLUMNS, words, strict=True)),
        Path(((MARGIN, down + 1.4), (A4[0] - MARGIN, down + 1.4)), LINE),
    ]


def _piece(piece: Piece, y: float, units: Units) -> list[Item]:
    r = piece.row
    x = COLUMNS
    base, mark = stripe(r.colour)
    items: list[Item] = [
        Text(x[0], y, str(piece.number), 3.0, bold=True),
        Box(x[1], y - 2.6, 6, 3, fill=base, colour=LINE),
        Text(x[2], y, fit(r.signal, 2.8, x[3] - x[2] - 1), 2.8),
        Text(x[2], y + 3.4, fit(r.colour, 2.2, x[3] - x[2] - 1), 2.2, colour=QUIET),
        Text(x[3], y, r.a.replace(".", " "), 3.0, bold=True),
        Text(x[3], y + 3.4, fit(_short(piece.counted[0]), 2.0, x[4] - x[3] - 1), 2.0, colour=QUIET),
        Text(x[4], y, r.b.replace(".", " "), 3.0, bold=True),
        Text(x[4], y + 3.4, fit(_short(piece.counted[1]), 2.0, x[5] - x[4] - 1), 2.0, colour=QUIET),
        Text(x[5], y, *shrunk(section(piece.area_mm2, units), 2.6, x[6] - x[5] - 1, 1.8)),
        Text(x[6], y, written("length", piece.length_m, units), 2.8, bold=True),
        Box(A4[0] - MARGIN - 4, y - 2.8, 3.4, 3.4, colour=LINE),
        Path(((MARGIN, y + 4.8), (A4[0] - MARGIN, y + 4.8)), "#E4DFD2", 0.15),
    ]
    if mark is not None:
        items.append(Box(x[1], y - 1.5, 6, 0.8, fill=mark, colour=mark, width=0.0))
    room = A4[0] - MARGIN - 6 - x[7]
    for i, found in enumerate(piece.ends):
        words = "terminal: look it up"
        if found is not None:
            t = found.terminal
            strip = written("short", t.strip_mm / 1000, units)
            words = f"{t.id}, strip {strip}" if found.fits else f"does not fit: {found.why}"
        items.append(Text(x[7], y + i * 3.4, fit(words, 2.2, room), 2.2, colour=QUIET))
    return items


def _short(counted: str) -> str:
    """``row 2, seventh``: from where one counts is said on the face’s own page."""
    return counted.partition(" from ")[0]


def _parts(made: Build) -> list[Item]:
    """What it takes, and what must stay empty."""
    items: list[Item] = [Text(MARGIN, TOP + 4, "What it takes", 4.0, bold=True)]
    y = TOP + 12
    for what, count in made.parts:
        items += [
            Box(MARGIN, y - 2.8, 3.4, 3.4, colour=LINE),
            Text(MARGIN + 6, y, f"{count} ×", 3.0, bold=True),
            Text(MARGIN + 20, y, fit(what, 3.0, A4[0] - 2 * MARGIN - 20), 3.0),
        ]
        y += 6.4
    y += 4
    for words in (
        "Cut, strip and crimp by the terminal’s own sheet; pull each one.",
        "Mark both ends before the tube goes on.",
        "Probe it whole, against the paper, before it is plugged in anywhere.",
    ):
        items.append(Text(MARGIN, y, words, 3.0, colour=QUIET))
        y += 5.4
    for plug in made.plugs:
        if plug.blanks:
            free = ", ".join(map(str, plug.blanks))
            words = fit(f"Blank in {plug.name}: {free}", 3.0, A4[0] - 2 * MARGIN)
            items.append(Text(MARGIN, y + 2, words, 3.0))
            y += 6.4
    return items
