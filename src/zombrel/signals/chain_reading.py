"""What every chain reads in one state, and over its whole range.

References: laws as in ``signals.law`` (rates), ``signals.sense`` (senders) and ``signals.brake``
(lamp lines), each with its own; a worn tyre turns more often by the share it lost (kinematics).
"""

from __future__ import annotations

import itertools
import math
from collections.abc import Callable
from contextlib import suppress
from functools import partial
from typing import TYPE_CHECKING, Literal

import msgspec

from zombrel.job.facts import lacking, unset
from zombrel.job.figures import figure
from zombrel.job.follow.query import chunks, query
from zombrel.job.follow.view import OPEN, plain
from zombrel.job.model import (
    Chain,
    Device,
    Job,
    LoadResistor,
    Relay,
    Vehicle,
    index,
)
from zombrel.job.problem import Problem
from zombrel.job.quantity import Group, group, truth
from zombrel.job.sheet import Frozen, InputSheet, Quantity
from zombrel.job.source import BoxOutput, BrakeSide, Source
from zombrel.job.state import State
from zombrel.job.unjudged import note
from zombrel.job.value import Value
from zombrel.signals import law as laws
from zombrel.signals.brake import PRESSED_SHARE, BrakeLine, brake_line
from zombrel.signals.circuit.port import Port
from zombrel.signals.circuit.rest import electric, of_chain, ports
from zombrel.signals.contact import Contact, contact
from zombrel.signals.following import circle, circles, given_by, made_from, usual_port
from zombrel.signals.kinds import Emission
from zombrel.signals.kinds.base import OPEN_OHM
from zombrel.signals.reduce import law
from zombrel.signals.sense import (
    FAULTS,
    UNREADABLE,
    Sensed,
    Sensor,
    sensor,
    shown_at,
    span_of,
)
from zombrel.signals.supply import feeds_of, powered

if TYPE_CHECKING:
    pass

DIVIDER_MAX = 10
"""Largest divider offered: the switch on the ordinary pulse divider goes to ten."""


class ChainReading(Frozen, frozen=True, kw_only=True):
    """One chain in one state. Speeds [m/s], engine speeds [1/s]."""

    id: str
    quantity: str
    problem: str = ""
    """Why nothing can be computed; empty when it can."""
    where: str = ""
    """The way to where that is mended."""
    status: str = ""
    true: float = 0.0
    shown: float = 0.0
    """nan where the reading is not to be trusted."""
    error: float = math.nan
    """(shown − true)/true where the chain counts; nan elsewhere."""
    source_hz: float = 0.0
    source_v: float = 0.0
    device_hz: float = 0.0
    start: float = math.inf
    """Lowest x at which it counts."""
    stop: float = 0.0
    """Highest x at which it counts."""
    powered: bool = True
    brake: BrakeLine | None = None
    sense: Sensed | None = None
    """How a sensor chain comes to what it shows."""
    contact: Contact | None = None
    """What an on/off chain tells the device in both states."""


OPEN.add(ChainReading)


def top_of(chain: Chain, vehicle: Vehicle) -> float:
    """Greatest x the chain must follow: top speed [m/s] or redline [1/s]."""
    if chain.quantity == "speed":
        return vehicle.top_mps
    return vehicle.redline_rps or 100.0


def side_of(source: Source) -> Literal["cold", "hot"]:
    """The side of the brake switch a source taps; cold for any other source."""
    return source.spec.side if isinstance(source.spec, BrakeSide) else "cold"


def works_from(sheet: InputSheet) -> float:
    """Lowest x at which an input should count: road speed [m/s] or engine speed [1/s]."""
    if sheet.quantity != "speed":
        return figure("working engine speed")
    return max(sheet.works_above_mps, figure("working speed"))


def is_brake_line(source: Source, sheet: InputSheet) -> bool:
    """Whether a chain is a cancel line: the lamp side of the switch into a seeking input."""
    return isinstance(source.spec, BrakeSide) and sheet.need_ohm > 0


