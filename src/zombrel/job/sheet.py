"""Device sheets: what a device wants on each pin, as data a user can write by hand.

The JSON Schema shipped beside the sheets (``catalog/data/sheet.schema.json``) is
generated from these classes.
"""

from typing import Annotated, Literal

import msgspec
from msgspec import Meta

from zombrel.job.figures import figure

Text = Annotated[str, Meta(max_length=600)]
Name = Annotated[str, Meta(min_length=1, max_length=80)]
Positive = Annotated[float, Meta(gt=0, lt=1e9)]
NonNegative = Annotated[float, Meta(ge=0, lt=1e9)]
Figure = Annotated[float, Meta(ge=-1e9, le=1e9)]
"""A number in SI that may have either sign; nothing in a vehicle is larger."""
Count = Annotated[int, Meta(ge=1, le=100000)]

Share = Annotated[float, Meta(ge=0, le=1)]
Curve = Annotated[tuple[tuple[Figure, Figure], ...], Meta(max_length=64)]
"""Pairs, ascending in the first."""

Quantity = Literal[
    "speed",
    "tach",
    "brake",
    "coolant",
    "charge",
    "exhaust",
    "oil",
    "boost",
    "fuel",
    "blend",
    "mixture",
    "clutch",
    "park",
    "park brake",
    "lights",
    "arm",
    "turn left",
    "turn right",
    "main beam",
    "warning",
    "contact",
    "volts",
    "pump",
    "gear",
    "analogue",
]
"""What a signal is about; see ``job.quantity`` for each one's kind and range."""
Waveform = Literal["sine", "square", "kick", "level"]
Takes = Literal["pulses", "contact", "ohm", "volts", "hz", "duty", "thermocouple"]
"""Which electrical property an input reads."""
FeedClass = Literal[
    "constant", "accessory", "run", "run-and-crank", "start", "illumination", "retained", "dead"
]
SettingUnit = Literal[
    "pulses/km",
    "pulses/mile",
    "pulses/rev",
    "cylinders",
    "rpm",
    "step",
    "°C",
    "bar",
    "s",
    "%",
    "l",
    "ratio",
    "signal",
    "gearbox",
    "contact",
]
"""Unit of a setting's values, as printed on the device."""


class Frozen(msgspec.Struct, frozen=True, kw_only=True, forbid_unknown_fields=True, gc=False):
    """Base of every record in the tree: immutable, nothing unknown.

    Subclasses repeat ``frozen`` for the type checker and ``kw_only``, which is not inherited.
    A frozen tree has no cycles, so the collector need not walk it (``gc=False``).
    The modules of records leave annotations as they are (no ``annotations`` from ``__future__``):
    as text, each would be compiled again when the first job is read.
    """


class Dial(Frozen, frozen=True, kw_only=True):
    """One rotary dial of a setting that multiplies a base by powers of two."""

    name: Name
    positions: Annotated[tuple[Name, ...], Meta(min_length=2, max_length=40)]
    octaves: Positive
    """Octaves per step: 1 doubles, 0.1 multiplies by 2^0.1."""


class Dials(Frozen, frozen=True, kw_only=True, tag="dials"):
    """A bank of dials: value = base · 2^Σ(step · octaves)."""

    base: Positive
    dials: Annotated[tuple[Dial, ...], Meta(min_length=1, max_length=3)]
    unit: SettingUnit


class Menu(Frozen, frozen=True, kw_only=True, tag="menu"):
    """A number reached through a menu path."""

    path: Annotated[tuple[Name, ...], Meta(max_length=8)]
    low: Positive
    high: Positive
    step: Positive
    unit: SettingUnit


class Buttons(Frozen, frozen=True, kw_only=True, tag="buttons"):
    """A number stepped with an up and a down button."""

    low: Positive
    high: Positive
    step: Positive
    unit: SettingUnit


class Presses(Frozen, frozen=True, kw_only=True, tag="presses"):
    """A number entered by a sequence: hold to enter, press to count up, hold to store."""

    enter: Text
    """How the mode is entered, as the device's manual puts it."""
    press: Name = "button"
    low: Positive
    high: Positive
    step: Positive
    unit: SettingUnit
    store: Text = ""


class Switches(Frozen, frozen=True, kw_only=True, tag="switches"):
    """A bank of on/off switches: value = base + Σ weight of those that are on."""

    weights: Annotated[tuple[Positive, ...], Meta(min_length=1, max_length=10)]
    """Left to right as the installer sees the bank."""
    base: NonNegative = 0.0
    unit: SettingUnit


