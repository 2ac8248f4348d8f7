"""The demo's photo: dash connector D2 from its wire side, drawn by rule and saying so."""

from __future__ import annotations

import tempfile
from pathlib import Path

import msgspec
from PIL import Image, ImageDraw, ImageFont

from zombrel.job.records.photo import Photo, PhotoMark
from zombrel.store.photos import take_photo

FONT = Path(__file__).parent.parent / "src/zombrel/ui/assets/fonts/B612-Bold.otf"
SIZE, CELL, LEFT, TOP = (1200, 700), (96, 104), 120, 150
COLOURS = {
    1: ("#b3261e", ""),
    2: ("#1a1a1a", ""),
    4: ("#2f7d3b", "white"),
    15: ("#2f5aa8", "#e3c21c"),
    19: ("#7d7d7d", "#b3261e"),
    23: ("#7a4a21", ""),
    27: ("#2f7d3b", "white"),
    39: ("#e3c21c", ""),
}
"""Wires that are in it: base and stripe."""


def _place(n: int) -> tuple[int, int]:
    """Middle of cavity ``n`` of four rows of ten."""
    row, column = divmod(n - 1, 10)
    return LEFT + CELL[0] * column + CELL[0] // 2, TOP + CELL[1] * row + CELL[1] // 2


def picture() -> Image.Image:
    """The connector, 40 ways."""
    image = Image.new("RGB", SIZE, "#3a434c")
    d = ImageDraw.Draw(image)
    d.rounded_rectangle((80, 100, 1120, 610), 30, fill="#d8d2c4", outline="#14181c", width=6)
    d.rounded_rectangle((30, 250, 80, 450), 12, fill="#d8d2c4", outline="#14181c", width=6)
    for n in range(1, 41):
        x, y = _place(n)
        d.rectangle((x - 34, y - 36, x + 34, y + 36), fill="#23282d")
        if n in COLOURS:
            base, mark = COLOURS[n]
            d.ellipse((x - 25, y - 25, x + 25, y + 25), fill=base)
            if mark:
                d.rectangle((x - 24, y - 5, x + 24, y + 5), fill=mark)
    words = "synthetic: drawn by tools/demo_photo.py, no real connector"
    d.text((80, 40), words, font=ImageFont.truetype(str(FONT), 24), fill="#f3eee3")
    return image


def photo() -> Photo:
    """The picture, kept, bound to the cavity that was counted."""
    with tempfile.TemporaryDirectory() as place:
        path = Path(place) / "D2 wire side.png"
        picture().save(path)
        made = take_photo(path, "2026-11-25")
    marks = []
    for n, words in ((27, "cavity 27: brake lamps"), (4, "cavity 4: the same colours")):
        x, y = (v / s for v, s in zip(_place(n), SIZE, strict=True))
        tail = min(x + 0.1, 0.96), min(y + 0.16, 0.95)
        mark = PhotoMark(kind="arrow", x=x, y=y, from_x=tail[0], from_y=tail[1], words=words)
        marks.append(mark)
    return msgspec.structs.replace(
        made, id="F1", at="connectors.D2.27", note="two green/white wires", marks=tuple(marks)
    )
