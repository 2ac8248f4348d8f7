"""What each field of a device sheet, a source and the house rules is called and means.

A field that is missing here has no place in a form; a test holds the table against the records.
"""

from __future__ import annotations

from typing import NamedTuple

from zombrel.job.facts import VEHICLE
from zombrel.job.quantity import QUANTITIES


class Say(NamedTuple):
    """One field in plain words."""

    label: str
    what: str = ""
    """Kind of typed figure, a key of ``WANTED``; empty: a plain number."""
    unsaid: str = ""
    """What its default means, where the default is no figure: "not said", "none"."""
    decides: bool = False
    """A verdict hangs on it: while it is not said, something goes unjudged."""
    hint: str = ""


_PULL_UP = "what the input is pulled to inside the device"
_PAIRS = "one pair a line, as 25:10000"

FIELDS: dict[str, dict[str, Say]] = {
    "DeviceSheet": {
        "name": Say("Name"),
        "maker": Say("Maker"),
        "model": Say("Model"),
        "id": Say("Kept under", hint="its file's name; another name makes another sheet"),
        "moves": Say("It moves", hint="what moves is proven before the wheels turn"),
        "min_v": Say("Resets below", "voltage", "not said", decides=True),
        "max_v": Say("Stands up to", "voltage"),
        "sealing": Say("Its case is for", unsaid="not said"),
        "hottest_k": Say("Hottest air it stands", "temperature", "not said"),
        "rest_a": Say("Draws, engine standing", "current", "not said"),
        "full_at_rps": Say("Draws most at", "rpm", "always the same"),
        "capacitor_discharge": Say("Fires by capacitor", hint="hundreds of volts at the coil"),
        "sparks": Say("Sparks each firing"),
        "multi_below_rps": Say("Several sparks below", "rpm", "not said"),
        "sensor_pin": Say("Supplies senders at", unsaid="no such pin"),
        "sensor_v": Say("With", "voltage", "not said"),
        "sensor_ground": Say("Senders return to", unsaid="its ground"),
        "orientation": Say("Seen how", hint="where it sits: lid off, plug towards you"),
        "needs": Say("It rests on"),
        "cautions": Say("Cautions", hint="one a line"),
        "note": Say("Note"),
    },
    "InputSheet": {
        "pin": Say("Pin"),
        "quantity": Say("It is about"),
        "takes": Say("It reads"),
        "waveforms": Say("Shapes it takes"),
        "threshold_v": Say("Counts from", "voltage", "not said", decides=True),
        "max_hz": Say("Follows up to", "frequency"),
        "min_hz": Say("Takes for a speed from", "frequency", "not said"),
        "input_ohm": Say("Puts across the source", "resistance"),
        "max_v": Say("Stands up to", "voltage", hint="highest peak at the pin"),
        "pull_up_ohm": Say("Pull-up inside", "resistance", "none"),
        "pull_up_v": Say("Pulled up to", "voltage", "its supply", hint=_PULL_UP),
        "adc_bits": Say("Bits of its converter", unsaid="not said", decides=True),
        "full_v": Say("Converter full at", "voltage"),
        "curve": Say("Fixed curve", unsaid="none", hint=_PAIRS),
        "barometer": Say("Air pressure"),
        "active": Say("On means the contact is"),
        "closes_to": Say("Closed leads to"),
        "polarised": Say("Right way round matters"),
        "permits": Say("Lets it act while", unsaid="as is usual", hint="what holds it back else"),
        "steady": Say("A control loop hangs on it"),
        "need_ohm": Say("Wants, at rest, at most", "resistance", "not a cancel input"),
        "works_above_mps": Say("Works above", "speed", "from standstill"),
        "pulses_per_flash": Say("Pulses for one flash", unsaid="no such lamp"),
        "scale": Say("Built for pulses of", unsaid="as they come", hint="per metre or turn"),
        "required": Say("Must be served"),
        "shows": Say("Shows the value"),
        "setting": Say("Set by"),
    },
    "OutputSheet": {
        "pin": Say("Pin"),
        "quantity": Say("It tells"),
        "pulses_per_rev": Say("Pulses per turn or metre", unsaid="none"),
        "volts": Say("Peak", "voltage"),
        "waveform": Say("Shape"),
        "points": Say("Value to volts", unsaid="no analogue output", hint=_PAIRS),
        "of": Say("Made from input", unsaid="stands by itself"),
        "ratio": Say("Multiplied by control", unsaid="none"),
    },
    "SupplySheet": {
        "pin": Say("Pin"),
        "kind": Say("It is"),
        "amps": Say("Draws at most", "current"),
        "standby_a": Say("Draws asleep", "current", "nothing"),
        "feeds": Say("Served by feeds live at"),
        "fuse_a": Say("Maker's fuse", "current", "none stated", decides=True),
        "duty": Say("Share of the time", "percent"),
        "inrush_a": Say("Starting current", "current", "none"),
        "inrush_s": Say("Lasts", "time", "none"),
    },
    "Control": {
        "pin": Say("Marked"),
        "label": Say("Called"),
        "means": Say("It is"),
        "of": Say("About the input", unsaid="none"),
        "stands_for": Say("Position stands for", unsaid="a number", hint="one a line: B = square"),
        "setting": Say("Set by"),
    },
    "Need": {
        "fact": Say("Fact of the vehicle", hint="as throttle"),
        "one_of": Say("Any of these will do", unsaid="any", hint="one a line"),
        "low": Say("At least", unsaid="no limit"),
        "high": Say("At most", unsaid="no limit"),
        "why": Say("Or else"),
    },
    "Dials": {
        "base": Say("Value at the first places"),
        "dials": Say("Dials"),
        "unit": Say("Printed in"),
    },
    "Dial": {
        "name": Say("Name"),
        "positions": Say("Places", hint="in order: A B C D E"),
        "octaves": Say("Doublings each step", hint="1 doubles, 0.1 multiplies by 1.07"),
    },
    "Menu": {
        "path": Say("Way through the menu", hint="Inputs, Speed, Pulses"),
        "low": Say("From"),
        "high": Say("To"),
        "step": Say("In steps of"),
        "unit": Say("Printed in"),
    },
    "Buttons": {
        "low": Say("From"),
        "high": Say("To"),
        "step": Say("In steps of"),
        "unit": Say("Printed in"),
    },
    "Presses": {
        "enter": Say("How it is entered"),
        "press": Say("What is pressed"),
        "low": Say("From"),
        "high": Say("To"),
        "step": Say("Each press adds"),
        "unit": Say("Printed in"),
        "store": Say("How it is stored"),
    },
    "Switches": {
        "weights": Say("Weights, left to right", hint="0.5, 1, 2, 3"),
        "base": Say("With all off"),
        "unit": Say("Printed in"),
    },
    "Rotary": {
        "positions": Say("Places and values", hint="one a line: 3 = 6000"),
        "unit": Say("Printed in"),
    },
    "Lookup": {
        "rows": Say("Switches and values", hint="one a line: 0110 = 6"),
        "bits": Say("Which of the bank", unsaid="the first of it", hint="1, 2, 3"),
        "bank": Say("Bank", unsaid="its own"),
        "unit": Say("Printed in"),
    },
    "Plug": {
        "known": Say("Known resistors", hint="Ω and value, one pair a line: 1000:4"),
        "vref": Say("Measured from", "voltage"),
        "tolerance": Say("Resistors may be off by", "percent"),
        "unit": Say("Printed in"),
    },
    "Curves": {
        "path": Say("Way through the menu", hint="Inputs, Temperature"),
        "presets": Say("Built-in curves"),
        "free_points": Say("Points it can be taught", unsaid="none"),
    },
    "Preset": {"name": Say("Name"), "points": Say("Pairs", hint=_PAIRS)},
    "Source": {
        "name": Say("Name"),
        "id": Say("Kept under", hint="its file's name; another name makes another source"),
        "quantity": Say("It tells"),
        "spec": Say("It is a"),
        "place": Say("Where it is", unsaid="not said"),
        "minutes": Say("Minutes to reach and join"),
        "access": Say("To get at it", unsaid="nothing", hint="what must come off"),
        "parts": Say("To be bought", unsaid="nothing"),
        "spoils": Say("Works by it too", unsaid="nothing", hint="of the vehicle's own"),
        "zone": Say("Zone on the plan", unsaid="not said"),
        "trim": Say("Found over computed", hint="pulses on the road; 1 until it is driven"),
    },
    "Connector": {
        "name": Say("Name"),
        "rows": Say("Rows"),
        "columns": Say("Cavities in a row"),
        "row_lengths": Say("Rows of other lengths", unsaid="all alike", hint="4, 5, 4"),
        "stagger": Say("Every second row shifted by", hint="pitches: 0.5 is half a cavity"),
        "round": Say("Round, the last in the middle"),
        "key": Say("Cavity 1 is at", unsaid="not said", hint="the lever end, the square corner"),
        "keyed": Say("Key or lever is at the"),
        "counted_on": Say("Counted on the"),
        "corner": Say("Cavity 1 lies"),
        "numbering": Say("Numbers run"),
        "places": Say("Or each place by itself", unsaid="no", hint="one a line: 1 = 0, 0"),
        "family": Say("Terminal family", unsaid="not said"),
        "terminals": Say("Terminals on this half"),
        "least_mm2": Say("Takes wires from", "area", "not said"),
        "most_mm2": Say("Takes wires to", "area", "not said"),
        "sealed": Say("Sealed"),
    },
    "House": {
        "battery": Say("Battery comes off"),
        "drop_power": Say("Drop let pass, power", "percent"),
        "drop_signal": Say("Drop let pass, signal", "percent"),
        "fuse_load": Say("Steady load on a fuse", "percent"),
        "fuse_within_m": Say("Fuse within", "length"),
        "coil_clear_m": Say("Clear of coils", "length"),
        "conductor_max_k": Say("Wire stands up to", "temperature"),
        "setting_ok": Say("Setting error let pass", "percent"),
        "per_cent_min": Say("One per cent is worth, min"),
        "risk_weight": Say("Risk to the car weighs"),
        "speed_prefers": Say("Speed source preferred", unsaid="none"),
        "joint_by": Say("Wires are joined by"),
        "power": Say("Devices are fed from"),
        "direct_above_a": Say("Straight from battery above", "current"),
        "tail_m": Say("Added at each end", "length"),
        "slack_m": Say("Slack at a device", "length"),
        "clip_m": Say("A clip every", "length"),
        "stud_rings": Say("Rings on one stud"),
        "park_days": Say("Must start after, days"),
        "start_reserve": Say("Battery kept for starting", "percent"),
        "day_start": Say("Day begins"),
        "day_end": Say("Day ends"),
        "figures": Say("Figures put otherwise"),
    },
    "HouseFigure": {"id": Say("Figure"), "value": Say("Stands at"), "note": Say("Why")},
}
"""By record and field."""

