"""Places in a vehicle where a signal can be had, each a model with its electrical facts."""

from typing import Annotated, Literal

from msgspec import Meta

from zombrel.job.records.fitting import Thread
from zombrel.job.sheet import (
    Curve,
    Figure,
    Frozen,
    Name,
    NonNegative,
    Positive,
    Quantity,
    Share,
    Text,
)


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
    sinks_a: Positive = 0.05
    """Most its open collector may pull down [A]."""


class CoilTap(Frozen, frozen=True, kw_only=True, tag="coil"):
    """The switched side of one ignition coil's primary."""

    kick_v: Positive = 300.0


class CommonFeed(Frozen, frozen=True, kw_only=True, tag="common-feed"):
    """Pick-up in series with the common supply of all coils."""

    volts: Positive = 12.0


class BoxOutput(Frozen, frozen=True, kw_only=True, tag="box-output"):
    """An output of a device in this job: tach of an ignition box, volts of a blend reader."""

    device: Name
    pin: Name


class EngineComputer(Frozen, frozen=True, kw_only=True, tag="computer"):
    """The engine computer's tach output, as stated."""

    pulses_per_rev: Positive
    volts: Positive = 12.0
    open_collector: bool = True
    sinks_a: Positive = 0.05
    """Most its open collector may pull down [A]."""


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


class GearboxSensor(Frozen, frozen=True, kw_only=True, tag="gearbox-sensor"):
    """Reluctor on the gearbox output shaft."""

    teeth: Annotated[int, Meta(ge=1, le=200)]
    volts_per_hz: Positive = 0.004
    into_ohm: Positive = 10000.0
    winding_ohm: Positive = 1200.0
    electronic: bool = True
    """An electronic gearbox shifts by this pair: it may not be spliced."""


class Satellite(Frozen, frozen=True, kw_only=True, tag="satellite"):
    """Satellite receiver with a pulse output: needs sky, lags, says nothing at a standstill."""

    pulses_per_m: Positive = 4.0
    volts: Positive = 5.0
    lag_s: NonNegative = 1.2
    """From a change of speed to its pulses [s]."""
    lowest_mps: NonNegative = 1.4
    """Below this the receiver holds its output still [m/s]."""
    accuracy: Share = 0.005


class BusReader(Frozen, frozen=True, kw_only=True, tag="bus-reader"):
    """A value on the data bus, through a reader that turns it into pulses or volts."""

    signal: Name
    message: Annotated[int, Meta(ge=0, le=0x1FFFFFFF)]
    """Identifier of the message the value is in."""
    period_s: Positive = 0.1
    """From one message to the next [s]."""
    pulses: NonNegative = 0.0
    """Pulses the reader gives per metre or revolution; 0 for a value given as volts."""
    points: Curve = ()
    """(value, volts) of the reader's output."""
    volts: Positive = 5.0


Seal = Literal["washer", "sealant", "tape"]
"""How a sender's thread is sealed; tape can cut a one-wire sender off its ground."""


class Thermistor(Frozen, frozen=True, kw_only=True, tag="thermistor"):
    """Temperature sender: (K, Ω) pairs as measured, three or more."""

    points: Annotated[Curve, Meta(min_length=3)]
    one_wire: bool = False
    """Its ground is its thread."""
    seal: Seal = "washer"
    shared_ohm: NonNegative = 0.0
    """The vehicle's own pull-up on it [Ω]; 0 for a sender of one's own."""
    shared_v: Positive = 5.0
    """What that pull-up goes to [V]."""


class Resistive(Frozen, frozen=True, kw_only=True, tag="resistive"):
    """Level or pressure sender: (value, Ω) pairs, either way round."""

    points: Annotated[Curve, Meta(min_length=2)]
    one_wire: bool = False
    seal: Seal = "washer"
    shared_ohm: NonNegative = 0.0
    shared_v: Positive = 5.0


class Ratiometric(Frozen, frozen=True, kw_only=True, tag="ratiometric"):
    """Pressure sender whose output is a share of its supply."""

    low: Figure
    """Value at ``low_part`` [SI]."""
    high: Figure
    low_part: Share = 0.1
    high_part: Share = 0.9
    supply_v: Positive = 5.0
    absolute: bool = False
    """It measures against vacuum, so the barometer is in it."""
    out_ohm: NonNegative = 100.0


