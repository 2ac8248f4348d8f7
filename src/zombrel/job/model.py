"""The job tree. Frozen records only; every change is a new tree (see ``edits``)."""

from __future__ import annotations

from typing import Annotated, Literal, TypeVar

from msgspec import Meta

from zombrel.job.memo import remembered
from zombrel.job.sheet import (
    Count,
    DeviceSheet,
    FeedClass,
    Frozen,
    Name,
    NonNegative,
    Positive,
    Quantity,
    Text,
)

SCHEMA = 1
"""Version of the job file; raised whenever an older program could misread a newer job."""

Ignition = Literal["distributor", "wasted-spark", "coil-per-plug", "none"]
Rung = Literal["hearsay", "other car", "document", "colour", "counted", "measured", "proven"]
RUNGS: tuple[Rung, ...] = (
    "hearsay",
    "other car",
    "document",
    "colour",
    "counted",
    "measured",
    "proven",
)


class Vehicle(Frozen, frozen=True, kw_only=True):
    """Facts about the vehicle. ``None`` or an empty text means: not known yet."""

    name: Text = ""
    owner: Text = ""
    chassis: Annotated[int, Meta(ge=0, le=10**9)] | None = None
    split_chassis: Annotated[int, Meta(ge=0, le=10**9)] | None = None
    """Chassis number from which pins or colours differ."""
    split_note: Text = ""
    cylinders: Annotated[int, Meta(ge=1, le=16)] | None = None
    strokes: Literal[2, 4] = 4
    ignition: Ignition | None = None
    gearbox: Literal["manual", "automatic"] | None = None
    ratios: Annotated[tuple[Positive, ...], Meta(max_length=12)] = ()
    final_drive: Positive | None = None
    tyre: Text = ""
    mass_kg: Positive | None = None
    idle_rps: Positive | None = None
    redline_rps: Positive | None = None
    top_mps: Positive = 55.0
    lamps: Literal["filament", "led"] | None = None
    lamp_w: Positive = 21.0
    lamp_count: Annotated[int, Meta(ge=1, le=12)] = 2
    throttle: Literal["cable", "lever", "wire"] | None = None
    system_v: Literal[12, 24] = 12
    battery_place: Text = ""
    batteries: Annotated[int, Meta(ge=1, le=4)] = 1
    wheel_airbag: bool | None = None

    @property
    def charging_v(self) -> float:
        """Voltage with the alternator charging [V]: 13.8 V on a 12 V system (assumption)."""
        return 13.8 * self.system_v / 12


class WheelRing(Frozen, frozen=True, kw_only=True, tag="wheel-ring"):
    """Toothed ring at a wheel with a two-wire reluctor (variable-reluctance) pick-up."""

    teeth: Annotated[int, Meta(ge=1, le=500)]
    volts_per_hz: Positive
    """Peak volts per hertz, measured into ``into_ohm``."""
    into_ohm: Positive = 10000.0
    winding_ohm: Positive = 1200.0
    shared: bool = True
    """The brake control uses the same pair."""


class PropShaft(Frozen, frozen=True, kw_only=True, tag="propshaft"):
    """Magnets on the propeller shaft and a coil pick-up."""

    magnets: Annotated[int, Meta(ge=1, le=60)]
    volts_per_hz: Positive
    into_ohm: Positive = 10000.0
    winding_ohm: Positive = 1200.0


class CableGenerator(Frozen, frozen=True, kw_only=True, tag="cable"):
    """Pulse generator in line with a speedometer cable."""

    pulses_per_rev: Positive
    drive_teeth: Annotated[int, Meta(ge=1, le=100)]
    driven_teeth: Annotated[int, Meta(ge=1, le=100)]
    volts: Positive = 12.0


class StatedSpeed(Frozen, frozen=True, kw_only=True, tag="stated"):
    """A computer's buffered speed output with a stated pulse rate."""

    pulses_per_m: Positive
    volts: Positive = 12.0
    open_collector: bool = False


class CoilTap(Frozen, frozen=True, kw_only=True, tag="coil"):
    """The switched side of one ignition coil's primary."""

    kick_v: Positive = 300.0


class CommonFeed(Frozen, frozen=True, kw_only=True, tag="common-feed"):
    """Pick-up in series with the common supply of all coils."""

    volts: Positive = 12.0


class BoxOutput(Frozen, frozen=True, kw_only=True, tag="box-output"):
    """Tach output of a device in this job, such as a capacitor-discharge box."""

    device: Name
    pin: Name


class EngineComputer(Frozen, frozen=True, kw_only=True, tag="computer"):
    """The engine computer's tach output, as stated."""

    pulses_per_rev: Positive
    volts: Positive = 12.0
    open_collector: bool = True


