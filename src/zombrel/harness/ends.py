"""Ends of wires in words."""

from __future__ import annotations

from zombrel.job.model import Job, by_id
from zombrel.job.wiring import End


def end_words(job: Job, end: End) -> str:
    """An end of a wire as the installer would say it."""
    connector = by_id(job.connectors, end.place)
    if connector is not None:
        return f"{connector.id} cavity {end.pin}"
    named = (
        by_id(job.devices, end.place),
        by_id(job.sources, end.place),
        by_id(job.feeds, end.place),
        by_id(job.studs, end.place),
    )
    name = next((item.name for item in named if item is not None), end.place)
    return f"{name} {end.pin}".strip()