class Volts(Frozen, frozen=True, kw_only=True, tag="volts"):
    """A sender or controller with an analogue output: (value, V) pairs."""

    points: Annotated[Curve, Meta(min_length=2)]
    out_ohm: NonNegative = 100.0


class ThermocoupleK(Frozen, frozen=True, kw_only=True, tag="thermocouple"):
    """Type K thermocouple (ITS-90)."""

    extension: Literal["type K", "copper"] = "type K"
    """Lead from the probe to the input; copper moves the cold end to the joint."""


class BlendSender(Frozen, frozen=True, kw_only=True, tag="blend-sender"):
    """Fuel-blend sender, 50 to 150 Hz for 0 to 100 % ethanol; the pulse tells temperature."""

    volts: Positive = 5.0
    open_collector: bool = True
    sinks_a: Positive = 0.05
    """Most its open collector may pull down [A]."""


class Duty(Frozen, frozen=True, kw_only=True, tag="duty"):
    """A signal whose on-time carries the value: (value, share of the period) pairs."""

    points: Annotated[Curve, Meta(min_length=2)]
    hz: Positive = 100.0
    volts: Positive = 12.0
    inverted: bool = False
    """It carries the value in its low time."""


class Switch(Frozen, frozen=True, kw_only=True, tag="switch"):
    """An on/off contact."""

    rests: Literal["open", "closed"] = "open"
    to: Literal["ground", "supply"] = "ground"
    contact_ohm: NonNegative = 0.2


SensorSpec = (
    Thermistor | Resistive | Ratiometric | Volts | ThermocoupleK | BlendSender | Duty | Switch
)
SpeedSpec = (
    WheelRing | PropShaft | CableGenerator | StatedSpeed | GearboxSensor | Satellite | BusReader
)
TachSpec = CoilTap | CommonFeed | BoxOutput | EngineComputer | Alternator | ToothedWheel
SourceSpec = SpeedSpec | TachSpec | BrakeSide | SensorSpec


SpecKind = Literal["whole", "number", "rate", "pairs"]
Tolerates = Literal["own", "tap", "intercept", "never"]
"""What may be done to a source's wires.

``own``: it is fitted for this, nothing of the vehicle hangs on it. ``tap``: a wire may join it,
which must not load it. ``intercept``: it is cut and joined through. ``never``: hands off.
"""


SPEC_WORDS: dict[str, tuple[str, SpecKind, str]] = {
    "teeth": ("teeth", "whole", ""),
    "missing": ("missing teeth", "whole", ""),
    "magnets": ("magnets", "whole", ""),
    "drive_teeth": ("drive gear teeth", "whole", ""),
    "driven_teeth": ("driven gear teeth", "whole", ""),
    "pulses_per_rev": ("pulses per revolution", "number", ""),
    "pulses_per_m": ("pulses per km", "rate", "per km"),
    "pole_pairs": ("pole pairs", "whole", ""),
    "pulley_ratio": ("pulley ratio", "number", ": 1"),
    "points": ("measured pairs", "pairs", ""),
    "volts_per_hz": ("peak volts per hertz", "number", "V/Hz"),
}
"""For the figures of a spec that a person states: words, how it is asked, unit."""


class Source(Frozen, frozen=True, kw_only=True):
    """One place in the vehicle where a signal can be had."""

    id: Name
    name: Name
    quantity: Quantity
    place: Text = ""
    zone: Text = ""
    """Where that is on the plan."""
    spec: SourceSpec
    minutes: NonNegative = 20.0
    """Minutes to reach and join it."""
    access: Text = ""
    """What must come off or be lifted to reach it."""
    parts: Text = ""
    """What must be bought for it: sender, tee, adapter, receiver."""
    thread: Thread = ""
    port: Thread = ""
    """Thread of a sender, and of the hole it goes into; empty: not looked at."""
    adapter: bool = False
    """An adapter between the two is taken."""
    spoils: Text = ""
    """What of the vehicle's own works or reads by it too."""
    trim: Annotated[float, Meta(gt=0.2, lt=5)] = 1.0
    """Pulses found on the road over pulses computed; 1 until it has been driven."""
