"""A pin-out as people have it on paper: lines of cavity, colour, circuit, in any usual writing."""

from __future__ import annotations

import csv
import io
import re
from typing import get_args

import msgspec

from zombrel.harness.plugs import face
from zombrel.harness.plugs.remap import Way
from zombrel.job.problem import Problem
from zombrel.job.typed.read import read
from zombrel.job.value import Value
from zombrel.job.wiring import Cavity, Connector, Known, Seen

_COLUMNS = {
    "n": ("cavity", "pin", "no", "no.", "nr", "number", "terminal", "way", "position", "#"),
    "colour": ("colour", "color", "wire", "wire colour", "wire color"),
    "circuit": ("circuit", "function", "signal", "description", "use", "name"),
    "kind": ("kind", "type", "level", "sort"),
    "family": ("family", "terminal family"),
    "size": ("size", "section", "mm2", "mm²", "section_mm2", "gauge", "awg"),
    "known": ("known", "evidence", "provenance"),
    "seen": ("seen", "found"),
    "seen_colour": ("seen colour", "seen_colour"),
    "plug": ("connector", "plug"),
}
"""Headings that are understood, in small letters."""


class Line(Value, frozen=True):
    """One line of a pin-out."""

    n: int
    colour: str
    circuit: str
    kind: str | None = None
    """None: the table has no such column, and what was noted stays."""
    seen: str | None = None
    seen_colour: str = ""
    family: str | None = None
    area_mm2: float | None = None
    """[mm²]"""
    known: str | None = None


def read_pinout(text: str, c: Connector) -> tuple[Line, ...]:
    """The lines of a pin-out for ``c``: a heading, comments and empty lines are passed over.

    Columns are parted by tabs, semicolons, commas, bars or two spaces; without a heading they are
    cavity, colour, circuit. A cavity may be its number or the letter moulded beside it.

    Raises:
        Problem: a line without a cavity of this connector, or one that is there twice; it is named.
    """
    marks = {x.mark.casefold(): x.n for x in c.cavities if x.mark}
    known = {p.n for p in face.places(c)}
    order: tuple[str, ...] = ("n", "colour", "circuit")
    found: dict[int, Line] = {}
    heads_said = ""
    for at, cells in _rows(text):
        heads = _heading(cells)
        if heads and not found:
            order = heads
            heads_said = " ".join(cells).casefold()
            continue
        named = {k: _plain(x) for k, x in zip(order, cells, strict=False)}
        if named.get("plug", c.id) not in (c.id, c.name):
            continue  # a table of several connectors
        first = named.get("n", "")
        n = marks.get(first.casefold(), int(first) if first.isdigit() else 0)
        if n not in known:
            last = max(known)
            raise Problem(f"Line {at}: “{first[:20]}” is no cavity of {c.name} (1 to {last}).")
        if n in found:
            raise Problem(f"Line {at}: cavity {first} is there twice; keep the line you trust.")
        seen = named.get("seen")
        if seen is not None and seen not in get_args(Seen):
            raise Problem(
                f"Line {at}: seen is wire, terminal, empty, blanked or nothing, not “{seen[:20]}”."
            )
        found[n] = Line(
            n,
            named.get("colour", ""),
            named.get("circuit", ""),
            named.get("kind"),
            seen,
            named.get("seen_colour", ""),
            named.get("family"),
            _size(named.get("size"), at, "awg" in heads_said),
            _known(named.get("known"), at),
        )
    if not found:
        raise Problem("No pin-out is there: write such as “27, green/white, brake lamps”.")
    return tuple(found.values())


def _size(cell: str | None, at: int, gauge: bool) -> float | None:
    """A section [mm²] as it is written: ``0.75``, ``0,75 mm²``, ``AWG 18``; None: no column."""
    if cell is None:
        return None
    if not cell.strip():
        return 0.0
    try:
        return read("area", cell, "AWG" if gauge else "mm2")
    except Problem as problem:
        raise Problem(f"Line {at}: size “{cell[:20]}”: {problem}") from None


def _known(cell: str | None, at: int) -> str | None:
    """How a line is known, as the ledger calls it; None: no column."""
    if cell is not None and cell not in get_args(Known):
        rungs = ", ".join(k for k in get_args(Known) if k)
        raise Problem(f"Line {at}: “{cell[:20]}” is no way of knowing; there are {rungs}.")
    return cell