class Rotary(Frozen, frozen=True, kw_only=True, tag="rotary"):
    """One knob with named positions, each with its value."""

    positions: Annotated[tuple[tuple[Name, Figure], ...], Meta(min_length=2, max_length=60)]
    unit: SettingUnit


class Lookup(Frozen, frozen=True, kw_only=True, tag="lookup"):
    """Switches whose combinations stand in a table; they may share a bank with other settings."""

    rows: Annotated[tuple[tuple[Name, Figure], ...], Meta(min_length=2, max_length=256)]
    """(combination as ``0110``, 1 for on, left to right; value)."""
    bits: Annotated[tuple[Count, ...], Meta(max_length=16)] = ()
    """Which switches of the bank they are, from 1; empty: the first of it."""
    bank: Text = ""
    """Its name, where several settings share one."""
    unit: SettingUnit


class Plug(Frozen, frozen=True, kw_only=True, tag="plug"):
    """A resistor at a plug codes the value; known pairs of (Ω, value) tell how."""

    known: Annotated[Curve, Meta(min_length=2)]
    vref: Positive = 5.0
    tolerance: Share = 0.05
    unit: SettingUnit


class Preset(Frozen, frozen=True, kw_only=True):
    """One of a device's own curves: (value, electrical) in SI, straight between."""

    name: Name
    points: Annotated[Curve, Meta(min_length=2)]


class Curves(Frozen, frozen=True, kw_only=True, tag="curves"):
    """A choice of built-in curves, and a free table if the device takes points."""

    path: Annotated[tuple[Name, ...], Meta(max_length=8)] = ()
    presets: Annotated[tuple[Preset, ...], Meta(max_length=12)] = ()
    free_points: Annotated[int, Meta(ge=0, le=64)] = 0


TABLE = "table"
"""Position of a ``Curves`` setting that uses the loaded points."""

NumberSheet = Dials | Menu | Buttons | Presses | Switches | Lookup | Rotary | Plug
SettingSheet = NumberSheet | Curves


class InputSheet(Frozen, frozen=True, kw_only=True):
    """One signal input of a device."""

    pin: Name
    quantity: Quantity
    waveforms: Annotated[tuple[Waveform, ...], Meta(max_length=8)] = ("square",)
    threshold_v: NonNegative = 0.0
    """Peak level at which the input counts a pulse [V]."""
    max_hz: Positive = 100000.0
    """Highest pulse rate the input follows [Hz]."""
    min_hz: NonNegative = 0.0
    """Lowest pulse rate it still takes for a speed [Hz]; 0 where the sheet does not say."""
    input_ohm: Positive = 47000.0
    """Resistance the input puts across the source [Ω]."""
    max_v: Positive = 60.0
    """Highest peak voltage the input stands [V]."""
    pull_up_ohm: NonNegative = 0.0
    """Pull-up inside the device [Ω], 0 for none."""
    pull_up_v: NonNegative = 0.0
    """What the pull-up goes to [V]; 0 is the device's supply."""
    takes: Takes = "pulses"
    adc_bits: Annotated[int, Meta(ge=0, le=24)] = 0
    """Bits of the converter; 0 when not known."""
    full_v: Positive = 5.0
    """Volts at which the converter is full."""
    curve: Curve = ()
    """What the device makes of its reading: (value, electrical) in SI, when it is fixed."""
    barometer: Literal["", "fixed", "own"] = ""
    """Pressure against air: the device takes the standard atmosphere, or measures."""
    active: Literal["open", "closed"] = "closed"
    """Contact input: the state of the contact that means on."""
    closes_to: Literal["ground", "supply"] = "ground"
    """Contact input: where a closed contact must lead."""
    permits: Literal["", "on", "off"] = ""
    """Input that holds back: how it stands while the device may act; empty: off for a brake and
    a clutch, on for the others."""
    polarised: bool = False
    """A two-wire pick-up must come the right way round."""
    steady: bool = False
    """A control loop hangs on it: lag and drop-outs are dangerous, not just a nuisance."""
    need_ohm: NonNegative = 0.0
    """Cancel input: the path to ground it must find at rest [Ω]; 0 for any other input."""
    works_above_mps: NonNegative = 0.0
    """The function works only above this road speed [m/s]."""
    pulses_per_flash: Annotated[int, Meta(ge=0, le=10000)] = 0
    """Self-test lamp: pulses counted for one flash, 0 if it has no such lamp."""
    setting: SettingSheet | None = None
    scale: NonNegative = 0.0
    """Pulses per metre or revolution it is built for, where nothing can be set; 0: as they come."""
    required: bool = True
    shows: bool = True
    """The device shows the value as a number that can be read off."""

    @property
    def lets_act(self) -> bool:
        """Whether the device may act while this input is on; else while it is off."""
        return self.permits == "on" if self.permits else self.quantity not in ("brake", "clutch")

    @property
    def pulls_ohm(self) -> float:
        """Its pull-up [Ω]: the sheet's, or the usual one where it says none."""
        return self.pull_up_ohm or figure("pull-up in a device")

    @property
    def numbers(self) -> NumberSheet | None:
        """The setting when it is a number; None for a curve or nothing."""
        return None if isinstance(self.setting, Curves) else self.setting

    @property
    def curves(self) -> Curves | None:
        """The setting when it is a choice of curves."""
        return self.setting if isinstance(self.setting, Curves) else None


