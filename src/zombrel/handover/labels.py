"""Labels for both ends of every wire, on A4 to be cut and wrapped round."""

from __future__ import annotations

from typing import Any

from zombrel.handover.sheet import LINE, QUIET, Box, Item, Sheet, Text, shrunk
from zombrel.harness.ends import end_words
from zombrel.job.model import Job

A4 = (210.0, 297.0)
COLUMNS, ROWS = 3, 24
SIZE = (62.0, 11.4)
"""One label: wide, high [mm]."""
MARGIN = (12.0, 11.7)


def labels(job: Job) -> tuple[Sheet, ...]:
    """Two labels a wire, this end first, in the order of the wires."""
    each = []
    for wire in job.wires:
        for here, there in ((wire.a, wire.b), (wire.b, wire.a)):
            size = f"{wire.colour} {wire.area_mm2:g}"
            each.append((wire.id, end_words(job, here), f"to {end_words(job, there)}", size))
    per = COLUMNS * ROWS
    return tuple(_page(each[i : i + per]) for i in range(0, len(each), per))


def _line(x: float, y: float, text: str, size: float, room: float, **how: Any) -> Text:
    words, smaller = shrunk(text, size, room, 1.7)
    return Text(x, y, words, smaller, **how)


def _page(each: list[tuple[str, str, str, str]]) -> Sheet:
    items: list[Item] = []
    for i, (name, here, there, size) in enumerate(each):
        line, column = divmod(i, COLUMNS)
        x, y = MARGIN[0] + column * SIZE[0], MARGIN[1] + line * SIZE[1]
        items += [
            Box(x, y, *SIZE, colour=LINE, width=0.15),
            _line(x + 2, y + 5.4, name, 4.4, 17.5, bold=True),
            _line(x + 2, y + 9.6, size, 2.1, 17.5, colour=QUIET),
            _line(x + 20, y + 5.0, here, 2.7, SIZE[0] - 22, bold=True),
            _line(x + 20, y + 9.4, there, 2.5, SIZE[0] - 22),
        ]
    return Sheet(*A4, tuple(items))