class Felt(Value, frozen=True):
    """A sensor chain and all of it that no state changes."""

    sender: Sensor
    span: tuple[float, float]
    box: str
    """The device the source is an output of, or ""."""


class Ready(Value, frozen=True):
    """A rate chain and all of it that no state changes."""

    give: Emission
    law: laws.Law
    span: tuple[float, float]
    box: str
    """The device the source is an output of, or "": the chain needs its supply too."""


def _parts(job: Job, chain: str) -> tuple[Chain, Source, Device]:
    of = index(job.chains)[chain]
    return of, index(job.sources)[of.source], index(job.devices)[of.device]


def _box(source: Source) -> str:
    return source.spec.device if isinstance(source.spec, BoxOutput) else ""


@query
def ready(job: Job, key: str) -> Ready:
    """The rate chain ``key`` reduced to its law.

    Raises:
        Problem: a fact is missing, or the device is not set yet.
    """
    chain, source, device = _parts(job, key)
    give = given_by(job, source)
    rate_law = law(chain, give, device, usual_port(job, key))
    if math.isnan(rate_law.setting):
        raise unset(device.name, chain.pin, chain.id)
    return Ready(give, rate_law, laws.span(rate_law), _box(source))


@query
def felt(job: Job, key: str) -> Felt:
    """The sensor chain ``key`` reduced to its sensor.

    Raises:
        Problem: the input cannot read the source, or has no curve yet.
    """
    chain, source, device = _parts(job, key)
    box = index(job.devices).get(_box(source))
    sender = sensor(chain, source, device, box)
    return Felt(sender, span_of(chain, sender, job.vehicle), _box(source))


@query
def living(job: Job, state: State) -> dict[str, bool]:
    """Which device has its supplies in ``state``, by id."""
    feeds, fed = index(plain(job.feeds)), plain(feeds_of(job))
    return {
        d.id: powered(d, [feeds[s.feed] for s in fed.get(d.id, ())], state) for d in job.devices
    }


def alive(job: Job, state: State, key: str) -> bool:
    """Whether the device ``key`` has its supplies in ``state``."""
    return living(job, state)[key]


class Kind(Value, frozen=True):
    """What decides how a chain is read."""

    chain: str
    quantity: Quantity
    device: str


@query
def _kinds(job: Job, ids: tuple[str, ...]) -> dict[Group, tuple[Kind, ...]]:
    """Some chains by the group of what they carry."""
    chains = index(job.chains)
    found: dict[Group, list[Kind]] = {}
    for kind in [_kind(chains[key]) for key in ids]:
        found.setdefault(group(kind.quantity), []).append(kind)
    return {of: tuple(kinds) for of, kinds in found.items()}


def _kind(chain: Chain) -> Kind:
    return Kind(chain.id, chain.quantity, chain.device)


@query
def read_chains(job: Job, state: State) -> tuple[ChainReading, ...]:
    """Evaluate every chain of ``job`` in ``state``."""
    some = [plain(_read_some(job, state, ids)) for ids in chunks(job.chains, 25)]
    return tuple(itertools.chain.from_iterable(some))


@query
def _read_some(job: Job, state: State, ids: tuple[str, ...]) -> tuple[ChainReading, ...]:
    """Chains of one group apart from the others: a drag of the speed leaves the senders alone."""
    found: dict[str, ChainReading] = {}
    for of, kinds in plain(_kinds(job, ids)).items():
        found.update(index(plain(_SOME[of](job, state, kinds))))
    return tuple([found[key] for key in ids])


@query
def _some_counted(job: Job, state: State, kinds: tuple[Kind, ...]) -> tuple[ChainReading, ...]:
    live, known = plain(living(job, state)), plain(_ready_of(job, kinds))
    return tuple(
        [
            _one(k, partial(_counted, job, state, k, live[k.device], known.get(k.chain)))
            for k in kinds
        ]
    )


@query
def _ready_of(job: Job, kinds: tuple[Kind, ...]) -> dict[str, Ready]:
    """Some rate chains reduced to their laws: those that can be, in one question."""
    found = {}
    for kind in kinds:
        with suppress(Problem):
            found[kind.chain] = plain(ready(job, kind.chain))
    return found