class OutputSheet(Frozen, frozen=True, kw_only=True):
    """One signal output of a device that other devices may use."""

    pin: Name
    quantity: Quantity
    pulses_per_rev: NonNegative = 0.0
    """Pulses per revolution, or per metre for a speed output."""
    volts: Positive = 5.0
    waveform: Waveform = "square"
    points: Curve = ()
    """Analogue output: (value, V)."""
    of: Text = ""
    """The input that it is made from; empty: it stands by itself."""
    ratio: Text = ""
    """The control that it multiplies that input's pulses by."""


class SupplySheet(Frozen, frozen=True, kw_only=True):
    """One power or ground pin."""

    pin: Name
    kind: Literal["power", "ground"]
    amps: NonNegative
    """Greatest steady current [A]."""
    standby_a: NonNegative = 0.0
    feeds: Annotated[tuple[FeedClass, ...], Meta(max_length=16)] = ()
    """Feed classes that serve this pin; empty for a ground."""
    fuse_a: NonNegative = 0.0
    """Fuse the maker asks for [A], 0 if none is stated."""
    duty: Annotated[float, Meta(gt=0, le=1)] = 1.0
    """Share of the time it draws ``amps``: a pulsed load warms wire and fuse by its root mean
    square, amps · √duty."""
    inrush_a: NonNegative = 0.0
    """Starting current [A], 0 when it draws none worth naming."""
    inrush_s: NonNegative = 0.0
    """How long it lasts [s]."""


Means = Literal[
    "launch",
    "limit",
    "shift",
    "idle",
    "warn high",
    "warn low",
    "hysteresis",
    "delay",
    "gain",
    "engage",
    "gap",
    "least duty",
    "reserve",
    "sense",
    "ratio",
    "signal",
    "gearbox",
    "contact",
]


class Control(Frozen, frozen=True, kw_only=True):
    """A setting that belongs to no input's scale: a limit, a threshold, a response."""

    pin: Name
    label: Name
    means: Means
    of: Text = ""
    """The input it is about: whose reading it watches, whose signal it must fit."""
    stands_for: Annotated[tuple[tuple[Name, Name], ...], Meta(max_length=20)] = ()
    """For a choice that is no number: (position, what it stands for), as ``("B", "square")``;
    a shape of pulse, a gearbox, how a contact rests."""
    setting: NumberSheet


HOLDS: tuple[Quantity, ...] = ("brake", "clutch", "park", "park brake", "arm")
ACTS = ("throttle", "idle")
"""What can run away: a device that moves these is held back by its brake and clutch inputs."""
Moves = Literal["", "throttle", "idle", "spark", "fuel", "fan or pump"]
"""What a device acts on; empty: nothing."""


class Need(Frozen, frozen=True, kw_only=True):
    """A fact of the vehicle that a device rests on, and how it must stand."""

    fact: Name
    """Field of the vehicle, as ``throttle``."""
    one_of: Annotated[tuple[Name, ...], Meta(max_length=12)] = ()
    """For a fact that is a choice: those that will do."""
    low: Figure | None = None
    """For a number: the least and the most that will do, SI."""
    high: Figure | None = None
    why: Text = ""
    """What happens otherwise, as the device's manual puts it."""


OwnerPart = Literal["daily", "mind", "odd"]
"""Where a line stands on the owner's page: every day, what to mind, if something is odd."""


