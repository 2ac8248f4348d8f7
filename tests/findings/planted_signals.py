"""Troubles of counted and sensed signals and of what is set."""

from __future__ import annotations

from typing import Any

from tests.findings.planting import Facts, rows

LONE = {"wires.W10": ..., "chains.speed.wires": ["W5"]}
OPEN = {"type": "stated", "open_collector": True}
R5_COIL = {
    "+sources": {
        "id": "coil9",
        "name": "Coil 1, switched side",
        "quantity": "tach",
        "spec": {"type": "coil"},
    },
    "chains.tach.source": "coil9",
    "wires.W6.a": {"place": "coil9", "pin": "-"},
    "devices.match.settings.TACH.at": "1",
}
COIL = {"what": "coil", "name": "coil 1", "spacing_m": 0.03, "along_m": 0.5}
MAGNET = {
    "sources.prop.spec.magnets": 1,
    "sources.prop.spec.volts_per_hz": 0.3,
    "chains.speed-hub.source": "prop",
    "wires.W9.a": {"place": "prop", "pin": "+"},
    "+wires": {
        "id": "W90",
        "a": {"place": "prop", "pin": "-"},
        "b": {"place": "hub", "pin": "SPEED-"},
        "colour": "black",
        "carries": "signal",
        "area_mm2": 0.5,
        "length_m": 5.0,
        "twisted": True,
    },
    "chains.speed-hub.wires": ["W9", "W90"],
    "devices.hub.settings.SPEED.at": "1900",
}


def lone(device: str, pin: str, chain: str) -> Facts:
    """An input whose signal is gone; its polarity is not asked for again."""
    return {f"chains.{chain}": ..., f"devices.{device}.sheet.inputs.{pin}.polarised": False}


def cut(source: str, seal: str) -> Facts:
    """A one-wire sender, and what its thread is sealed with."""
    return {f"sources.{source}.spec.one_wire": True, f"sources.{source}.spec.seal": seal}


def opened(chain: str, source: str, rate: float, *hops: dict[str, Any]) -> Facts:
    """A source turned into an open collector, with what pulls it up."""
    spec = OPEN | {"pulses_per_m": rate}
    return {f"sources.{source}.spec": spec, f"chains.{chain}.hops": list(hops)}


def pull(ohm: float) -> dict[str, Any]:
    """A pull-up."""
    return {"type": "pull-up", "ohm": ohm}


def divide(by: int, **more: Any) -> dict[str, Any]:
    """A divider."""
    return {"type": "divider", "by": by, **more}