_SPEC = {
    "teeth": Say("Teeth"),
    "missing": Say("Missing teeth", unsaid="none"),
    "volts_per_hz": Say("Peak volts per hertz"),
    "into_ohm": Say("Measured into", "resistance"),
    "winding_ohm": Say("Winding", "resistance"),
    "shared": Say("The brake control uses it"),
    "magnets": Say("Magnets"),
    "pulses_per_rev": Say("Pulses per turn"),
    "pulses_per_m": Say("Pulses", "rate"),
    "drive_teeth": Say("Teeth of the drive gear"),
    "driven_teeth": Say("Teeth of the driven gear"),
    "volts": Say("Peak", "voltage"),
    "open_collector": Say("It can only pull down"),
    "sinks_a": Say("Pulls down at most", "current"),
    "kick_v": Say("Kick", "voltage"),
    "device": Say("Of the device"),
    "pin": Say("At its output"),
    "pole_pairs": Say("Pole pairs"),
    "pulley_ratio": Say("Pulley ratio", "ratio"),
    "on_cam": Say("It turns with the cam"),
    "side": Say("Side of the switch"),
    "electronic": Say("The gearbox shifts by it"),
    "lag_s": Say("Lags", "time"),
    "lowest_mps": Say("Says nothing below", "speed"),
    "accuracy": Say("Off by at most", "percent"),
    "signal": Say("Value on the bus"),
    "message": Say("Message number"),
    "period_s": Say("A message every", "time"),
    "pulses": Say("Pulses per turn or metre", unsaid="a value in volts"),
    "points": Say("Measured pairs", hint=_PAIRS),
    "one_wire": Say("Grounds through its thread"),
    "seal": Say("Thread sealed by"),
    "shared_ohm": Say("The car's own pull-up", "resistance", "a sender of one's own"),
    "shared_v": Say("That pull-up goes to", "voltage"),
    "low": Say("Reads, at its low end"),
    "high": Say("Reads, at its high end"),
    "low_part": Say("Low end, of its supply", "percent"),
    "high_part": Say("High end, of its supply", "percent"),
    "supply_v": Say("Its supply", "voltage"),
    "absolute": Say("Measures against vacuum"),
    "out_ohm": Say("Behind", "resistance", hint="resistance of its output"),
    "extension": Say("Lead to the input"),
    "hz": Say("Repeats at", "frequency"),
    "inverted": Say("Low time carries the value"),
    "rests": Say("At rest the contact is"),
    "to": Say("Closed leads to"),
    "contact_ohm": Say("Resistance closed", "resistance"),
}
"""Fields of what a source is: one word each, whichever kind has it."""


