"""The job tree. Frozen records only; every change is a new tree (see ``edits``)."""

from collections.abc import Callable, Mapping
from typing import Annotated, Any, Literal, TypeVar

from msgspec import Meta

from zombrel.job.follow.engine import ROOTS
from zombrel.job.follow.view import OPEN, by_name
from zombrel.job.records.fitting import Have, Hose, Mounting
from zombrel.job.records.lesson import Lesson, Met
from zombrel.job.records.logs import Baseline, Comparison, JobLog
from zombrel.job.records.outing import Outing, Seal, Trial
from zombrel.job.records.photo import Photo
from zombrel.job.records.retrofit import Retrofit
from zombrel.job.records.terminal import Terminal
from zombrel.job.sheet import (
    Count,
    Curve,
    DeviceSheet,
    Figure,
    Frozen,
    Name,
    NonNegative,
    Positive,
    Quantity,
    Text,
)
from zombrel.job.source import Source
from zombrel.job.wiring import Change, Connector, Feed, Lead, Stud, Way, Wire, Work, Zone

SCHEMA = 4
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
    firing_order: Text = ""
    """As ``1-5-3-6-2-4``."""
    banks: Text = ""
    """Cylinders of each bank from the front, as ``1,3,5;2,4,6``; empty: in line, or not said."""
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
    torque: Curve = ()
    """Full-load torque: (engine speed [1/s], N·m), ascending."""
    tank_l: Positive | None = None
    stall_rps: Positive | None = None
    """Engine speed the torque converter holds at full throttle, wheels stopped [1/s]."""
    held_rps: Positive | None = None
    """Engine speed at which it was held standing in a trial [1/s]."""
    pushed_rps: Positive | None = None
    """Engine speed at which it pushed through in a trial [1/s]."""
    brake_hold_nm: Positive | None = None
    """Torque at the wheels the brakes are known to hold at a standstill [N·m]."""
    initial_deg: Annotated[float, Meta(ge=-20, le=40)] | None = None
    """Ignition advance at idle with the vacuum hose off [° before top dead centre]."""
    mechanical: Curve = ()
    """Centrifugal advance: (engine speed [1/s], °), ascending."""
    timing_seen: Curve = ()
    """Total advance measured by lamp: (engine speed [1/s], °), ascending."""
    vacuum_deg: Annotated[float, Meta(ge=0, le=40)] = 0.0
    """Vacuum advance at light load [°]."""
    battery_ah: Positive | None = None
    """Capacity of all batteries together [A·h]."""
    sleep_a: NonNegative = 0.02
    """What the car itself draws asleep [A]: 20 mA unless metered."""
    alternator_idle_a: Positive | None = None
    """Current the alternator gives at idle, hot [A]."""
    own_load_a: NonNegative = 0.0
    """What the car itself draws at idle with lamps, heater and pump on [A]."""

    @property
    def charging_v(self) -> float:
        """Voltage with the alternator charging [V]: 13.8 V on a 12 V system (assumption)."""
        return 13.8 * self.system_v / 12


class Divider(Frozen, frozen=True, kw_only=True, tag="divider"):
    """Counts ``by`` pulses and passes one on, squared. ``by`` = 1 only squares."""

    by: Annotated[int, Meta(ge=1, le=64)]
    threshold_v: Positive = 0.08
    out_v: Positive = 5.0
    max_hz: Positive = 20000.0
    input_ohm: Positive = 100000.0


class Multiplier(Frozen, frozen=True, kw_only=True, tag="multiplier"):
    """Passes ``by`` pulses on for each that comes in, squared, by measuring the last period."""

    by: Annotated[int, Meta(ge=2, le=16)]
    threshold_v: Positive = 0.08
    out_v: Positive = 5.0
    max_hz: Positive = 5000.0
    input_ohm: Positive = 100000.0


