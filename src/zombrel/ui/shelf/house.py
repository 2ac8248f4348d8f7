"""House rules as text and as a table."""

from __future__ import annotations

import msgspec

from zombrel.job.edits import plain
from zombrel.job.figures import FIGURES, decided
from zombrel.job.model import House
from zombrel.job.problem import Problem
from zombrel.job.validate import check_figures

Row = tuple[str, str, str]
ROOM = 26
"""Longer values are cut in the summary; the text beside it has them whole."""


def read_house(text: str) -> House:
    """House rules from JSON; raises Problem that says what is wrong."""
    try:
        house = msgspec.json.decode(text, type=House)
    except msgspec.ValidationError as error:
        raise Problem(plain(str(error))) from error
    except msgspec.DecodeError as error:
        raise Problem(f"This is not complete JSON yet: {error}.") from error
    check_figures(house)
    return house


def house_rows(house: House) -> tuple[Row, ...]:
    """(rule, where it stands, the usual where that is another), figures of the shop last."""
    usual = House()
    rows: list[Row] = []
    for name in House.__struct_fields__:
        if name != "figures":
            now, before = getattr(house, name), getattr(usual, name)
            other = "" if now == before else f"usual {short(before)}"
            rows.append((name.replace("_", " "), short(now), other))
    for name, figure in FIGURES.items():
        if figure.shop:
            value, own = decided(house.figures, name)
            other = f"usual {figure.value:g}" if own else ""
            rows.append((name, f"{value:g} {figure.unit}", other))
    return tuple(rows)


def short(value: object) -> str:
    """A value in the room of a table's cell."""
    if isinstance(value, tuple):
        return f"{len(value)} pairs"
    if isinstance(value, float):
        return f"{value:g}"
    if isinstance(value, bool):
        return "yes" if value else "no"
    text = str(value)
    return (text if len(text) <= ROOM else f"{text[: ROOM - 1]}…") or "not said"
