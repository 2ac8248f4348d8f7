"""The dossier as data: sections of tables, words and pictures; quantities are tokens."""

from __future__ import annotations

import math
from collections.abc import Sequence
from typing import Literal

from zombrel.handover.sheet import Sheet, width
from zombrel.job.records.photo import Photo
from zombrel.job.value import Value
from zombrel.units import Units, words

SIZE, PAD, ROOM = 2.9, 2.6, 180.0
"""Height of the type, room between columns, and across the paper [mm]."""
LONGEST = 24
"""Letters of a word that a column has room for."""
Tone = Literal["", "quiet", "bad", "strong", "mind"]


class Row(Value, frozen=True):
    """One line of a table; a bad one is said louder."""

    cells: tuple[str, ...]
    bad: bool = False


class Table(Value, frozen=True):
    """Rows under heads; with ``loud`` a column whose cells are bold."""

    heads: tuple[str, ...]
    rows: tuple[Row, ...]
    loud: int = 0
    title: str = ""

    def shares(self, units: Units) -> tuple[float, ...]:
        """Widths of the columns in per cent, by what stands in them.

        As browsers lay tables out by themselves (CSS 2.1, 17.5.2.2): every column has its longest
        word, what is left goes by what each would like to have.
        """
        lines = (self.heads, *(r.cells for r in self.rows))
        columns = list(zip(*([words(c, units) for c in line] for line in lines), strict=True))
        least = [max(width(w, SIZE) for c in column for w in _parts(c)) for column in columns]
        likes = [max(width(c, SIZE) for c in column) for column in columns]
        least, likes = [w + PAD for w in least], [w + PAD for w in likes]
        spare = ROOM - math.fsum(likes)
        if spare >= 0:  # the last has what nobody needs
            return _per_cent([*likes[:-1], likes[-1] + spare])
        room = ROOM - math.fsum(least)
        more = [like - low for like, low in zip(likes, least, strict=True)]
        each = room / math.fsum(more) if math.fsum(more) else 0.0
        wide = [low + more[i] * max(each, 0.0) for i, low in enumerate(least)]
        return _per_cent(wide)


def _per_cent(wide: Sequence[float]) -> tuple[float, ...]:
    return tuple(round(100 * w / math.fsum(wide), 2) for w in wide)


def _parts(text: str) -> list[str]:
    """What is not broken, and never a column's need: a word of unusual length is broken."""
    return [w[:LONGEST] for w in text.split(" ")]


class Words(Value, frozen=True):
    """A paragraph."""

    text: str
    tone: Tone = ""


class Figure(Value, frozen=True):
    """A picture with what is said of it; ``about`` is read out in its place."""

    sheet: Sheet
    about: str
    said: str = ""


class Gallery(Value, frozen=True):
    """Small pictures beside one another."""

    figures: tuple[Figure, ...]


class Lying(Value, frozen=True):
    """A picture that has a page of its own, lying."""

    figure: Figure


class Pictured(Value, frozen=True):
    """A photo; ``said`` and what its numbers point at stand below it."""

    photo: Photo
    said: str
    points: tuple[tuple[int, str], ...]


Block = Table | Words | Figure | Gallery | Lying | Pictured


class Section(Value, frozen=True):
    """One part of the dossier; there is none without blocks."""

    key: str
    title: str
    blocks: tuple[Block, ...]

    @property
    def lying(self) -> bool:
        """Its pages lie."""
        return any(isinstance(b, Lying) for b in self.blocks)


class Dossier(Value, frozen=True):
    """All that stands in it."""

    title: str
    about: tuple[str, ...]
    shop: str
    stops: tuple[str, ...]
    """What stands against handing over, each in words; empty where nothing does."""
    because: str
    """Why it went out nevertheless."""
    seal: str
    sections: tuple[Section, ...]
