"""The wiring drawing, laid out by itself on A3, or on A4 lying for the dossier.

The vehicle's places stand at the left, the devices at the right, each pin on a row of its own.
Between them lies a channel in which every wire has one upright of its own: text stands only on the
rows and uprights only in the channel, so neither ever crosses the other. Rows of the two sides are
half a step apart, so that no two wires run on one line. Places and pins are put in the order that
crosses least by taking turns at the mean height of what they join to (Sugiyama, Tagawa, Toda,
*Methods for visual understanding of hierarchical system structures*, 1981).
"""

from __future__ import annotations

import math
from collections.abc import Sequence

from zombrel.actions.begin import name_of
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
    width,
)
from zombrel.job.model import Job, by_id
from zombrel.job.value import Value
from zombrel.job.wiring import Wire
from zombrel.units import METRIC, Units
from zombrel.units.measure import section, written

THICK_MM2 = 1.5
"""From here a wire is drawn as a thick line."""
BENDS = 2
"""Ends a line needs to be drawn between."""

MARGIN = 10.0
TITLE = 16.0
ROW = 5.2
"""Height of one pin's row [mm]: text of 2.6 mm reads at arm's length."""
HEAD = 6.4
GAP = 3.0
TURNS = 6


class Room(Value, frozen=True):
    """A size of paper, and what stands where across it [mm]."""

    size: tuple[float, float]
    left: tuple[float, float]
    """Boxes of the vehicle: from, to."""
    channel: tuple[float, float]
    """Where the wires have their uprights."""
    right: tuple[float, float]
    """Boxes of the devices."""

    @property
    def tall(self) -> float:
        """What the boxes may take of the page [mm]."""
        return self.size[1] - 2 * MARGIN - TITLE


A3 = Room((420.0, 297.0), (MARGIN, 92.0), (160.0, 282.0), (330.0, 410.0))
A4 = Room((297.0, 210.0), (MARGIN, 74.0), (128.0, 184.0), (224.0, 287.0))
LETTER = Room((279.0, 216.0), (MARGIN, 70.0), (122.0, 170.0), (208.0, 269.0))


class Pin(Value, frozen=True):
    """One end of a wire on the drawing."""

    place: str
    pin: str
    wire: str


class Placed(Value, frozen=True):
    """A place with its pins, top to bottom."""

    place: str
    pins: tuple[Pin, ...]

    @property
    def height(self) -> float:
        """What it takes on the page [mm]; a single pin stands beside the name."""
        return (self.head + ROW * len(self.pins)) + 1.4

    @property
    def head(self) -> float:
        """Room for the name above the pins [mm]."""
        return HEAD if len(self.pins) > 1 else 0.7


def drawing(job: Job, units: Units = METRIC, room: Room = A3) -> tuple[Sheet, ...]:
    """The laid job's wires as pages, lengths and sections in ``units``.

    A place that has wires on several pages says at its name where the others are.
    """
    groups = _pages(job, room)
    on: dict[str, list[int]] = {}
    for i, wires in enumerate(groups, 1):
        for place in {e.place for w in wires for e in (w.a, w.b)}:
            on.setdefault(place, []).append(i)
    page = _Page(job, units, room, on, len(groups))
    return tuple(page.sheet(i, wires) for i, wires in enumerate(groups, 1))


def _pages(job: Job, room: Room) -> list[list[Wire]]:
    """Wires by page: devices in their order while both sides have room, a big one in parts."""
    devices = [d.id for d in job.devices]
    rank = {d: i for i, d in enumerate(devices)}

    def owner(wire: Wire) -> int:
        ranks = [rank[e.place] for e in (wire.a, wire.b) if e.place in rank]
        return min(ranks, default=len(rank))

    pages: list[list[Wire]] = []
    now: list[Wire] = []
    for wire in sorted(job.wires, key=owner):
        if now and not _fits([*now, wire], rank, room):
            pages.append(now)
            now = []
        now.append(wire)
    return [*pages, now] if now else pages


def _fits(wires: Sequence[Wire], devices: dict[str, int], room: Room) -> bool:
    left, right = _sides(wires, devices)
    return all(
        math.fsum(p.height for p in side) + GAP * max(len(side) - 1, 0) + ROW <= room.tall
        for side in (left, right)
    )