class OwnerLine(Frozen, frozen=True, kw_only=True):
    """A line of a shop's own words on the owner's page."""

    part: OwnerPart
    head: Text = ""
    """The few words in bold; empty for what is to be minded."""
    text: Text
    """``{PIN}`` is what stands there for where a control of the device stands."""


class DeviceSheet(Frozen, frozen=True, kw_only=True):
    """A kind of device: pins, thresholds, settings, cautions."""

    id: Name
    maker: Name
    model: Name
    name: Name
    inputs: Annotated[tuple[InputSheet, ...], Meta(max_length=64)] = ()
    outputs: Annotated[tuple[OutputSheet, ...], Meta(max_length=64)] = ()
    supplies: Annotated[tuple[SupplySheet, ...], Meta(max_length=64)] = ()
    controls: Annotated[tuple[Control, ...], Meta(max_length=200)] = ()
    sensor_pin: Text = ""
    """Pin that supplies senders; empty where it has none."""
    sensor_v: NonNegative = 0.0
    """Volts of that pin [V]."""
    sensor_ground: Text = ""
    """Pin that senders return to; empty: its ground pin."""
    orientation: Text = ""
    """How the settings are seen where the device sits."""
    min_v: NonNegative = 0.0
    """Supply below which the device resets [V]."""
    max_v: Positive = 16.0
    """Highest supply it stands [V]: 16 for whatever is made for 12 V."""
    moves: Moves = ""
    needs: Annotated[tuple[Need, ...], Meta(max_length=20)] = ()
    """What of the vehicle it rests on, and for which model years."""
    full_at_rps: NonNegative = 0.0
    """Engine speed at which its greatest current is stated [1/s]; 0 when it is steady."""
    rest_a: NonNegative = 0.0
    """Current with the engine standing [A]."""
    capacitor_discharge: bool = False
    """The device drives the coils from a capacitor at hundreds of volts."""
    sparks: Count = 1
    """Sparks per firing below ``multi_below_rps``."""
    multi_below_rps: NonNegative = 0.0
    cautions: Annotated[tuple[Text, ...], Meta(max_length=40)] = ()
    note: Text = ""
    sealing: Literal["", "dry", "splash", "immersed"] = ""
    """What water its case stands; empty: its sheet does not say."""
    hottest_k: NonNegative = 0.0
    """Hottest air it may lie in [K]; 0 where its sheet does not say."""
    long_m: NonNegative = 0.0
    wide_m: NonNegative = 0.0
    high_m: NonNegative = 0.0
    """Its size with the plug in [m]; 0 where its sheet does not say."""
    mass_kg: NonNegative = 0.0
    heat_w: NonNegative = 0.0
    """What it gives off itself [W]; 0 where its sheet does not say."""
    clear_m: NonNegative = 0.0
    """How far it keeps from coils and ignition leads [m]; 0: it does not mind them."""
    touched: Literal["", "seldom", "often"] = ""
    """How often its settings are reached for once it is fitted."""
    watched: bool = False
    """The driver must see it."""
    hole_m: NonNegative = 0.0
    """The hole it is set into [m]; 0: it is not set into one."""
    behind_m: NonNegative = 0.0
    """What it needs behind that hole, with its plug [m]."""
    leads: Annotated[tuple[tuple[Name, Name], ...], Meta(max_length=64)] = ()
    """Colours of its own leads: (pin, colour)."""
    owner: Annotated[tuple[OwnerLine, ...], Meta(max_length=40)] = ()
    """Lines in the shop's own words on the owner's page, in place of what is made there."""

    def gates(self, given: InputSheet) -> bool:
        """Whether an input holds back what the device moves: brake, clutch, park, arming."""
        return bool(given.need_ohm) or (self.moves in ACTS and given.quantity in HOLDS)

    def input(self, pin: str) -> InputSheet | None:
        """The input on ``pin``, or None."""
        for given in self.inputs:  # asked for thousands of times a look
            if given.pin == pin:
                return given
        return None

    def control(self, pin: str) -> Control | None:
        """The control called ``pin``, or None."""
        return next((c for c in self.controls if c.pin == pin), None)

    def supply(self, pin: str) -> SupplySheet | None:
        """The supply on ``pin``, or None."""
        for given in self.supplies:
            if given.pin == pin:
                return given
        return None

    def output(self, pin: str) -> OutputSheet | None:
        """The output on ``pin``, or None."""
        for given in self.outputs:
            if given.pin == pin:
                return given
        return None