@query
def _some_felt(job: Job, state: State, kinds: tuple[Kind, ...]) -> tuple[ChainReading, ...]:
    live = plain(living(job, state))
    seen = plain(ports(job, tuple([k.chain for k in kinds]), tuple(electric(state))))
    return tuple(
        [_one(k, partial(_felt, job, state, k, live[k.device], seen[k.chain])) for k in kinds]
    )


@query
def _some_switched(job: Job, state: State, kinds: tuple[Kind, ...]) -> tuple[ChainReading, ...]:
    live = plain(living(job, state))
    return tuple([_one(k, partial(_switched, job, state, k, live[k.device])) for k in kinds])


_SOME: dict[Group, Callable[[Job, State, tuple[Kind, ...]], tuple[ChainReading, ...]]] = {
    "rate": _some_counted,
    "sensed": _some_felt,
    "contact": _some_switched,
}


def _one(kind: Kind, read: Callable[[], ChainReading]) -> ChainReading:
    """One chain, or why it cannot be read."""
    try:
        return plain(read())
    except Problem as problem:
        return ChainReading(
            id=kind.chain, quantity=kind.quantity, problem=str(problem), where=problem.where
        )
    except Exception as error:
        said = f"Zombrel failed at this signal ({note(error)})."
        return ChainReading(id=kind.chain, quantity=kind.quantity, problem=said)


@query
def reading_of(job: Job, state: State, key: str) -> ChainReading:
    """One chain of ``job`` in ``state``, by its id."""
    kind = _kind(index(job.chains)[key])
    return plain(_SOME[group(kind.quantity)](job, state, (kind,)))[0]


class Fed(Value, frozen=True):
    """Whether a source has what it is made from, and what it carries of it."""

    alive: bool
    shown: float | None
    """What its device makes of its own input [SI]; None for the truth itself."""


def fed(job: Job, state: State, key: str) -> Fed:
    """What the source of the chain ``key`` is made from gives in ``state``.

    Raises:
        Problem: it goes round in a circle.
    """
    source = index(job.sources)[index(job.chains)[key].source]
    made = made_from(job, source)
    if made is None:
        return Fed(alive=True, shown=None)
    if not made.chain:
        return Fed(alive=False, shown=None)
    if made.chain in circles(job):
        raise circle(source.name, made.chain)
    before = reading_of(job, state, made.chain)
    if before.problem or not before.powered:
        return Fed(alive=False, shown=None)
    if group(before.quantity) == "rate":
        return Fed(alive=True, shown=None)
    return Fed(alive=math.isfinite(before.shown), shown=before.shown)


def _felt(job: Job, state: State, kind: Kind, live: bool, port: Port) -> ChainReading:
    box = felt(job, kind.chain).box
    live = live and (alive(job, state, box) if box else state.key != "off")
    true = truth(kind.quantity, state)
    given = true
    if box:
        made = fed(job, state, kind.chain)
        live = live and made.alive
        given = true if made.shown is None else made.shown
    # only these of a state reach a sensor: the reading stays while another is dragged
    felt_by = (state.volts, state.barometer, state.ambient)
    return _sensed_reading(job, kind.chain, true, given, port, *felt_by, live)


def port_of(job: Job, key: str, state: State) -> Port:
    """What the source of the chain ``key`` sees in ``state``."""
    return of_chain(job, key, electric(state))


def _switched(job: Job, state: State, kind: Kind, live: bool) -> ChainReading:
    on = truth(kind.quantity, state)
    volts = state.volts
    return _switched_reading(job, kind.chain, on, volts, live)


@query
def _sensed_reading(
    job: Job,
    key: str,
    true: float,
    given: float,
    port: Port,
    volts: float,
    barometer: float,
    ambient: float,
    alive: bool,
) -> ChainReading:
    whole = felt(job, key)
    sender, (low, high) = whole.sender, whole.span
    state = State(volts=volts, barometer=barometer, ambient=ambient)
    shown, how = shown_at(sender, given if math.isfinite(given) else true, port, state)
    if given != true:  # what it is off includes what its own device made of it
        how = msgspec.structs.replace(how, off=shown - true)
    return ChainReading(
        id=key,
        quantity=sender.sheet.quantity,
        status=laws.STATUS[0] if not alive else FAULTS[how.fault] or "reading",
        true=true,
        shown=shown if alive and how.fault not in UNREADABLE else math.nan,
        source_v=how.pin_v if alive else 0.0,
        start=low,
        stop=high,
        powered=alive,
        sense=how,
    )


