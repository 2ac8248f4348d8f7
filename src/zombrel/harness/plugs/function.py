"""What a cavity of an engine computer's plug is for: its function by name, and its kind.

Two papers call one thing by many names; words are brought to one each, a number and a sign stay.
The kind says what lies electrically behind it: a feed, a ground, a driver of so many amperes, one
of a pair, a sender that needs a pull-up.

Reference: words of the trade; ISO 15765 and others leave names of circuits to the maker.
"""

from __future__ import annotations

import re
from typing import Literal

from zombrel.job.value import Value

Role = Literal[
    "",
    "feed",
    "ground",
    "sensor ground",
    "reference",
    "driver",
    "reluctor",
    "hall",
    "resistive",
    "volts",
    "contact",
    "output",
    "bus",
]
ROLE_WORDS: dict[Role, str] = {
    "": "not said",
    "feed": "a feed",
    "ground": "a power ground",
    "sensor ground": "a sensor ground",
    "reference": "a 5 V feed of sensors",
    "driver": "a driver",
    "reluctor": "a reluctor pick-up",
    "hall": "a Hall sensor",
    "resistive": "a resistive sender",
    "volts": "a sensor that gives volts",
    "contact": "a contact",
    "output": "a signal out",
    "bus": "a data bus",
}
SAME: dict[str, str] = {
    "clt": "coolant",
    "ect": "coolant",
    "cts": "coolant",
    "water": "coolant",
    "iat": "charge air",
    "intake air": "charge air",
    "air temperature": "charge air",
    "charge": "charge air",
    "inlet air": "charge air",
    "map": "manifold pressure",
    "boost": "manifold pressure",
    "manifold absolute pressure": "manifold pressure",
    "tps": "throttle",
    "throttle position": "throttle",
    "throttle pot": "throttle",
    "ckp": "crank",
    "crankshaft": "crank",
    "cmp": "cam",
    "camshaft": "cam",
    "phase": "cam",
    "inj": "injector",
    "ign": "coil",
    "ignition coil": "coil",
    "ignition": "coil",
    "o2": "lambda",
    "oxygen": "lambda",
    "wideband": "lambda",
    "ego": "lambda",
    "gnd": "ground",
    "earth": "ground",
    "mass": "ground",
    "power ground": "ground",
    "sensor ground": "sensor ground",
    "signal gnd": "sensor ground",
    "signal ground": "sensor ground",
    "sensor earth": "sensor ground",
    "0v": "sensor ground",
    "sensor return": "sensor ground",
    "sensor gnd": "sensor ground",
    "vref": "5v",
    "reference": "5v",
    "5 v": "5v",
    "5v feed": "5v",
    "sensor supply": "5v",
    "b+": "battery",
    "batt": "battery",
    "constant": "battery",
    "permanent": "battery",
    "vss": "speed",
    "road speed": "speed",
    "vehicle speed": "speed",
    "tacho": "tach",
    "tachometer": "tach",
    "rpm out": "tach out",
    "tach output": "tach out",
    "mil": "check lamp",
    "check engine": "check lamp",
    "warning lamp": "check lamp",
    "fp": "pump",
    "fuel pump": "pump",
    "fan": "fan",
    "cooling fan": "fan",
    "iac": "idle valve",
    "isc": "idle valve",
    "idle control": "idle valve",
    "evap": "purge valve",
    "canister": "purge valve",
    "purge": "purge valve",
    "brake lamp": "brake",
    "brake switch": "brake",
    "clutch switch": "clutch",
}
"""Other words for the same thing, longest first when they are looked for."""
NOISE = (
    "sensor",
    "signal",
    "temperature",
    "temp",
    "position",
    "feed",
    "supply",
    "wire",
    "cyl",
    "cylinder",
    "engine",
    "the",
    "input",
    "relay",
    "switch",
    "shaft",
    "sender",
)
"""Words that tell nothing apart from the rest."""
KINDS: tuple[tuple[str, Role], ...] = (
    (r"sensor (ground|gnd|earth|return)|signal ground|0 ?v\b", "sensor ground"),
    (r"\b5 ?v\b.*(feed|supply|ref)|vref|reference", "reference"),
    (r"ground|gnd|earth|mass", "ground"),
    (r"hall", "hall"),
    (r"reluctor|inductive|variable reluctance|\bvr\b|\bpair\b|pick-?up", "reluctor"),
    (r"driver|low side|high side|sink|injector|coil", "driver"),
    (r"ntc|thermistor|resist|ohm|temp", "resistive"),
    (r"volt|0 ?(-|–|to) ?5|analog|linear|pot", "volts"),
    (r"bus|can\b|lin\b", "bus"),
    (r"contact|switch|digital in", "contact"),
    (r"output|out\b|pwm", "output"),
    (r"feed|supply|battery|power|12 ?v|\+", "feed"),
    (r"sensor", "volts"),
)
"""What a kind is called, first what is most its own."""