def _sides(wires: Sequence[Wire], devices: dict[str, int]) -> tuple[list[Placed], list[Placed]]:
    """Places of the vehicle, and devices, with the ends of these wires."""
    left: dict[str, list[Pin]] = {}
    right: dict[str, list[Pin]] = {}
    for wire in wires:
        ends = (wire.a, wire.b)
        inside = [e.place in devices for e in ends]
        for end, device in zip(ends, inside, strict=True):
            # a wire between two places of the vehicle ends once on each side
            other = ends[1] if end is ends[0] else ends[0]
            to_right = device or (not any(inside) and end is wire.b and other is wire.a)
            side = right if to_right else left
            side.setdefault(end.place, []).append(Pin(end.place, end.pin, wire.id))
    return (
        [Placed(k, tuple(v)) for k, v in left.items()],
        [Placed(k, tuple(v)) for k, v in right.items()],
    )


def _rows(side: Sequence[Placed], shift: float) -> dict[Pin, float]:
    """The height of every pin's row [mm]."""
    y, rows = MARGIN + shift, dict[Pin, float]()
    for place in side:
        for i, pin in enumerate(place.pins):
            rows[pin] = y + place.head + ROW * (i + 0.5)
        y += place.height + GAP
    return rows


def _ordered(left: list[Placed], right: list[Placed]) -> tuple[list[Placed], list[Placed]]:
    for turn in range(TURNS):
        if turn % 2 == 0:
            left = _toward(left, _mean(right))
        else:
            right = _toward(right, _mean(left))
    return left, right


def _mean(side: Sequence[Placed]) -> dict[str, float]:
    """Mean height of each wire's ends on one side."""
    found: dict[str, list[float]] = {}
    for pin, y in _rows(side, 0.0).items():
        found.setdefault(pin.wire, []).append(y)
    return {w: math.fsum(ys) / len(ys) for w, ys in found.items()}


def _toward(side: list[Placed], at: dict[str, float]) -> list[Placed]:
    """The places, and the pins in each, in the order of what they join to."""

    def height(pin: Pin) -> float:
        return at.get(pin.wire, 0.0)

    sorted_pins = [Placed(p.place, tuple(sorted(p.pins, key=height))) for p in side]
    return sorted(sorted_pins, key=lambda p: math.fsum(map(height, p.pins)) / len(p.pins))