class Alternator(Frozen, frozen=True, kw_only=True, tag="alternator"):
    """The phase terminal of the alternator."""

    pole_pairs: Annotated[int, Meta(ge=1, le=20)]
    pulley_ratio: Positive
    volts: Positive = 7.0


class ToothedWheel(Frozen, frozen=True, kw_only=True, tag="toothed-wheel"):
    """Toothed wheel on the crank or cam with a reluctor."""

    teeth: Annotated[int, Meta(ge=1, le=500)]
    missing: Annotated[int, Meta(ge=0, le=20)] = 0
    on_cam: bool = False
    volts_per_hz: Positive = 0.002
    into_ohm: Positive = 10000.0
    winding_ohm: Positive = 800.0


class BrakeSide(Frozen, frozen=True, kw_only=True, tag="brake-side"):
    """One side of the brake-lamp switch."""

    side: Literal["cold", "hot"] = "cold"


SpeedSpec = WheelRing | PropShaft | CableGenerator | StatedSpeed
TachSpec = CoilTap | CommonFeed | BoxOutput | EngineComputer | Alternator | ToothedWheel
SourceSpec = SpeedSpec | TachSpec | BrakeSide


class Source(Frozen, frozen=True, kw_only=True):
    """One place in the vehicle where a signal can be had."""

    id: Name
    name: Name
    quantity: Quantity
    place: Text = ""
    spec: SourceSpec
    minutes: NonNegative = 20.0
    """Minutes to reach and join it."""
    trim: Annotated[float, Meta(gt=0.2, lt=5)] = 1.0
    """Pulses found on the road over pulses computed; 1 until it has been driven."""


class Divider(Frozen, frozen=True, kw_only=True, tag="divider"):
    """Counts ``by`` pulses and passes one on, squared. ``by`` = 1 only squares."""

    by: Annotated[int, Meta(ge=1, le=64)]
    threshold_v: Positive = 0.08
    out_v: Positive = 5.0
    max_hz: Positive = 20000.0
    input_ohm: Positive = 100000.0


class PullUp(Frozen, frozen=True, kw_only=True, tag="pull-up"):
    """Resistor to the supply, for open-collector outputs."""

    ohm: Positive = 4700.0


class Relay(Frozen, frozen=True, kw_only=True, tag="relay"):
    """Changeover relay worked by the lamp line: rest contact grounds the input."""

    coil_ohm: Positive = 90.0
    contact_ohm: Positive = 0.1


class LoadResistor(Frozen, frozen=True, kw_only=True, tag="load"):
    """Resistor from the lamp line to ground."""

    ohm: Positive
    rated_w: Positive = 25.0


Hop = Divider | PullUp | Relay | LoadResistor


class Chain(Frozen, frozen=True, kw_only=True):
    """From a thing in the vehicle to what a device makes of it."""

    id: Name
    title: Name
    quantity: Quantity
    source: Name
    hops: Annotated[tuple[Hop, ...], Meta(max_length=4)] = ()
    device: Name
    pin: Name
    wires: tuple[Name, ...] = ()
    """Conductors of the run; the first carries the signal."""


class Setting(Frozen, frozen=True, kw_only=True):
    """Where a device's setting for one pin stands, in the device's own words."""

    pin: Name
    at: Name


class Device(Frozen, frozen=True, kw_only=True):
    """A device of this job with its sheet as it was when the job was made."""

    id: Name
    name: Name
    sheet: DeviceSheet
    settings: tuple[Setting, ...] = ()

    def setting(self, pin: str) -> str | None:
        """The position noted for ``pin``, or None."""
        return next((s.at for s in self.settings if s.pin == pin), None)


class End(Frozen, frozen=True, kw_only=True):
    """One end of a conductor: a device, source, connector, feed or stud, and its pin."""

    place: Name
    pin: Text = ""


class Neighbour(Frozen, frozen=True, kw_only=True):
    """Something noisy or hot that a conductor passes."""

    what: Literal["coil", "ignition lead", "alternator", "exhaust", "moving part"]
    name: Name
    spacing_m: Positive
    along_m: Positive


class Wire(Frozen, frozen=True, kw_only=True):
    """One conductor."""

    id: Name
    a: End
    b: End
    colour: Name
    carries: Literal["signal", "power", "ground"]
    area_mm2: Positive
    length_m: Positive
    twisted: bool = False
    fuse_a: Positive | None = None
    bundle: Annotated[int, Meta(ge=1, le=60)] = 1
    over_ambient_k: NonNegative = 0.0
    """How much hotter than outside air the place gets [K]."""
    neighbours: tuple[Neighbour, ...] = ()


