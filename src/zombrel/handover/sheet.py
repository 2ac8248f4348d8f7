"""Flat sheets of paper: text, lines and boxes in millimetres, and their SVG.

Text widths are not measured but allowed for, by three classes of characters of B612, each at its
widest: what is cut to that never runs into its neighbour.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Literal
from xml.sax.saxutils import escape, quoteattr

from zombrel.intake.name import xml_text
from zombrel.job.value import Value

NARROW, WIDE = frozenset(" !\"',.:;Ifijlrt|"), frozenset("#%&@HMNOQUW^mw~→…Ω×")
ADVANCE = (0.42, 0.66, 1.0)
"""Widest advance of a narrow, a usual and a wide character of B612 bold, in font sizes."""
INK = "#1C2630"
QUIET = "#56606B"
LINE = "#8A8F94"


def width(text: str, size: float) -> float:
    """What ``text`` takes at most at ``size`` [mm]."""
    narrow, usual, wide = ADVANCE
    return size * math.fsum(narrow if c in NARROW else wide if c in WIDE else usual for c in text)


class Text(Value, frozen=True):
    """One line of text; ``y`` is its baseline."""

    x: float
    y: float
    text: str
    size: float = 2.6
    anchor: Literal["start", "middle", "end"] = "start"
    bold: bool = False
    colour: str = INK

    @property
    def box(self) -> tuple[float, float, float, float]:
        """What it may cover: left, top, right, bottom [mm]."""
        wide = width(self.text, self.size)
        left = self.x - {"start": 0.0, "middle": wide / 2, "end": wide}[self.anchor]
        return left, self.y - 0.8 * self.size, left + wide, self.y + 0.25 * self.size


class Path(Value, frozen=True):
    """A line through points, perhaps with a stripe along it."""

    points: tuple[tuple[float, float], ...]
    colour: str = INK
    width: float = 0.25
    stripe: str = ""
    dashed: bool = False
    fill: str = ""
    """What it encloses; empty for a line."""


class Box(Value, frozen=True):
    """A rectangle."""

    x: float
    y: float
    w: float
    h: float
    fill: str = ""
    colour: str = INK
    width: float = 0.25
    radius: float = 0.0


Item = Text | Path | Box


class Sheet(Value, frozen=True):
    """One page."""

    width: float
    height: float
    items: tuple[Item, ...]


def lifted(item: Item, up: float, left: float) -> Item:
    """The same so much higher and further left [mm]."""
    if isinstance(item, Path):
        return item.but(points=tuple((x - left, y - up) for x, y in item.points))
    return item.but(x=item.x - left, y=item.y - up)


LETTER = {
    (210.0, 297.0): (215.9, 279.4),
    (297.0, 210.0): (279.4, 215.9),
    (420.0, 297.0): (431.8, 279.4),
}
"""What A4, A4 lying and A3 lying become on North American paper [mm] (ASME Y14.1: A and B)."""


def on_letter(page: Sheet) -> Sheet:
    """The same sheet on North American paper: in the middle, smaller by what its height lacks."""
    wide, tall = LETTER[page.width, page.height]
    k = min(wide / page.width, tall / page.height)
    left, top = (wide - k * page.width) / 2, (tall - k * page.height) / 2

    def placed(item: Item) -> Item:
        if isinstance(item, Path):
            points = tuple((left + k * x, top + k * y) for x, y in item.points)
            return item.but(points=points, width=k * item.width)
        item = item.but(x=left + k * item.x, y=top + k * item.y)
        if isinstance(item, Text):
            return item.but(size=k * item.size)
        return item.but(w=k * item.w, h=k * item.h, width=k * item.width)

    return Sheet(wide, tall, tuple([placed(item) for item in page.items]))


def fit(text: str, size: float, room: float) -> str:
    """``text`` cut with … so that it takes at most ``room`` [mm] at ``size``."""
    if width(text, size) <= room:
        return text
    kept = text
    while kept and width(kept + "…", size) > room:
        kept = kept[:-1]
    return kept.rstrip() + "…"


def shrunk(text: str, size: float, room: float, least: float) -> tuple[str, float]:
    """``text`` and the size, down to ``least``, at which it takes at most ``room`` [mm]."""
    wide = width(text, size)
    smaller = max(least, size * min(1.0, room / wide)) if wide else size
    return fit(text, smaller + 1e-9, room + 1e-6), smaller


def svg(pages: Sequence[Sheet], title: str = "") -> str:
    """All pages, one below the other, as one SVG in millimetres."""
    wide = max((p.width for p in pages), default=10.0)
    tall = sum(p.height for p in pages) or 10.0
    body, down = [], 0.0
    for page in pages:
        body.append(f'<g transform="translate(0 {down:g})">')
        body.append(f'<rect width="{page.width:g}" height="{page.height:g}" fill="#FFFFFF"/>')
        body += [*map(_svg, page.items), "</g>"]
        down += page.height
    head = '<?xml version="1.0" encoding="UTF-8"?>'
    space = 'xmlns="http://www.w3.org/2000/svg" '
    return "\n".join([head, *_root(wide, tall, title, body, space), ""])


def picture(sheet: Sheet, about: str) -> str:
    """A sheet as an SVG to stand within a page; ``about`` is read out in its place."""
    return "".join(_root(sheet.width, sheet.height, about, [_svg(i) for i in sheet.items]))


def _root(wide: float, tall: float, title: str, body: Sequence[str], space: str = "") -> list[str]:
    said = xml_text(title)
    return [
        f'<svg {space}width="{wide:g}mm" height="{tall:g}mm" '
        f'viewBox="0 0 {wide:g} {tall:g}" font-family="B612, sans-serif" role="img" '
        f"aria-label={quoteattr(said)}>",
        f"<title>{escape(said)}</title>",
        *body,
        "</svg>",
    ]


def _svg(item: Item) -> str:
    if isinstance(item, Text):
        weight = ' font-weight="bold"' if item.bold else ""
        return (
            f'<text x="{item.x:.2f}" y="{item.y:.2f}" font-size="{item.size:g}" '
            f'text-anchor="{item.anchor}" fill={quoteattr(item.colour)}{weight}>'
            f"{escape(xml_text(item.text))}</text>"
        )
    if isinstance(item, Box):
        fill = item.fill or "none"
        return (
            f'<rect x="{item.x:.2f}" y="{item.y:.2f}" width="{item.w:.2f}" height="{item.h:.2f}" '
            f'rx="{item.radius:g}" fill={quoteattr(fill)} stroke={quoteattr(item.colour)} '
            f'stroke-width="{item.width:g}"/>'
        )
    points = " ".join(f"{x:.2f},{y:.2f}" for x, y in item.points)
    dash = ' stroke-dasharray="1 1"' if item.dashed else ""
    fill = quoteattr(item.fill or "none")
    line = (
        f'<polyline points="{points}" fill={fill} stroke-linejoin="round" '
        f'stroke={quoteattr(item.colour)} stroke-width="{item.width:g}"{dash}/>'
    )
    if not item.stripe:
        return line
    return line + (
        f'<polyline points="{points}" fill="none" stroke={quoteattr(item.stripe)} '
        f'stroke-width="{item.width * 0.4:g}"/>'
    )
