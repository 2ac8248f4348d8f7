"""Which fields of a record mean something as it stands."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from zombrel.job.quantity import QUANTITIES
from zombrel.job.records.fitting import Mounting
from zombrel.job.records.retrofit import Retrofit
from zombrel.job.sheet import Control, DeviceSheet, InputSheet, OutputSheet, SupplySheet
from zombrel.job.source import Ratiometric, Resistive, Source, Thermistor, ThermocoupleK, Volts
from zombrel.job.wiring import Connector

_COUNTED = ("pulses", "hz", "duty")
_CONVERTED = ("ohm", "volts")
_READ_BY: dict[str, tuple[str, ...]] = {
    "waveforms": _COUNTED,
    "threshold_v": _COUNTED,
    "max_hz": ("pulses", "hz"),
    "min_hz": ("pulses",),
    "polarised": ("pulses",),
    "pulses_per_flash": ("pulses",),
    "scale": ("pulses",),
    "adc_bits": _CONVERTED,
    "full_v": _CONVERTED,
    "curve": (*_CONVERTED, "hz", "duty"),
    "active": ("contact",),
    "closes_to": ("contact",),
    "permits": ("contact",),
    "input_ohm": (*_COUNTED, "volts", "contact"),
    "max_v": (*_COUNTED, "volts", "contact"),
    "pull_up_ohm": (*_COUNTED, *_CONVERTED, "contact"),
    "setting": (*_COUNTED, *_CONVERTED),
}
"""Fields of an input that ask how it reads."""


def reads(given: InputSheet) -> str:
    """How an input reads: an on/off one feels a contact, whatever its sheet says of pulses."""
    return "contact" if QUANTITIES[given.quantity].group == "contact" else given.takes


def _of_input(given: InputSheet, name: str) -> bool:
    how = reads(given)
    if name in _READ_BY and how not in _READ_BY[name]:
        return False
    told = {
        "pull_up_v": bool(given.pull_up_ohm),
        "need_ohm": given.quantity == "brake",
        "closes_to": not given.need_ohm,
        "active": not given.need_ohm,
        "works_above_mps": given.quantity == "speed",
        "barometer": QUANTITIES[given.quantity].kind == "pressure",
        "scale": given.setting is None,
    }
    return told.get(name, True)


def _of_supply(given: SupplySheet, name: str) -> bool:
    if given.kind == "ground":
        return name not in ("feeds", "fuse_a", "standby_a", "duty", "inrush_a", "inrush_s")
    return name != "inrush_s" or bool(given.inrush_a)


def _of_output(given: OutputSheet, name: str) -> bool:
    rate = QUANTITIES[given.quantity].group == "rate"
    return {"points": not rate, "pulses_per_rev": rate, "waveform": rate}.get(name, True)


def _of_device(given: DeviceSheet, name: str) -> bool:
    fires = given.moves == "spark"
    if name in ("capacitor_discharge", "sparks"):
        return fires
    if name == "sensor_v":
        return bool(given.sensor_pin)
    if name == "multi_below_rps":
        return given.sparks > 1
    if name == "behind_m":
        return bool(given.hole_m)
    return name != "rest_a" or bool(given.full_at_rps)


def _of_control(given: Control, name: str) -> bool:
    return name != "stands_for" or given.means in ("signal", "gearbox", "contact")


def _of_connector(given: Connector, name: str) -> bool:
    ring = {"rows", "row_lengths", "stagger", "corner", "numbering"}
    if given.places:
        return name not in (ring | {"columns", "round"})
    return not (given.round and name in ring)


def _of_mounting(given: Mounting, name: str) -> bool:
    if name == "how":
        return True
    if name in ("screw", "stack_m", "screw_m"):
        return given.how == "screws"
    return given.how in ("screws", "hole")


def _of_source(given: Source, name: str) -> bool:
    """Threads are a sender's."""
    if name not in ("thread", "port", "adapter"):
        return True
    return isinstance(
        given.spec, Thermistor | Resistive | Ratiometric | Volts | ThermocoupleK
    ) and (name != "adapter" or bool(given.thread and given.port))


def _of_retrofit(given: Retrofit, name: str) -> bool:
    told = {
        "coded_by": given.coding == "needed",
        "car_m": "distance" in given.keeps,
        "car_h": "hours" in given.keeps,
    }
    return told.get(name, True)


def _of_sender(given: Thermistor | Resistive, name: str) -> bool:
    return {"seal": given.one_wire, "shared_v": bool(given.shared_ohm)}.get(name, True)


_ASKED: dict[type, Callable[[Any, str], bool]] = {
    InputSheet: _of_input,
    Control: _of_control,
    SupplySheet: _of_supply,
    OutputSheet: _of_output,
    DeviceSheet: _of_device,
    Thermistor: _of_sender,
    Connector: _of_connector,
    Mounting: _of_mounting,
    Retrofit: _of_retrofit,
    Source: _of_source,
    Resistive: _of_sender,
}


def applies(record: object, name: str) -> bool:
    """Whether the field ``name`` of ``record`` says anything as the rest of it stands."""
    asked = _ASKED.get(type(record))
    return asked is None or asked(record, name)