@query
def _switched_reading(job: Job, key: str, true: float, volts: float, live: bool) -> ChainReading:
    chain, source, device = _parts(job, key)
    sheet = device.sheet.input(chain.pin)
    assert sheet is not None  # validated with the job
    if is_brake_line(source, sheet):
        return _read_brake(chain, job.vehicle, sheet, bool(true), volts, live, side_of(source))
    switch = contact(chain, source, sheet)
    on = switch.on_when_on if true else switch.on_when_off
    return ChainReading(
        id=chain.id,
        quantity=chain.quantity,
        status=laws.STATUS[0] if not live else "on" if on else "off",
        true=true,
        shown=float(on),
        powered=live,
        contact=switch,
    )


def _counted(job: Job, state: State, kind: Kind, live: bool, known: Ready | None) -> ChainReading:
    known = known or ready(job, kind.chain)
    rate_law, (start, stop), box = known.law, known.span, known.box
    live = live and (alive(job, state, box) if box else state.key != "off")
    live = live and (not box or fed(job, state, kind.chain).alive)
    true = state.speed if kind.quantity == "speed" else state.engine
    seen = laws.at(rate_law, true / (1 - state.wear) if kind.quantity == "speed" else true, live)
    return ChainReading(
        id=kind.chain,
        quantity=kind.quantity,
        status=laws.STATUS[seen.status],
        true=true,
        shown=seen.shown,
        error=seen.shown / true - 1 if seen.status == laws.COUNTING else math.nan,
        source_hz=seen.source_hz,
        source_v=seen.source_v,
        device_hz=seen.device_hz,
        start=start,
        stop=stop,
        powered=live,
    )


def brake_of(
    chain: Chain,
    vehicle: Vehicle,
    sheet: InputSheet,
    volts: float,
    side: Literal["cold", "hot"] = "cold",
) -> BrakeLine:
    """The brake line of ``chain`` with what is fitted in it, from a ``volts`` [V] supply."""
    if vehicle.lamps is None:
        raise lacking("lamps")
    load = next((h.ohm for h in chain.hops if isinstance(h, LoadResistor)), None)
    fitted = next((h for h in chain.hops if isinstance(h, Relay)), None)
    relay = None if fitted is None else (fitted.coil_ohm, _at_rest(fitted))
    return brake_line(
        vehicle.lamps,
        vehicle.lamp_w,
        vehicle.lamp_count,
        sheet.pulls_ohm,
        volts,
        load,
        relay,
        sheet.need_ohm or figure("load resistor, usual need"),
        side,
    )


def _at_rest(relay: Relay) -> float:
    """What a relay leaves between its input and ground with the pedal up [Ω]."""
    return relay.contact_ohm if relay.throw == "rest" else OPEN_OHM


def _read_brake(
    chain: Chain,
    vehicle: Vehicle,
    sheet: InputSheet,
    pressed: bool,
    supply: float,
    alive: bool,
    side: Literal["cold", "hot"],
) -> ChainReading:
    alive = alive and supply > 0
    line = brake_of(chain, vehicle, sheet, max(supply, 1e-3), side)
    volts = line.pressed_v if pressed else line.rest_v
    if not alive:
        status = laws.STATUS[0]
    elif volts <= line.rest_limit_v:
        status = "released"
    elif pressed and line.sure and volts >= PRESSED_SHARE * supply:
        status = "pressed"
    else:
        status = "unsure"
    return ChainReading(
        id=chain.id,
        quantity="brake",
        status=status,
        true=float(pressed),
        source_v=volts if alive else 0.0,
        powered=alive,
        brake=line,
    )