class Ratio(Frozen, frozen=True, kw_only=True, tag="ratio"):
    """Ratio box: passes ``by`` pulses on for each that comes in, squared; any number will do."""

    by: Annotated[float, Meta(ge=0.01, le=100)]
    threshold_v: Positive = 0.08
    out_v: Positive = 5.0
    max_hz: Positive = 5000.0
    input_ohm: Positive = 100000.0


class Coupler(Frozen, frozen=True, kw_only=True, tag="coupler"):
    """Capacitor in the line and a resistor to ground: pulses then swing about zero."""

    microfarad: Positive = 1.0
    ohm: Positive = 10000.0


class PullUp(Frozen, frozen=True, kw_only=True, tag="pull-up"):
    """Resistor to the supply, for open-collector outputs and resistive senders."""

    ohm: Positive = 4700.0
    to_v: NonNegative = 0.0
    """Reference it goes to [V]; 0 is the vehicle's own supply."""


class Attenuator(Frozen, frozen=True, kw_only=True, tag="attenuator"):
    """Two resistors that bring a level down: series one, and one to ground."""

    series_ohm: Positive
    ground_ohm: Positive


class Relay(Frozen, frozen=True, kw_only=True, tag="relay"):
    """Changeover relay worked by the line: one of its contacts leads where the input looks."""

    coil_ohm: Positive = 90.0
    contact_ohm: Positive = 0.1
    coil_v: Positive = 12.0
    """Supply its coil is made for [V]."""
    contact_a: Positive = 10.0
    """What its contacts may switch [A]."""
    throw: Literal["rest", "work"] = "rest"
    """The contact that is used: the one that is closed while the coil rests, or the other."""
    suppression: Literal["none", "resistor", "diode"] = "diode"
    """What tames the coil when it lets go."""


class LoadResistor(Frozen, frozen=True, kw_only=True, tag="load"):
    """Resistor from the lamp line to ground."""

    ohm: Positive
    rated_w: Positive = 25.0


Counter = Divider | Multiplier | Ratio
"""What counts pulses and gives others."""
Hop = Counter | Coupler | PullUp | Attenuator | Relay | LoadResistor


class Chain(Frozen, frozen=True, kw_only=True):
    """From a thing in the vehicle to what a device makes of it."""

    id: Name
    title: Name
    quantity: Quantity
    source: Name
    hops: Annotated[tuple[Hop, ...], Meta(max_length=4)] = ()
    device: Name
    pin: Name
    wires: Annotated[tuple[Name, ...], Meta(max_length=64)] = ()
    """Conductors of the run; the first carries the signal."""
    polarity: Literal["", "kept", "reversed"] = ""
    """Whether a two-wire pick-up's polarity was measured, and what was found."""
    over: Text = ""
    """The candidate the finder would have taken when the user chose this source instead."""


class Setting(Frozen, frozen=True, kw_only=True):
    """Where a device's setting for one pin stands, in the device's own words."""

    pin: Name
    at: Name
    table: Curve = ()
    """Points loaded into the device's own table: (value, electrical), SI."""


class Device(Frozen, frozen=True, kw_only=True):
    """A device of this job with its sheet as it was when the job was made."""

    id: Name
    name: Name
    sheet: DeviceSheet
    settings: Annotated[tuple[Setting, ...], Meta(max_length=300)] = ()
    zone: Text = ""
    """Where it is mounted, by the plan."""
    converter_v: Positive | None = None
    """What a converter ahead of it makes of the supply [V]; None without one."""
    hardware: Text = ""
    """What was changed that its calibration must fit: a sender, an injector, its own version."""
    calibrated_for: Text = ""
    """What the calibration that is loaded now was made for."""
    mount: Mounting = Mounting()

    def setting(self, pin: str) -> str | None:
        """The position noted for ``pin``, or None."""
        found = by_name(self.settings).get(pin)
        return None if found is None else str(found.at)

    def table(self, pin: str) -> Curve:
        """The points loaded for ``pin``; empty when none are."""
        found: Setting | None = by_name(self.settings).get(pin)
        return () if found is None else found.table


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


