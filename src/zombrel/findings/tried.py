"""A pin of a sheet tried on a job: what it would see and show, were it fitted as it stands."""

from __future__ import annotations

from collections.abc import Iterable

import msgspec

from zombrel.actions.begin import usual_source
from zombrel.catalog.check import sheet_troubles
from zombrel.findings.assess import assess
from zombrel.findings.finding import Assessment
from zombrel.job.follow.query import aside
from zombrel.job.model import Chain, Device, Job, Setting, by_id
from zombrel.job.problem import Problem
from zombrel.job.sheet import DeviceSheet
from zombrel.job.source import BoxOutput, Source
from zombrel.job.state import State
from zombrel.job.value import Value
from zombrel.signals.begin import chain_from
from zombrel.signals.finder import candidates


class Tried(Value, frozen=True):
    """A trial of one pin."""

    job: Job
    """The device alone on the vehicle, with the signal that serves the pin best."""
    chain: Chain
    assessment: Assessment
    source: Source
    setting: str
    """Where its setting would stand; empty where it has none."""
    usual: bool
    """The job offers no source: one that is usual was taken."""


def tried(
    job: Job, state: State, sheet: DeviceSheet, pin: str, kinds: Iterable[Source], at: str = ""
) -> Tried:
    """The pin of ``sheet`` on the vehicle of ``job``, from the best source there is.

    ``kinds`` are what a vehicle may have, for a quantity that the job has no source of; ``at``
    where the setting stands, the best place for it when empty.

    Raises:
        Problem: the sheet is not sound yet, or nothing serves the pin; it says why.
    """
    for trouble in sheet_troubles(sheet):
        raise Problem(trouble)
    given = sheet.input(pin)
    if given is None:
        raise Problem(f"{pin} takes no signal: there is nothing to try.")
    device = Device(id="tried", name=sheet.name, sheet=sheet)
    own = [s for s in job.sources if s.quantity == given.quantity]
    kept = [s for s in own if not isinstance(s.spec, BoxOutput)]  # other devices are left out
    bare = Job(vehicle=job.vehicle, house=job.house, devices=(device,), sources=tuple(kept))
    usual = not kept
    if usual:
        found = usual_source(bare, given.quantity, kinds)
        if found is None:
            raise Problem(f"Nothing on the shelf gives {given.quantity}.")
        bare = msgspec.structs.replace(bare, sources=(found,))
    with aside():
        return _judged(bare, state, pin, usual, at)


def _judged(bare: Job, state: State, pin: str, usual: bool, at: str) -> Tried:
    device = bare.devices[0]
    given = device.sheet.input(pin)
    assert given is not None  # it was asked for by name
    ranked = candidates(bare, device, given)
    best = next((c for c in ranked if c.possible), None)
    if best is None:
        first = ranked[0]
        raise Problem(f"{first.name}: {first.faults[0] if first.faults else 'does not fit'}")
    chain = chain_from(bare, device, given, best)
    stands = at or best.setting
    if stands:
        setting = Setting(pin=pin, at=stands, table=best.table)
        device = msgspec.structs.replace(device, settings=(setting,))
    trial = msgspec.structs.replace(bare, devices=(device,), chains=(chain,))
    source = by_id(trial.sources, best.source)
    assert source is not None  # the finder weighed it
    return Tried(trial, chain, assess(trial, state), source, stands, usual)