RATE_ROWS = (
    *rows(
        "no pull-up on an open collector",
        ("0412", "speed-pace", opened("speed-pace", "ring", 24.054, divide(7, threshold_v=2.0))),
        ("0413", "speed-pace", opened("speed-pace", "cable", 6.26)),
        ("0409", "speed", opened("speed", "ring", 24.054)),
    ),
    *rows(
        "too weak a pull-up",
        ("0413", "speed-pace", opened("speed-pace", "cable", 6.26, pull(1e6))),
        ("0409", "speed", opened("speed", "ring", 24.054, pull(3e6))),
    ),
    *rows(
        "too strong a pull-up",
        ("0413", "speed-pace", opened("speed-pace", "cable", 6.26, pull(30.0))),
        ("0409", "speed", opened("speed", "ring", 24.054, pull(100.0)) | LONE),
    ),
    *rows(
        "taps that together load a reluctor",
        (
            "0412",
            "speed-hub",
            {
                "devices.hub.sheet.inputs.SPEED.input_ohm": 2500.0,
                "chains.speed-pace.hops": [divide(7, input_ohm=2500.0)],
            },
        ),
    ),
    *rows(
        "square into an input for a sine",
        ("0412", "tach-hub", {"devices.hub.sheet.inputs.TACH.waveforms": ["sine"]}),
        ("0413", "speed-pace", {"devices.pace.sheet.inputs.SPEED.waveforms": ["sine"]}),
        ("0409", "tach", {"devices.match.sheet.inputs.TACH.waveforms": ["sine"]}),
    ),
    *rows(
        "sine into an input for square pulses",
        ("0412", "speed-hub", {"devices.hub.sheet.inputs.SPEED.waveforms": ["square"]}),
        ("0413", "tach", {"devices.tacho.sheet.inputs.TACH.waveforms": ["square"]}),
        ("0409", "speed", {"devices.match.sheet.inputs.SPEED.waveforms": ["square"]}),
    ),
    *rows("a kick over an input's limit", ("0409", "tach", R5_COIL)),
    *rows(
        "a kick into an input for square pulses",
        ("0409", "tach", R5_COIL | {"devices.match.sheet.inputs.TACH.max_v": 400.0}),
    ),
    *rows(
        "an untwisted pick-up",
        ("0412 0409", "W1", {"wires.W1.twisted": False, "wires.W2.twisted": False}),
    ),
    *rows(
        "a reversed pick-up",
        ("0412", "pick-spark", {"chains.pick-spark.polarity": "reversed"}),
        ("0409", "crank", {"chains.crank.polarity": "reversed"}),
    ),
    *rows(
        "a pair that lost its second wire",
        ("0412", "speed-pace", {"wires.W2": ..., "chains.speed-pace.wires": ["W1"]}),
        ("0409", "crank", {"wires.W2": ..., "chains.crank.wires": ["W1"]}),
    ),
    *rows(
        "a lead beside a coil",
        ("0412", "W9", {"wires.W9.neighbours": [COIL], "wires.W9.twisted": False}),
        ("0409", "W1", {"wires.W1.neighbours": [COIL], "wires.W1.twisted": False}),
    ),
    *rows(
        "a device beside a coil",
        ("0412", "hub", {"zones.dash.near": [COIL]}),
        ("0413", "pump", {"zones.bay-left.near": [COIL]}),
        ("0409", "ecu", {"zones.foot-right.near": [COIL | {"what": "ignition lead"}]}),
    ),
    *rows(
        "counts that begin too late",
        ("0412", "speed-hub", {"sources.ring.spec.volts_per_hz": 0.0008}),
        ("0413", "tach", {"sources.phase.spec.volts": 0.5}),
        ("0409", "speed", {"sources.ring.spec.volts_per_hz": 0.0012}),
    ),
    *rows(
        "too few pulses for the working range",
        (
            "0413",
            "speed-pace",
            {"sources.cable.spec.pulses_per_rev": 1.0, "devices.pace.settings.SPEED.at": "A0"},
        ),
    ),
    *rows("one magnet", ("0412", "speed-hub", MAGNET)),
    *rows(
        "too high a rate",
        ("0412", "speed-pace", {"chains.speed-pace.hops": [divide(1)]}),
        ("0413", "speed-pace", {"sources.cable.spec.pulses_per_rev": 40.0}),
        ("0409", "tach", {"devices.match.sheet.inputs.TACH.max_hz": 200.0}),
    ),
    *rows(
        "a divider setting that does not exist",
        ("0412", "speed-pace", {"chains.speed-pace.hops": [divide(13)]}),
    ),
)
INVERTED = {"sources.wide.spec.points": [[0.68, 5.0], [1.36, 0.0]]}
SENSE_ROWS = (
    *rows(
        "a sender of another span",
        ("0412", "oil-hub", {"sources.oil.spec.high": 5e5}),
        ("0413", "boost", {"sources.map.spec.high": 250e3, "sources.map.spec.low": 10e3}),
    ),
    *rows(
        "absolute for gauge",
        (
            "0412",
            "oil-hub",
            {"sources.oil.spec.absolute": True},
        ),
        ("0413", "boost", {"sources.map.spec.absolute": False}),
    ),
    *rows("a sagging reference", ("0412", "oil-hub", {"sources.oil.spec.supply_v": 4.5})),
    *rows(
        "the wrong sender",
        ("0412", "temp-hub", {"devices.hub.settings.TEMP.at": "A"}),
        ("0413", "charge", {"devices.pump.settings.CHARGE.at": "1"}),
        (
            "0409",
            "coolant",
            {"devices.ecu.settings.COOLANT.table": [[253.15, 4e4], [393.15, 500]]},
        ),
    ),
    *rows(
        "an inverted line",
        ("0409", "lambda", INVERTED),
        ("0412", "fuel-hub", {"sources.tank.spec.points": [[0.0, 7.0], [0.055, 84.0]]}),
    ),
    *rows(
        "a one-wire sender cut off its ground",
        ("0412", "temp-hub", cut("clt", "tape")),
        (
            "0413",
            "charge",
            cut("cooler", "sealant"),
        ),
        ("0409", "coolant", cut("clt", "tape")),
    ),
    *rows(
        "a sensor shared with a computer",
        ("0412", "temp-hub", {"sources.clt.spec.shared_ohm": 2490.0}),
        ("0413", "charge", {"sources.cooler.spec.shared_ohm": 2490.0}),
        ("0409", "coolant", {"sources.clt.spec.shared_ohm": 2490.0}),
    ),
)
SHAPES = [["00", "kick"], ["01", "sine"], ["10", "square"]]
KIND = {
    "pin": "KIND",
    "label": "Signal kind",
    "means": "signal",
    "of": "SPEED",
    "stands_for": SHAPES,
    "setting": {"type": "lookup", "unit": "signal", "rows": [["00", 0], ["01", 1], ["10", 2]]},
}
NO_KIND = {**KIND, "stands_for": SHAPES[:1]}


def on_kick(device: str) -> Facts:
    """Told that an ignition coil feeds its speed input."""
    at = {"pin": "KIND", "at": "00"}
    return {f"+devices.{device}.sheet.controls": KIND, f"+devices.{device}.settings": at}


SET_ROWS = (
    *rows(
        "a choice of signal that stands wrong",
        (
            "0412 0413",
            "pace",
            on_kick("pace"),
        ),
        (
            "0409",
            "match",
            on_kick("match"),
        ),
    ),
    *rows(
        "a choice without what there is",
        ("0412 0413", "pace", {"+devices.pace.sheet.controls": NO_KIND}),
        ("0409", "match", {"+devices.match.sheet.controls": NO_KIND}),
    ),
    *rows(
        "a setting that is off",
        ("0412", "speed-pace", {"devices.pace.settings.SPEED.at": "C3"}),
        ("0413", "speed-pace", {"devices.pace.settings.SPEED.at": "E9"}),
        ("0409", "speed", {"devices.match.settings.SPEED.at": "24500"}),
    ),
    *rows(
        "an error that no setting takes away",
        ("0412", "tach-hub", {"devices.spark.sheet.outputs.TACH OUT.pulses_per_rev": 2.8}),
        ("0409", "tach", {"devices.ecu.sheet.outputs.TACH OUT.pulses_per_rev": 2.7}),
    ),
    *rows(
        "wanted lower than its lowest step",
        ("0412", "spark", {"wishes.spark/LAUNCH.value": 20.0}),
        ("0413", "gauge", {"wishes.gauge/HIGH.value": 5e3}),
        ("0409", "match", {"+wishes": {"id": "match/GAP", "value": 0.05}}),
    ),
)
