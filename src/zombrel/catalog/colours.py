"""Paint for the colour words of wires, on paper and on the screen."""

from __future__ import annotations

PAINT = {
    "red": "#B23232",
    "black": "#26282B",
    "white": "#F4F1EA",
    "green": "#2F8A57",
    "blue": "#2E5FA8",
    "yellow": "#E2BE3A",
    "brown": "#8A5A32",
    "grey": "#8C9196",
    "orange": "#D97B29",
    "violet": "#7A4C9E",
    "pink": "#D99AA8",
    "bare": "#B9B4A8",
}
UNKNOWN = "#B9B4A8"


def stripe(colour: str) -> tuple[str, str | None]:
    """Base and stripe paint of a colour such as ``green/white``."""
    base, _, mark = colour.partition("/")
    return PAINT.get(base.strip(), UNKNOWN), PAINT.get(mark.strip()) if mark else None
