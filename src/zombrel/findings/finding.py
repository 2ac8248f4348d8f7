"""What an assessment is made of."""

from __future__ import annotations

from typing import Literal

from zombrel.harness.power import PowerReading
from zombrel.harness.wire_reading import WireReading
from zombrel.job.edits import Edit
from zombrel.job.follow.view import OPEN
from zombrel.job.model import index
from zombrel.job.reason import Reason
from zombrel.job.sheet import Frozen
from zombrel.job.stages import Stage
from zombrel.job.wiring import Wire
from zombrel.signals.chain_reading import ChainReading

Level = Literal["trouble", "watch", "note"]
Mark = Literal["good", "watch", "trouble", "open", "locked"]


class Mend(Frozen, frozen=True, kw_only=True):
    """One action that settles a finding: an edit that can be undone, or a place to go."""

    label: str
    edit: Edit | None = None
    go: str = ""
    """``stage`` or ``stage:item`` to show when there is nothing to edit."""


UNSAID = -1
"""Harm or minutes that are those of the rule."""


class Finding(Frozen, frozen=True, kw_only=True):
    """Something to settle."""

    id: str
    rule: str = ""
    """The rule that found it: what kind of finding this is."""
    stage: Stage = "set"
    level: Level
    title: str
    text: str
    harm: int = UNSAID
    """0 to 100: what it can do if left."""
    minutes: float = UNSAID
    """What it takes to mend."""
    reason: Reason
    """Inputs, formula, source and assumption behind it."""
    mends: tuple[Mend, ...] = ()
    chain: str = ""
    wire: str = ""
    fact: str = ""
    about: tuple[str, ...] = ()
    """What else it is about: ids, ``place.pin``, paths of facts; see ``findings.about``."""


class StageState(Frozen, frozen=True, kw_only=True):
    """How far one stage is, from evidence."""

    stage: Stage
    mark: Mark
    words: str


class Assessment(Frozen, frozen=True, kw_only=True):
    """Everything the screens show about a job in a state."""

    chains: tuple[ChainReading, ...]
    wires: tuple[WireReading, ...]
    runs: tuple[Wire, ...]
    """The conductors as they lie, in the order of ``wires``."""
    power: PowerReading
    findings: tuple[Finding, ...]
    stages: tuple[StageState, ...]
    engine_lock: str = ""
    """Why no step with the engine running may begin; empty when it may."""
    road_lock: str = ""
    """Why no road test may begin; empty when it may."""
    opens: Stage = "prove"
    """The stage where the first of it is mended."""

    def chain(self, key: str) -> ChainReading:
        """Reading of the chain ``key``."""
        return index(self.chains)[key]

    def wire(self, key: str) -> WireReading:
        """Reading of the wire ``key``."""
        return index(self.wires)[key]

    def run(self, key: str) -> Wire:
        """The wire ``key`` as it lies."""
        return index(self.runs)[key]


OPEN.add(Assessment)