def say(owner: str, field: str) -> Say | None:
    """The words of a field; None for one that no form has."""
    table = FIELDS.get(owner)
    return table.get(field) if table is not None else _SPEC.get(field)


def in_order(owner: str, names: tuple[str, ...]) -> tuple[str, ...]:
    """``names`` of the fields of a record that have words, in the order of the table."""
    table = FIELDS.get(owner)
    if table is None:
        return tuple(name for name in names if name in _SPEC)
    return tuple(name for name in table if name in names)


WORDS: dict[str, dict[str, str]] = {
    "quantity": {name: sheet.title.lower() for name, sheet in QUANTITIES.items()},
    "takes": {
        "pulses": "counts pulses",
        "contact": "feels a contact",
        "ohm": "reads ohms",
        "volts": "reads volts",
        "hz": "reads a frequency",
        "duty": "reads the on-time",
        "thermocouple": "reads a thermocouple",
    },
    "waveforms": {"sine": "sine", "square": "square", "kick": "coil kick", "level": "steady level"},
    "waveform": {"sine": "sine", "square": "square", "kick": "coil kick", "level": "steady level"},
    "barometer": {"": "is not asked", "fixed": "taken as standard", "own": "measured by it"},
    "moves": {"": "nothing"},
    "sealing": {
        "": "not said",
        "dry": "dry places",
        "splash": "splash water",
        "immersed": "standing in water",
    },
    "kind": {"power": "a supply", "ground": "a ground"},
    "means": {
        "limit": "a rev limit",
        "launch": "a launch limit",
        "shift": "a shift point",
        "idle": "an idle speed",
        "warn high": "a warning above",
        "warn low": "a warning below",
        "hysteresis": "a step back of a warning",
        "delay": "a wait before a warning",
        "gain": "sensitivity",
        "engage": "take-up",
        "gap": "a gap between steps",
        "least duty": "the least drive",
        "reserve": "a fuel reserve",
        "sense": "a sensitivity of sensing",
        "ratio": "a pulse ratio",
        "signal": "a shape of pulse",
        "gearbox": "a kind of gearbox",
        "contact": "how a contact rests",
    },
    "feeds": {
        "constant": "always",
        "accessory": "accessory",
        "run": "run",
        "run-and-crank": "run and crank",
        "start": "crank only",
        "illumination": "lamps",
        "retained": "a while after",
        "dead": "never",
    },
    "fact": {f.path.partition(".")[2]: f.label.lower() for f in VEHICLE},
    "numbering": {
        "rows": "along the rows",
        "columns": "down the columns",
        "forth and back": "forth and back",
    },
    "terminals": {"": "not said", "male": "male", "female": "female"},
    "side": {"cold": "cold: live with the pedal", "hot": "hot: always live"},
    "power": {"slot": "a fuse-box slot", "box": "a box of our own", "battery": "battery post"},
}
"""Choices in plain words, by field; one that is missing says itself."""

BLOCKS = {
    "": "nothing to set",
    "dials": "dials",
    "switches": "bank that adds",
    "lookup": "bank by a table",
    "menu": "menu",
    "buttons": "buttons",
    "presses": "count presses",
    "rotary": "knob",
    "plug": "resistor in a plug",
    "curves": "curves",
    "wheel-ring": "ring at a wheel",
    "propshaft": "magnets on a shaft",
    "cable": "generator in a cable",
    "stated": "computer's speed output",
    "gearbox-sensor": "sensor at the gearbox",
    "satellite": "satellite receiver",
    "bus-reader": "reader of the data bus",
    "coil": "coil, switched side",
    "common-feed": "common feed of the coils",
    "box-output": "output of another device",
    "computer": "engine computer's output",
    "alternator": "alternator phase",
    "toothed-wheel": "toothed wheel",
    "brake-side": "brake-lamp switch",
    "thermistor": "thermistor",
    "resistive": "resistance sender",
    "ratiometric": "share of its supply",
    "volts": "sender that gives volts",
    "thermocouple": "thermocouple, type K",
    "blend-sender": "fuel-blend sender",
    "duty": "on-time signal",
    "switch": "contact",
}
"""Kinds of setting and of source in plain words, by their name in a file."""