class _Page(Value, frozen=True):
    """What all pages of a drawing have in common."""

    job: Job
    units: Units
    room: Room
    on: dict[str, list[int]]
    """The pages that each place has wires on."""
    pages: int

    def sheet(self, number: int, wires: list[Wire]) -> Sheet:
        """Page ``number`` of the drawing."""
        devices = {d.id: i for i, d in enumerate(self.job.devices)}
        left, right = _ordered(*_sides(wires, devices))
        at_left, at_right = _rows(left, 0.0), _rows(right, ROW / 2)
        items: list[Item] = []
        for side, shift, at_x in (
            (left, 0.0, self.room.left),
            (right, ROW / 2, self.room.right),
        ):
            y = MARGIN + shift
            for place in side:
                items += self._place(place, at_x, y, number)
                y += place.height + GAP
        items += self._wires(wires, at_left, at_right)
        items += self._title(wires, number)
        return Sheet(*self.room.size, tuple(items))

    def _name(self, place: str, number: int) -> str:
        job = self.job
        found = (
            by_id(job.devices, place),
            by_id(job.sources, place),
            by_id(job.connectors, place),
            by_id(job.feeds, place),
            by_id(job.studs, place),
        )
        name = next((f"{item.name}" for item in found if item is not None), place)
        others = ", ".join(str(n) for n in self.on[place] if n != number)
        return f"{name} (also on {others})" if others else name

    def _place(self, place: Placed, at_x: tuple[float, float], y: float, number: int) -> list[Item]:
        x0, x1 = at_x
        wide = x1 - x0
        single, at_left = len(place.pins) == 1, at_x == self.room.left
        cavity = by_id(self.job.connectors, place.place) is not None
        words = [f"cavity {pin.pin}" if cavity else pin.pin for pin in place.pins]
        room = wide - 5 - (width(words[0], 2.6) + 3 if single else 0)
        name, size = shrunk(self._name(place.place, number), 3.2, room, 2.2)
        line = y + place.head + ROW / 2 + 0.9 if single else y + 4.5
        items: list[Item] = [
            Box(x0, y, wide, place.height, fill="#FAF8F2", radius=1.2, colour=INK, width=0.35),
            Text(x1 - 2.5, line, name, size, "end", bold=True)
            if single and not at_left
            else Text(x0 + 2.5, line, name, size, bold=True),
        ]
        for i, text in enumerate(words):
            row = y + place.head + ROW * (i + 0.5) + 0.9
            said = fit(text, 2.6, wide - 5)
            items.append(
                Text(x1 - 2.5, row, said, anchor="end") if at_left else Text(x0 + 2.5, row, said)
            )
        return items

    def _wires(
        self,
        wires: Sequence[Wire],
        at_left: dict[Pin, float],
        at_right: dict[Pin, float],
    ) -> list[Item]:
        channel = self.room.channel
        ends = []
        for wire in wires:
            mine = [
                (x, y)
                for x, rows in ((self.room.left[1], at_left), (self.room.right[0], at_right))
                for pin, y in rows.items()
                if pin.wire == wire.id
            ]
            ends.append((wire, mine))
        # falling wires take their uprights from the right, rising ones from the left
        ends.sort(key=lambda e: (e[1][0][1], e[1][-1][1]))
        falling = [e for e in ends if e[1][-1][1] >= e[1][0][1]]
        rising = [e for e in ends if e[1][-1][1] < e[1][0][1]]
        order = [*reversed(falling), *rising]
        pitch = (channel[1] - channel[0]) / (len(order) + 1)
        items: list[Item] = []
        for i, (wire, mine) in enumerate(order):
            items += self._one(wire, mine, channel[0] + pitch * (i + 1))
        return items

    def _one(self, wire: Wire, mine: Sequence[tuple[float, float]], track: float) -> list[Item]:
        room = self.room
        base, mark = stripe(wire.colour)
        pale = base == stripe("white")[0]
        points = [mine[0], (track, mine[0][1])]
        if len(mine) > 1:
            points += [(track, mine[-1][1]), mine[-1]]
        thick = 0.8 if wire.area_mm2 < THICK_MM2 else 1.3
        items: list[Item] = []
        if pale:
            items.append(Path(tuple(points), LINE, thick + 0.35))
        items.append(Path(tuple(points), base, thick, mark or ""))
        for x, y in mine:
            near_left = x == room.left[1]
            at = x + 2.0 if near_left else x - 2.0
            anchor = "start" if near_left else "end"
            gap = room.channel[0] - room.left[1] if near_left else room.right[0] - room.channel[1]
            words = (
                _words(wire, self.units)
                if near_left or len(mine) < BENDS or mine[0][0] == mine[1][0]
                else f"{wire.id}  {written('length', wire.length_m, self.units)}"
            )
            said, size = shrunk(words, 2.3, gap - 4, 1.8)
            items.append(Text(at, y - 0.6 - thick / 2, said, size, anchor))  # type: ignore[arg-type]
        return items

    def _title(self, wires: Sequence[Wire], number: int) -> list[Item]:
        wide, tall = self.room.size
        y = tall - MARGIN - TITLE + 4
        made_up = "Made-up sample data. " if self.job.synthetic else ""
        total = written("length", math.fsum(w.length_m for w in wires), self.units, 1)
        many = "1 wire" if len(wires) == 1 else f"{len(wires)} wires"
        sections = "mm²" if self.units.area == "mm2" else "AWG"
        said = (
            f"{made_up}{many}, {total}. Lengths with allowance; sections in {sections}. "
            "As planned: the tables and the proof come before it."
        )
        line = wide - 2 * MARGIN
        page = f"wiring {number} of {self.pages}"
        return [
            Path(((MARGIN, y), (wide - MARGIN, y)), INK, 0.35),
            Text(MARGIN, y + 6, fit(name_of(self.job), 4.0, line - 50), 4.0, bold=True),
            Text(MARGIN, y + 11, *shrunk(said, 2.6, line, 2.0), colour=QUIET),
            Text(wide - MARGIN, y + 6, page, 3.2, "end", bold=True),
        ]


def _words(wire: Wire, units: Units) -> str:
    extra = [
        *(["twisted"] if wire.twisted else []),
        *(["screened"] if wire.shielded else []),
        *([f"fuse {wire.fuse_a:g} A"] if wire.fuse_a else []),
    ]
    return "  ".join([wire.id, wire.colour, section(wire.area_mm2, units), *extra])
