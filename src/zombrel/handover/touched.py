"""A setting on paper as the object that is touched: knobs, slides, a resistor, a screen."""

from __future__ import annotations

import math

from zombrel.calibrate.settings.face import BANDS, Knob, Part, Resistor, Screen, Slide, angle, rings
from zombrel.handover.sheet import INK, LINE, QUIET, Box, Item, Path, Text, fit, shrunk

PETROL, WATCH = "#0E5A66", "#8A5600"
WIDE, TALL = 56.0, 34.0
"""One setting [mm]."""
NAMED = 12
"""A knob with more places has only some of them named."""


def touched(parts: tuple[Part, ...]) -> tuple[Item, ...]:
    """A setting as it stands, within ``WIDE`` by ``TALL``."""
    items: list[Item] = [Box(0.2, 0.2, WIDE - 0.4, TALL - 0.4, "#FAF8F2", LINE, 0.2, 1.5)]
    for i, part in enumerate(parts):
        middle = WIDE / len(parts) * (i + 0.5)
        if isinstance(part, Knob):
            items += _knob(part, middle, WIDE / len(parts))
        elif isinstance(part, Slide):
            items += _slide(part, middle)
        elif isinstance(part, Resistor):
            items += _resistor(part)
        else:
            items += _screen(part)
    return tuple(items)


def _knob(knob: Knob, x: float, wide: float) -> list[Item]:
    y, radius, n = 15.5, 7.6, len(knob.places)
    items: list[Item] = [
        Box(x - radius, y - radius, 2 * radius, 2 * radius, "#FFFFFF", INK, 0.4, radius)
    ]
    every = max(1, math.ceil(n / NAMED))
    for k, place in enumerate(knob.places):
        way = (math.sin(angle(k, n)), -math.cos(angle(k, n)))
        crowded = knob.now is not None and 0 < abs(k - knob.now) < every
        if k == knob.now or (k % every == 0 and not crowded):
            at = (x + way[0] * (radius + 3.2), y + way[1] * (radius + 3.2) + 0.9)
            items.append(Text(*at, fit(place, 2.4, 7), 2.4, "middle", bold=k == knob.now))
        else:
            inner, outer = radius + 0.8, radius + 1.8
            ends = tuple((x + way[0] * r, y + way[1] * r) for r in (inner, outer))
            items.append(Path(ends, QUIET, 0.2))
    if knob.now is not None:
        a = angle(knob.now, n)
        tip = (x + math.sin(a) * radius * 0.9, y - math.cos(a) * radius * 0.9)
        side = (math.cos(a) * radius * 0.2, math.sin(a) * radius * 0.2)
        points = (tip, (x + side[0], y + side[1]), (x - side[0], y - side[1]), tip)
        items.append(Path(points, PETROL, 0.2, fill=PETROL))
        hub = radius * 0.2
        items.append(Box(x - hub, y - hub, 2 * hub, 2 * hub, PETROL, PETROL, 0.1, hub))
    said, size = shrunk(knob.name, 2.6, wide - 2, 1.9)
    items.append(Text(x, TALL - 2.6, said, size, "middle", colour=QUIET))
    return items


def _slide(slide: Slide, x: float) -> list[Item]:
    return [
        Text(x, 5.4, "on" if slide.now else "off", 2.2, "middle", bold=slide.now),
        Box(x - 1.8, 7.5, 3.6, 17.0, "#FFFFFF", INK, 0.3, 0.8),
        Box(x - 1.4, 8.0 if slide.now else 16.6, 2.8, 7.4, PETROL, PETROL, 0.1, 0.6),
        Text(x, TALL - 4.6, fit(slide.name, 2.4, 6), 2.4, "middle", colour=QUIET),
    ]


def _resistor(part: Resistor) -> list[Item]:
    left, top, wide, tall = WIDE / 2 - 11, 9.0, 22.0, 7.0
    items: list[Item] = [
        Text(WIDE / 2, 5.2, "resistor at the plug", 2.4, "middle", colour=QUIET),
        Path(((5, top + tall / 2), (WIDE - 5, top + tall / 2)), INK, 0.6),
        Box(left, top, wide, tall, "#D9C7A0", INK, 0.4, 2.4),
    ]
    if part.ohm is not None and part.ohm >= 1:
        for i, digit in enumerate(rings(part.ohm)):
            colour = BANDS[max(0, min(digit, 9))]
            items.append(Box(left + 4 + i * 4, top + 0.2, 2, tall - 0.4, colour, colour, 0.0))
        items.append(Box(left + wide - 4, top + 0.2, 2, tall - 0.4, "#B08D3A", "#B08D3A", 0.0))
    said, size = shrunk(part.now or "no part", 5.0, WIDE - 6, 3.0)
    items.append(Text(WIDE / 2, 24.0, said, size, "middle", bold=True))
    return items


def _screen(part: Screen) -> list[Item]:
    said, size = shrunk(part.now or "–", 7.0, 34, 3.0)
    items: list[Item] = [
        Box(3, 3, 39, TALL - 6, "#FFFFFF", INK, 0.4, 1.2),
        Text(5, 7.4, fit(part.path, 2.4, 35), 2.4, colour=QUIET),
        Text(5, 20, said, size, bold=True),
        Text(5, TALL - 5.4, fit(part.unit, 2.4, 35), 2.4, colour=QUIET),
    ]
    for y, way in ((10.5, -1), (23.5, 1)):
        x = 48.5
        items.append(Box(x - 4, y - 5, 8, 10, "#FFFFFF", INK, 0.4, 1.4))
        points = ((x, y + 2.2 * way), (x - 2.4, y - 1.6 * way), (x + 2.4, y - 1.6 * way))
        items.append(Path((*points, points[0]), PETROL, 0.1, fill=PETROL))
    return items