class Feed(Frozen, frozen=True, kw_only=True):
    """A supply point in the vehicle: fuse slot, battery post."""

    id: Name
    name: Name
    feed: FeedClass
    fuse_a: Positive | None = None
    """Fuse fitted now [A]."""
    marked_a: Positive | None = None
    """Fuse the slot is marked for [A]."""
    wire_mm2: Positive | None = None
    """Cross-section of the vehicle's own wire behind the slot."""
    load_a: NonNegative = 0.0
    """What already hangs on it [A]."""


class Stud(Frozen, frozen=True, kw_only=True):
    """A ground point."""

    id: Name
    name: Name


class Cavity(Frozen, frozen=True, kw_only=True):
    """One occupied or special cavity of a connector."""

    n: Annotated[int, Meta(ge=1, le=400)]
    colour: Text = ""
    circuit: Text = ""
    blank: bool = False


class Connector(Frozen, frozen=True, kw_only=True):
    """A rectangular connector of the vehicle, numbered along rows on the wire side."""

    id: Name
    name: Name
    rows: Annotated[int, Meta(ge=1, le=12)]
    columns: Annotated[int, Meta(ge=1, le=40)]
    key: Text = ""
    """What marks the end with cavity 1, as the installer would say it."""
    cavities: tuple[Cavity, ...] = ()


class Evidence(Frozen, frozen=True, kw_only=True):
    """One line of the ledger: how the value of one fact is known."""

    id: Count
    path: Name
    value: Annotated[str, Meta(max_length=2000)]
    """The value then, as JSON; the line stops counting when the fact changes."""
    rung: Rung
    note: Text = ""
    by: Text = ""
    when: Text = ""


class Seen(Frozen, frozen=True, kw_only=True):
    """One observation entered at a proof step."""

    name: Name
    value: Annotated[float, Meta(ge=-1e9, le=1e9)]


class Proof(Frozen, frozen=True, kw_only=True):
    """The outcome of one proof step."""

    id: Count
    step: Name
    verdict: Literal["pass", "fail", "not reached"]
    seen: tuple[Seen, ...] = ()
    basis: Text = ""
    """Digest of the facts the step rested on; a change makes the proof stale."""
    note: Text = ""
    by: Text = ""
    when: Text = ""


class RoadRun(Frozen, frozen=True, kw_only=True):
    """Satellite speed against the speed the device showed."""

    id: Name
    name: Text
    device: Name
    pin: Name
    set_to: Text = ""
    """Where the device's setting stood during the run."""
    when: Text = ""
    note: Text = ""
    t: tuple[float, ...] = ()
    """Time [s], rising."""
    true: tuple[float, ...] = ()
    """Satellite speed [m/s]."""
    shown: tuple[float, ...] = ()
    """Speed shown by the device [m/s]."""


class House(Frozen, frozen=True, kw_only=True):
    """House rules: where schools differ, the shop chooses once."""

    battery: Literal["negative first", "positive first"] = "negative first"
    drop_power: Positive = 0.03
    drop_signal: Positive = 0.01
    fuse_load: Positive = 0.75
    """Greatest share of a fuse's rating that a steady load may take."""
    coil_clear_m: Positive = 0.15
    conductor_max_k: Positive = 358.15
    """Insulation limit of the wire the shop uses [K] (ISO 6722-1 class A, 85 °C)."""
    setting_ok: Positive = 0.01
    """A setting error up to this fraction is accepted."""
    joint: Text = "crimped splice with sealed shrink; solder only where nothing shakes"


class Job(Frozen, frozen=True, kw_only=True):
    """Everything known about one job."""

    schema: int = SCHEMA
    number: Text = ""
    title: Text = ""
    synthetic: bool = False
    """The job is made-up sample data and says so wherever it is printed."""
    vehicle: Vehicle = Vehicle()
    devices: tuple[Device, ...] = ()
    sources: tuple[Source, ...] = ()
    chains: tuple[Chain, ...] = ()
    wires: tuple[Wire, ...] = ()
    feeds: tuple[Feed, ...] = ()
    studs: tuple[Stud, ...] = ()
    connectors: tuple[Connector, ...] = ()
    ledger: tuple[Evidence, ...] = ()
    proofs: tuple[Proof, ...] = ()
    road: tuple[RoadRun, ...] = ()
    house: House = House()
    notes: Annotated[str, Meta(max_length=20000)] = ""


T = TypeVar("T", Device, Source, Chain, Wire, Feed, Stud, Connector, RoadRun)


def by_id(items: tuple[T, ...], key: str) -> T | None:
    """The item with id ``key``, or None."""
    return index(items).get(key)


@remembered
def index(items: tuple[T, ...]) -> dict[str, T]:
    """The items by id."""
    return {item.id: item for item in items}
