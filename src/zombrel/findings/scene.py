"""What every rule looks at: the job, the state, and what was read from them."""

from __future__ import annotations

from collections.abc import Mapping
from typing import NamedTuple

import msgspec

from zombrel.harness.reading import WireReading
from zombrel.job.edits import Add, Edit, Many, Put, Remove
from zombrel.job.model import Chain, Device, Divider, Job
from zombrel.job.reason import Given
from zombrel.job.sheet import Curve, DeviceSheet, InputSheet
from zombrel.job.source import Source
from zombrel.job.state import State
from zombrel.job.wiring import Connector, Feed, Wire
from zombrel.signals.law import Law
from zombrel.signals.reading import ChainReading
from zombrel.signals.reduce import Emission


class Scene(NamedTuple):
    """Job, state, readings and look-up tables, made once for an assessment."""

    raw: Job
    """The job as it is edited."""
    job: Job
    """The job with its wires as they lie on the plan."""
    state: State
    devices: Mapping[str, Device]
    sources: Mapping[str, Source]
    boxes: Mapping[str, DeviceSheet | None]
    """For each source, the device sheet it depends on."""
    reduced: Mapping[str, tuple[Emission, Law]]
    """What each rate chain that can be computed reduces to."""
    feeds: Mapping[str, Feed]
    wires: Mapping[str, Wire]
    connectors: Mapping[str, Connector]
    chain_readings: tuple[ChainReading, ...]
    wire_readings: tuple[WireReading, ...]

    def input(self, chain: Chain) -> InputSheet:
        """The input a chain ends at."""
        sheet = self.devices[chain.device].sheet.input(chain.pin)
        assert sheet is not None  # validated with the job
        return sheet


def given(name: str, value: str, known: str | None = "") -> Given:
    """An input of a reason; ``known`` is its provenance, None when there is none."""
    return Given(name=name, value=value, known="nobody has said" if known is None else known)


def put_setting(device: Device, pin: str, at: str, table: Curve = ()) -> Put | Add:
    """The edit that moves a device's setting to ``at``, with the points loaded for it."""
    value = {"pin": pin, "at": at, "table": [list(pair) for pair in table]}
    if device.setting(pin) is None:
        return Add(path=f"devices.{device.id}.settings", value=value)
    if table or device.table(pin):
        return Put(path=f"devices.{device.id}.settings.{pin}", value=value)
    return Put(path=f"devices.{device.id}.settings.{pin}.at", value=at)


def put_divider(chain: Chain, by: int) -> Put:
    """The edit that gives ``chain`` a divider of ``by`` (1: takes it away)."""
    hops: list[object] = [msgspec.to_builtins(h) for h in chain.hops if not isinstance(h, Divider)]
    if by > 1:
        hops.insert(0, msgspec.to_builtins(Divider(by=by)))
    return Put(path=f"chains.{chain.id}.hops", value=hops)


def together(*edits: Put | Add | Remove) -> Edit:
    """Several edits as one."""
    return edits[0] if len(edits) == 1 else Many(edits=edits)


class Rated(NamedTuple):
    """A rate chain that can be computed."""

    chain: Chain
    source: Source
    give: Emission
    law: Law


def rated(scene: Scene, chain: Chain) -> Rated:
    """What a rate chain reduces to; only for chains that can be computed."""
    give, one = scene.reduced[chain.id]
    return Rated(chain, scene.sources[chain.source], give, one)