class Rest(Frozen, frozen=True, kw_only=True):
    """One thing a proof rests on, and how it stood then."""

    of: Text = ""
    """What was looked into: empty for the job as it lies, else what was worked out of it."""
    path: Annotated[str, Meta(max_length=400)]
    """Where in it, as a JSON list of steps."""
    value: Annotated[str, Meta(max_length=2000)]
    """Its value, as the ledger writes values."""


class Proof(Frozen, frozen=True, kw_only=True):
    """The outcome of one proof step."""

    id: Count
    step: Name
    verdict: Literal["pass", "fail", "not reached"]
    seen: Annotated[tuple[Seen, ...], Meta(max_length=400)] = ()
    basis: Annotated[tuple[Rest, ...], Meta(max_length=4000)] = ()
    """All that its step read; a change of any makes the proof stale."""
    note: Text = ""
    by: Text = ""
    when: Text = ""


class Answered(Frozen, frozen=True, kw_only=True):
    """How one test of a search came out."""

    id: Name
    """The test."""
    answer: Annotated[int, Meta(ge=-1, le=20)]
    """Which of its answers; -1: it could not be had."""


class Search(Frozen, frozen=True, kw_only=True):
    """What was seen and tried of one signal that reads wrong, or of an outage."""

    id: Name
    """The chain; for an outage a name that no chain can have."""
    device: Text = ""
    pin: Text = ""
    source: Text = ""
    """What that chain joined: the search is of this and of nothing else by its name."""
    pairs: Annotated[tuple[tuple[Figure, Figure], ...], Meta(max_length=200)] = ()
    """(true, shown) in the unit of the display."""
    said: Annotated[tuple[Name, ...], Meta(max_length=40)] = ()
    """Complaints."""
    dead: Annotated[tuple[Name, ...], Meta(max_length=500)] = ()
    alive: Annotated[tuple[Name, ...], Meta(max_length=500)] = ()
    """Devices of an outage."""
    answers: Annotated[tuple[Answered, ...], Meta(max_length=200)] = ()


Column = Annotated[tuple[Figure, ...], Meta(max_length=2_000_000)]
"""One column of a log."""


class RoadRun(Frozen, frozen=True, kw_only=True):
    """Satellite speed against the speed the device showed."""

    id: Name
    name: Text
    device: Name
    pin: Name
    set_to: Text = ""
    """Where the device's setting stood during the run."""
    behind: Annotated[int, Meta(ge=1, le=64)] = 1
    """The divider it stood behind, 1 for none."""
    when: Text = ""
    note: Text = ""
    t: Column = ()
    """Time [s], rising."""
    true: Column = ()
    """Satellite speed [m/s]."""
    shown: Column = ()
    """Speed shown by the device [m/s]."""


class HouseFigure(Frozen, frozen=True, kw_only=True):
    """A figure that the shop decides for itself; the names are those of ``job.figures``."""

    id: Name
    value: NonNegative
    note: Text = ""


