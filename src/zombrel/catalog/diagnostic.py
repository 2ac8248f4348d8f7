"""Diagnostic connectors: which cavity carries what, by protocol.

The standards give the mating face of the vehicle's half, so that is the side they are counted on.
"""

from __future__ import annotations

import functools

import msgspec

from zombrel.catalog import DATA
from zombrel.job.sheet import Frozen
from zombrel.job.wiring import Connector


class Protocol(Frozen, frozen=True, kw_only=True):
    """One way of talking and the cavities it uses."""

    name: str
    standard: str
    pins: tuple[int, ...]


class Diagnostic(Frozen, frozen=True, kw_only=True):
    """A standard diagnostic connector."""

    connector: Connector
    source: str
    """The standard its cavities are from."""
    protocols: tuple[Protocol, ...]


@functools.cache
def diagnostic() -> tuple[Diagnostic, ...]:
    """The 16-way connector and the round ones before it."""
    return msgspec.json.decode((DATA / "diagnostic.json").read_bytes(), type=tuple[Diagnostic, ...])


def label(connector: Connector, n: int) -> str:
    """Number or letter of a cavity as it is moulded."""
    found = next((c for c in connector.cavities if c.n == n), None)
    return found.mark if found is not None and found.mark else str(n)
