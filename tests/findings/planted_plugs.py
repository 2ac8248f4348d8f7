"""Troubles of plug halves and retrofits."""

from __future__ import annotations

from typing import Any

import msgspec

from tests.findings.planting import Row, Sound, rows, settled
from zombrel.job.model import by_id


def half(**more: Any) -> dict[str, Any]:
    """The half that D2 of job 0412 is pushed into, sound unless said otherwise."""
    c = by_id(settled("0412").connectors, "D2")
    assert c is not None
    sound = msgspec.to_builtins(c) | {
        "id": "D2H",
        "name": "Other half of D2",
        "counted_on": "mating face",
        "terminals": "male",
        "cavities": [],
        "mates": "D2",
    }
    return {"+connectors": sound | more}


def retrofit(**more: Any) -> dict[str, Any]:
    """A module at plug B4 that is taught and counts nothing, unless said otherwise."""
    usual = {
        "id": "R1",
        "name": "Lamp module",
        "connector": "B4",
        "functions": [{"name": "Lamps", "needs": ["brake lamps", "lights"]}],
        "coding": "not needed",
        "keeps": "nothing",
    }
    return {"+retrofits": usual | more}


LACKS = [{"name": "Cruise", "needs": ["brake lamps", "set switch"]}]
ELSEWHERE = {
    "vehicle.split_chassis": None,
    "+connectors": {
        "id": "M",
        "name": "Module",
        "rows": 1,
        "columns": 4,
        "cavities": [
            {"n": 2, "circuit": "washer", "seen": "empty"},
        ],
    },
}
PLUG_ROWS: tuple[Row, ...] = (
    *rows(
        "halves that do not go together",
        ("0412", "D2", half(terminals="female")),
        ("0412", "D2", half(family="AR 1.5 sealed")),
        ("0412", "D2", half(counted_on="wire side")),
        ("0412", "D2", half(plating="gold") | {"connectors.D2.plating": "tin"}),
    ),
    *rows("halves of other size", ("0412", "D2", half(columns=9)), mended=False),
    *rows("a seal on one half only", ("0412", "D2", half(sealed=True)), mended=False),
    *rows(
        "counts nobody noted",
        ("0412", "R1", retrofit(keeps="distance")),
        ("0412", "R1", retrofit(keeps="distance and hours", car_m=1.8e8)),
        mended=False,
    ),
    *rows(
        "what nobody said of a module",
        ("0412", "R1", retrofit(coding="")),
        ("0412", "R1", retrofit(keeps="")),
        level="watch",
        mended=False,
    ),
    *rows(
        "a function that lacks a circuit",
        ("0412", "R1", retrofit(functions=LACKS)),
        level="watch",
        mended=False,
    ),
    *rows(
        "a circuit that is elsewhere",
        ("0412", "R1", ELSEWHERE | retrofit(connector="M", functions=[{"name": "All"}])),
        level="watch",
    ),
)
PLUG_SOUND = (
    Sound("two halves that meet", "0412", half()),
    Sound("a module that has all", "0412", retrofit()),
    Sound("counts that were noted", "0412", retrofit(keeps="distance", car_m=1.8e8)),
)