class House(Frozen, frozen=True, kw_only=True):
    """House rules: where schools differ, the shop chooses once."""

    name: Text = ""
    """What the shop is called, on its papers."""
    battery: Literal["negative first", "positive first"] = "negative first"
    drop_power: Positive = 0.03
    drop_signal: Positive = 0.01
    fuse_load: Positive = 0.75
    """Greatest share of a fuse's rating that a steady load may take."""
    fuse_within_m: Positive = 0.2
    """A fuse sits no further than this from the post or stud that feeds it [m]."""
    coil_clear_m: Positive = 0.15
    conductor_max_k: Positive = 358.15
    """Insulation limit of the wire the shop uses [K] (ISO 6722-1 class A, 85 °C)."""
    setting_ok: Positive = 0.01
    """A setting error up to this fraction is accepted."""
    per_cent_min: Positive = 20.0
    """What one per cent of error is worth when sources are weighed [minutes of work]."""
    risk_weight: NonNegative = 1.0
    """How much risk to the vehicle's own functions weighs; 1 as the trade does."""
    speed_prefers: Text = ""
    """Kind of speed source the shop takes when the rest is alike, by its name in a job file."""
    colours: Literal["device", "house"] = "device"
    """Whose colours a wire has where a device's own leads and the shop's habit differ."""
    joint_by: Literal["crimp", "solder", "tap"] = "crimp"
    """How wires are joined where the place leaves the choice."""
    power: Literal["slot", "box", "battery"] = "slot"
    """Where devices are fed from: a fuse-box slot, a box of one's own, the battery post."""
    direct_above_a: Positive = 10.0
    """A steady load above this goes to the battery or a box of its own [A]."""
    tail_m: NonNegative = 0.15
    """Added at each end of a run for dressing and one mistake [m]."""
    slack_m: NonNegative = 0.10
    """Service slack left at a device [m]."""
    clip_m: Positive = 0.25
    """Spacing of clips along a bundle [m]."""
    stud_rings: Annotated[int, Meta(ge=1, le=12)] = 4
    """Ring terminals stacked on one stud at most."""
    park_days: Positive = 21.0
    """Days a parked car must still start after."""
    start_reserve: Positive = 0.5
    """Share of the battery kept for starting."""
    day_start: Annotated[str, Meta(pattern="^[0-2][0-9]:[0-5][0-9]$")] = "08:30"
    day_end: Annotated[str, Meta(pattern="^[0-2][0-9]:[0-5][0-9]$")] = "17:00"
    figures: Annotated[tuple[HouseFigure, ...], Meta(max_length=200)] = ()
    """Figures of the trade that this shop puts otherwise."""


class Wish(Frozen, frozen=True, kw_only=True):
    """What the owner or the shop wants of a device control: a value, SI."""

    id: Name
    """device.control with a slash for the stop, as ``spark/LAUNCH``."""
    value: Figure
    note: Text = ""


class Job(Frozen, frozen=True, kw_only=True):
    """Everything known about one job."""

    schema: int = SCHEMA
    number: Text = ""
    title: Text = ""
    begun: Text = ""
    """Day the job was begun, as 2026-11-26."""
    due: Text = ""
    """Day it is promised for."""
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
    zones: tuple[Zone, ...] = ()
    ways: tuple[Way, ...] = ()
    changes: tuple[Change, ...] = ()
    leads: tuple[Lead, ...] = ()
    hoses: tuple[Hose, ...] = ()
    kit: tuple[Have, ...] = ()
    terminals: tuple[Terminal, ...] = ()
    """Families of one's own, beside those that are shipped."""
    retrofits: tuple[Retrofit, ...] = ()
    work: tuple[Work, ...] = ()
    ledger: tuple[Evidence, ...] = ()
    proofs: tuple[Proof, ...] = ()
    searches: tuple[Search, ...] = ()
    road: tuple[RoadRun, ...] = ()
    baseline: Baseline = Baseline()
    logs: tuple[JobLog, ...] = ()
    compared: tuple[Comparison, ...] = ()
    photos: tuple[Photo, ...] = ()
    lessons: tuple[Lesson, ...] = ()
    met: tuple[Met, ...] = ()
    """What came up and was mended."""
    outing: Outing = Outing()
    trials: tuple[Trial, ...] = ()
    shared: Annotated[str, Meta(pattern=r"^(\d{1,9}\.\d{1,9})?$")] = ""
    """Which shared job it is, and from which version of that it went on: ``3.7``."""
    seals: Annotated[tuple[Seal, ...], Meta(max_length=200)] = ()
    wishes: tuple[Wish, ...] = ()
    house: House = House()
    notes: Annotated[str, Meta(max_length=20000)] = ""


ROOTS[Job] = True
OPEN.update((Job, Vehicle, House, Device))

T = TypeVar("T")


def by_id(items: tuple[T, ...], key: str) -> T | None:
    """The item with id ``key``, or None."""
    return index(items).get(key)


index: Callable[[tuple[T, ...]], Mapping[Any, T]] = by_name
"""The items by id."""
