"""What every rule looks at: the job, the state, and what was read from them."""

from __future__ import annotations

import functools
from collections.abc import Mapping

from zombrel.harness import airbag
from zombrel.harness.airbag import Touched
from zombrel.harness.laid import laid
from zombrel.harness.power import PowerReading, StudReading, read_power
from zombrel.harness.wire_reading import WireReading, read_wires
from zombrel.job.edits import Edit, apply
from zombrel.job.follow.view import plain
from zombrel.job.model import Chain, Device, Job, index
from zombrel.job.reason import Given
from zombrel.job.sheet import InputSheet
from zombrel.job.source import Source
from zombrel.job.state import State
from zombrel.job.value import Value
from zombrel.job.wiring import Connector, Feed, Wire
from zombrel.signals.chain_reading import ChainReading, read_chains, ready
from zombrel.signals.circuit.islands import Map, islands
from zombrel.signals.ground import grounds
from zombrel.signals.kinds import Emission
from zombrel.signals.law import Law
from zombrel.signals.supply import Ends, all_ends


class Scene:
    """What rules look at: the job, the state, and what was read of both, looked up when asked."""

    def __init__(self, raw: Job, state: State) -> None:
        self.raw = raw
        """The job as it is edited."""
        self.job = laid(raw)
        """The job with its wires as they lie on the plan."""
        self.state = state
        self._inputs: dict[str, InputSheet] = {}
        self.worst: dict[object, tuple[float, float, float]] = {}
        """Worst errors by sender, input and range: where there are many, many are alike."""

    def after(self, edit: Edit) -> Job:
        """The job as it would be; rests on all of it, so only for what has to be tried."""
        return apply(plain(self.raw), edit)

    @functools.cached_property
    def devices(self) -> Mapping[str, Device]:
        """By id."""
        return index(self.job.devices)

    @functools.cached_property
    def sources(self) -> Mapping[str, Source]:
        """By id."""
        return index(self.job.sources)

    @functools.cached_property
    def chains(self) -> Mapping[str, Chain]:
        """By id."""
        return index(self.job.chains)

    @functools.cached_property
    def feeds(self) -> Mapping[str, Feed]:
        """By id."""
        return index(self.job.feeds)

    @functools.cached_property
    def wires(self) -> Mapping[str, Wire]:
        """By id."""
        return index(self.job.wires)

    @functools.cached_property
    def connectors(self) -> Mapping[str, Connector]:
        """By id."""
        return index(self.job.connectors)

    @functools.cached_property
    def _readings(self) -> Mapping[str, ChainReading]:
        return index(read_chains(self.job, self.state))

    @functools.cached_property
    def _wire_readings(self) -> Mapping[str, WireReading]:
        return index(read_wires(self.job, self.state))

    @functools.cached_property
    def _ends(self) -> Mapping[str, Ends]:
        return all_ends(self.job)

    @functools.cached_property
    def airbag_zones(self) -> frozenset[str]:
        """Zones with airbag wiring."""
        return frozenset(z.id for z in self.job.zones if z.airbag)

    def reading(self, chain: str) -> ChainReading:
        """What a chain reads."""
        return self._readings[chain]

    def wire_reading(self, wire: str) -> WireReading:
        """What a wire carries."""
        return self._wire_readings[wire]

    @functools.cached_property
    def islands(self) -> Map:
        """Which parts of the network hang together."""
        return islands(self.job)

    @functools.cached_property
    def grounds(self) -> Mapping[str, tuple[str, ...]]:
        """Ground wires of each device."""
        return grounds(self.job)

    @functools.cached_property
    def _power(self) -> PowerReading:
        return read_power(self.job, self.state)

    def power(self) -> PowerReading:
        """Feeds, studs and drain."""
        return self._power

    @functools.cached_property
    def _studs(self) -> Mapping[str, StudReading]:
        return index(self.power().studs)

    @functools.cached_property
    def bags(self) -> dict[str, list[Touched]]:
        """Airbag wiring by the place it is at."""
        found: dict[str, list[Touched]] = {}
        for touched in airbag.places(self.job):
            found.setdefault(touched.place, []).append(touched)
        return found

    def bag(self, place: str, pin: str = "") -> Touched | None:
        """The airbag wiring at an end, if it is any."""
        touched = self.bags.get(place)
        return next((t for t in touched if t.pin in ("", pin)), None) if touched else None

    def stud(self, key: str) -> StudReading:
        """What a ground point carries, and how far it is lifted."""
        return self._studs[key]

    def ends(self, wire: str) -> Ends:
        """What a wire joins."""
        return self._ends[wire]

    def input(self, chain: Chain) -> InputSheet:
        """The input a chain ends at."""
        sheet = self._inputs.get(chain.id)  # most of the rules about a signal ask for it
        if sheet is None:
            sheet = self.devices[chain.device].sheet.input(chain.pin)
            assert sheet is not None  # validated with the job
            self._inputs[chain.id] = sheet
        return sheet


def given(name: str, value: str, known: str | None = "") -> Given:
    """An input of a reason; ``known`` is its provenance, None when there is none."""
    return Given(name=name, value=value, known="nobody has said" if known is None else known)


class Rated(Value, frozen=True):
    """A rate chain that can be computed."""

    chain: Chain
    source: Source
    give: Emission
    law: Law


def rated(scene: Scene, chain: Chain) -> Rated:
    """What a rate chain reduces to; only for chains that can be computed."""
    found = ready(scene.job, chain.id)
    return Rated(chain, scene.sources[chain.source], found.give, found.law)
