"""Where things usually lie: said in one act for all that nobody has placed yet."""

from __future__ import annotations

from zombrel.job.edits import Add, Edit, Many, Put
from zombrel.job.ledger import evidence
from zombrel.job.model import Job
from zombrel.job.source import BoxOutput

ENGINE = ("bay-left", "engine", "engine-front")
CABIN = ("dash", "console", "bars")
USUAL: tuple[tuple[tuple[str, ...], tuple[str, ...]], ...] = (
    (("pedal",), ("foot-left", "bars", "console")),
    (("hub", "wheel"), ("hub-left", "axle", "rear-hub", "shaft")),
    (("underbody", "shaft", "tail of the gearbox"), ("under-rear", "axle", "tunnel", "shaft")),
    (("gearbox", "selector", "lever"), ("tunnel", "engine-rear", "engine", "foot-left")),
    (("tank",), ("boot", "bed", "tank", "tail", "under")),
    (
        (
            "engine",
            "thermostat",
            "cylinder",
            "cooler",
            "oil",
            "intake",
            "manifold",
            "fuel line",
            "exhaust",
        ),
        ENGINE,
    ),
    (("dash", "switch", "connector", "sky", "diagnostic"), CABIN),
)
"""(words of a place, zones in the order in which they are looked for)."""


def place_usual(job: Job) -> tuple[int, Edit | None]:
    """Every device and source without a zone put where such things usually are.

    How many, and the edit; None when nothing is left or no plan is there. It is a guess to begin
    with, and noted so: each can be put elsewhere, and counts as assumed until it is.
    """
    zones = {z.id for z in job.zones}
    placed = [
        (f"devices.{d.id}.zone", zone)
        for d in job.devices
        if not d.zone and (zone := _first(CABIN, zones))
    ]
    for source in job.sources:
        if source.zone or isinstance(source.spec, BoxOutput):
            continue
        zone = _usual(source.place or source.name, zones)
        if zone:
            placed.append((f"sources.{source.id}.zone", zone))
    note = "where such things usually are"
    edits: list[Put | Add] = []
    for i, (path, zone) in enumerate(placed):
        edits += [
            Put(path=path, value=zone),
            evidence(job, path, "hearsay", note, value=zone, nth=i),
        ]
    return len(placed), Many(edits=tuple(edits)) if edits else None


def _usual(place: str, zones: set[str]) -> str:
    words = place.lower()
    for names, wanted in USUAL:
        if any(name in words for name in names):
            found = _first(wanted, zones)
            if found:
                return found
    return _first(CABIN, zones)


def _first(wanted: tuple[str, ...], zones: set[str]) -> str:
    return next((z for z in wanted if z in zones), "")