def read_ways(text: str, name: str) -> tuple[Way, ...]:
    """The cavities of a plug for a remap: cavity, circuit, kind, with or without a heading.

    Raises:
        Problem: a line without a cavity or a circuit, or a cavity that is there twice.
    """
    order: tuple[str, ...] = ("n", "circuit", "kind", "colour")
    found: dict[str, Way] = {}
    for at, cells in _rows(text):
        heads = _heading(cells)
        if heads and not found:
            order = heads
            continue
        named = {k: v.strip() for k, v in zip(order, cells, strict=False)}
        cavity, circuit = named.get("n", ""), named.get("circuit", "")
        if not cavity:
            raise Problem(f"{name}, line {at}: it has no cavity; write 27,coolant,sensor.")
        if cavity in found:
            raise Problem(f"{name}, line {at}: cavity {cavity} is there twice.")
        found[cavity] = Way(cavity, circuit, named.get("kind", ""), named.get("colour", ""))
    if not any(w.circuit for w in found.values()):
        raise Problem(f"{name} names no circuit: write such as 27,coolant,sensor.")
    return tuple(found.values())


def _rows(text: str) -> list[tuple[int, list[str]]]:
    """Numbered lines in their cells."""
    lines = [(i, line.strip()) for i, line in enumerate(text.splitlines(), 1)]
    lines = [(i, line) for i, line in lines if line and not line.startswith(("#", "//"))]
    both = "\n".join(line for _, line in lines)
    mark = next((m for m in ("\t", ";", "|", ",") if m in both), "")
    if not mark:
        return [
            (i, re.split(r"\s{2,}", line) if "  " in line else line.split(None, 2))
            for i, line in lines
        ]
    return [(i, next(csv.reader(io.StringIO(line), delimiter=mark), [])) for i, line in lines]


def _plain(cell: str) -> str:
    """A cell without the apostrophe that keeps a spreadsheet from running it."""
    text = cell.strip()
    return text[1:] if text.startswith(("'=", "'+", "'-", "'@")) else text


def _heading(cells: list[str]) -> tuple[str, ...]:
    """What the columns are, where a line says so; empty for a line that is none."""
    said = [c.strip().strip('"').casefold() for c in cells]
    order = tuple(
        next((key for key, names in _COLUMNS.items() if word in names), f"other {i}")
        for i, word in enumerate(said)
    )
    return order if "n" in order else ()


def with_paper(c: Connector, lines: tuple[Line, ...]) -> Connector:
    """``c`` with what the paper says of the cavities in ``lines``; what was seen stays."""
    kept = {x.n: x for x in c.cavities}
    for line in lines:
        old = kept.get(line.n, Cavity(n=line.n))
        new = msgspec.structs.replace(old, colour=line.colour, circuit=line.circuit)
        if line.kind is not None:
            new = msgspec.structs.replace(new, kind=line.kind)
        if line.area_mm2 is not None:
            new = msgspec.structs.replace(new, area_mm2=line.area_mm2)
        if line.known is not None:
            new = msgspec.structs.replace(new, known=line.known)
        if line.family is not None:
            new = msgspec.structs.replace(new, family=line.family)
        if line.seen is not None:
            new = msgspec.structs.replace(new, seen=line.seen, seen_colour=line.seen_colour)
        kept[line.n] = new
    return msgspec.structs.replace(c, cavities=_tidy(kept))


def with_seen(c: Connector, n: int, seen: str, colour: str = "") -> Connector:
    """``c`` with what was seen in cavity ``n``; ``colour`` of the wire, where one was."""
    kept = {x.n: x for x in c.cavities}
    old = kept.get(n, Cavity(n=n))
    kept[n] = msgspec.structs.replace(
        old, seen=seen, seen_colour=colour if seen == "wire" else "", blank=False
    )
    return msgspec.structs.replace(c, cavities=_tidy(kept))


def rest_empty(c: Connector) -> Connector:
    """``c`` once every cavity that nobody had looked into was seen empty."""
    for place in face.places(c):
        if face.state(c, place.n) == "not looked into":
            c = with_seen(c, place.n, "empty")
    return c


def _tidy(kept: dict[int, Cavity]) -> tuple[Cavity, ...]:
    """In order, without those of which nothing is noted."""
    return tuple(x for n, x in sorted(kept.items()) if x != Cavity(n=n))