UNSIGNED = ("battery", "ground")
"""A sign there is the pole of the battery, not an end of a pair."""


class Function(Value, frozen=True):
    """One cavity's function."""

    name: str
    """Brought to one word for one thing."""
    which: str
    """``1`` of an injector or coil; empty: there is one."""
    sign: str
    """``+`` or ``-`` of a pair."""


class Kind(Value, frozen=True):
    """What lies behind a cavity."""

    role: Role
    amps: float = 0.0
    """What a driver takes, or what a load wants [A]; 0: not said."""
    volts: float = 0.0
    """[V]; 0: not said."""


def function_of(circuit: str) -> Function:
    """The function that a circuit's name means."""
    text = circuit.casefold().replace("−", "-").replace("–", "-").strip()
    sign = ""
    found = re.search(r"(?<=[\w)]) ?([+-])$|\((\+|-)\)$|\b(positive|negative|high|low)$", text)
    if found and not text.startswith("b+"):
        word = next(g for g in found.groups() if g)
        sign = {"positive": "+", "high": "+", "negative": "-", "low": "-"}.get(word, word)
        text = text[: found.start()].strip()
    text = re.sub(r"[_/.,:#()]+", " ", text)
    for word in sorted(SAME, key=len, reverse=True):
        pattern = rf"\b{re.escape(word)}(?=\d|\b|\s|$)"
        if re.search(pattern, text):
            text = re.sub(pattern, f" {SAME[word].replace(' ', '_')} ", text, count=1)
            break
    digits = text.replace("5v", "v_ref")
    number = re.search(r"(?<![a-z])(\d+)(?!\s*v\b)\b|(?<=[a-z_ ])(\d+)$", digits)
    which = next((g for g in number.groups() if g), "") if number else ""
    plain = text.replace("5v", "vref")
    plain = re.sub(r"\d+", " ", plain).replace("vref", "5v")
    words = sorted({w.replace("_", " ") for w in plain.split() if w not in NOISE})
    name = " ".join(words) or plain.strip()
    return Function(name, which.lstrip("0"), "" if name in UNSIGNED else sign)


def kind_of(said: str, circuit: str = "") -> Kind:
    """What ``said`` of a kind means; a circuit's own name tells what it can where nothing is."""
    text = said.casefold().strip()
    role: Role = next((r for pattern, r in KINDS if re.search(pattern, text)), "") if text else ""
    if not text:
        role = _by_name(function_of(circuit))
    amps = re.search(r"(\d+(?:[.,]\d+)?)\s*(m?)a\b", text)
    volts = re.search(r"(\d+(?:[.,]\d+)?)\s*v\b", text)
    return Kind(
        role,
        float(amps[1].replace(",", ".")) * (1e-3 if amps[2] else 1.0) if amps else 0.0,
        float(volts[1].replace(",", ".")) if volts else 0.0,
    )


def _by_name(function: Function) -> Role:
    """The kinds that a name alone makes sure of."""
    certain: dict[str, Role] = {
        "battery": "feed",
        "ground": "ground",
        "sensor ground": "sensor ground",
        "injector": "driver",
        "coil": "driver",
    }
    if "5v" in function.name.split():
        return "reference"
    return certain.get(function.name, "")
