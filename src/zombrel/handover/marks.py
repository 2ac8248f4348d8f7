"""Arrows and numbers on photos: one look for the window and for paper."""

from __future__ import annotations

import base64
import math
from xml.sax.saxutils import quoteattr

from zombrel.job.records.photo import Photo, PhotoMark

ARROW = "#F2B705"
RIM = "#1C2630"
RADIUS, HEAD, LINE = 0.032, 0.045, 0.008
"""Of a number, of an arrow's head, and of its line [share of the picture's shorter side]."""
Point = tuple[float, float]


def head_of(tail: Point, tip: Point, size: float) -> tuple[Point, Point, Point, Point]:
    """The three corners of an arrow's head, and where its line ends under it; ``size`` long."""
    away = math.hypot(tip[0] - tail[0], tip[1] - tail[1]) or 1.0
    along = ((tip[0] - tail[0]) / away, (tip[1] - tail[1]) / away)
    foot = (tip[0] - along[0] * size, tip[1] - along[1] * size)
    side = (-along[1] * size * 0.5, along[0] * size * 0.5)
    left, right = (foot[0] + side[0], foot[1] + side[1]), (foot[0] - side[0], foot[1] - side[1])
    return tip, left, right, (foot[0] + along[0] * size * 0.2, foot[1] + along[1] * size * 0.2)


def photo_svg(photo: Photo, picture: bytes | None) -> str:
    """A photo with its marks, to stand within a page; one that is not here says so."""
    about = quoteattr(f"Photo {photo.name}. {photo.note}".strip())
    box = f'<svg viewBox="0 0 {photo.wide} {photo.tall}" role="img" aria-label={about}>'
    if picture is None:
        size = photo.wide / 30
        said = "This picture is no longer on this machine."
        return (
            f'{box}<rect width="{photo.wide}" height="{photo.tall}" fill="#F3EEE3"/>'
            f'<text x="{photo.wide / 2:g}" y="{photo.tall / 2:g}" font-size="{size:.0f}" '
            f'text-anchor="middle" font-family="B612" fill="#56606B">{said}</text></svg>'
        )
    data = base64.b64encode(picture).decode("ascii")
    return (
        f'{box}<image width="{photo.wide}" height="{photo.tall}" '
        f'href="data:image/jpeg;base64,{data}"/>{marks_svg(photo)}</svg>'
    )


def marks_svg(photo: Photo) -> str:
    """The marks of a photo as parts of an SVG as large as its picture [px]."""
    return "".join(_mark(photo, mark, i) for i, mark in enumerate(photo.marks, 1))


def _mark(photo: Photo, mark: PhotoMark, number: int) -> str:
    size = min(photo.wide, photo.tall)
    tip = (mark.x * photo.wide, mark.y * photo.tall)
    middle, parts = tip, []
    if mark.kind == "arrow":
        middle = (mark.from_x * photo.wide, mark.from_y * photo.tall)
        *corners, end = head_of(middle, tip, size * HEAD)
        shape = " ".join(f"{x:.1f},{y:.1f}" for x, y in corners)
        for colour, extra in ((RIM, 0.006), (ARROW, 0.0)):
            wide = size * (LINE + extra)
            parts.append(
                f'<line x1="{middle[0]:.1f}" y1="{middle[1]:.1f}" x2="{end[0]:.1f}" '
                f'y2="{end[1]:.1f}" stroke="{colour}" stroke-width="{wide:.1f}"/>'
                f'<polygon points="{shape}" fill="{colour}" stroke="{colour}" '
                f'stroke-width="{size * extra:.1f}"/>'
            )
    radius = size * RADIUS
    parts.append(
        f'<circle cx="{middle[0]:.1f}" cy="{middle[1]:.1f}" r="{radius:.1f}" fill="{ARROW}" '
        f'stroke="{RIM}" stroke-width="{radius * 0.14:.1f}"/>'
        f'<text x="{middle[0]:.1f}" y="{middle[1] + radius * 0.42:.1f}" '
        f'font-size="{radius * 1.2:.1f}" font-weight="700" text-anchor="middle" fill="{RIM}" '
        f'font-family="B612">{number}</text>'
    )
    return "".join(parts)
