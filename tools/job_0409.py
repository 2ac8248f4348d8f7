"""Job 0409: the Curlew club racer with an engine computer of its own. All of it invented."""

from __future__ import annotations

import msgspec

from demo_parts import celsius_curve, device, known, wire
from job_0412 import VEHICLE as ROAD_CAR
from zombrel.job import model as m
from zombrel.job import source as sources
from zombrel.units import KMH, RPM

VEHICLE = msgspec.structs.replace(
    ROAD_CAR, name="Brackwell Curlew club racer", owner="Saltmarsh club car", chassis=2188,
    mass_kg=1085, lamps="filament", top_mps=225 * KMH, redline_rps=7000 * RPM, initial_deg=None,
    mechanical=(), timing_seen=(), battery_place="left footwell",
)  # fmt: skip

COOLANT = celsius_curve("-20:15500, 0:5900, 20:2500, 40:1180, 60:600, 80:325, 100:187, 120:113")
WIDEBAND = ((0.68, 0.0), (1.36, 5.0))

SOURCES = (
    sources.Source(id="crank", name="Crank sensor, late kind", quantity="tach",
        place="front cover", minutes=25,
        spec=sources.ToothedWheel(teeth=36, missing=1, volts_per_hz=0.006)),
    sources.Source(id="clt", name="Coolant sender of the engine computer", quantity="coolant",
        place="thermostat housing", minutes=10, spec=sources.Thermistor(points=COOLANT)),
    sources.Source(id="wide", name="Wideband controller", quantity="mixture", place="tunnel",
        minutes=35, parts="controller and sensor", spec=sources.Volts(points=WIDEBAND)),
    sources.Source(id="ring", name="Left rear tone ring", quantity="speed",
        place="left rear hub", minutes=30,
        spec=sources.WheelRing(teeth=46, volts_per_hz=0.009, shared=False)),
    sources.Source(id="e9out", name="Engine computer TACH OUT", quantity="tach",
        place="bulkhead", minutes=10, spec=sources.BoxOutput(device="ecu", pin="TACH OUT")),
    sources.Source(id="clutch", name="Clutch switch, closed at rest", quantity="clutch",
        place="pedal box", minutes=20, spec=sources.Switch(rests="closed", to="ground")),
    sources.Source(id="cold", name="Brake switch, cold side", quantity="brake",
        place="pedal box", minutes=10, spec=sources.BrakeSide(side="cold")),
    sources.Source(id="arming", name="Arming switch on the tunnel", quantity="arm",
        place="tunnel", minutes=15, spec=sources.Switch(rests="open", to="ground")),
)  # fmt: skip

CHAINS = (
    m.Chain(id="crank", title="Crank", quantity="tach", source="crank", device="ecu",
            pin="CRANK", wires=("W1", "W2")),
    m.Chain(id="coolant", title="Coolant", quantity="coolant", source="clt", device="ecu",
            pin="COOLANT"),
    m.Chain(id="lambda", title="Mixture", quantity="mixture", source="wide", device="ecu",
            pin="LAMBDA"),
    m.Chain(id="speed", title="Road speed", quantity="speed", source="ring", device="match",
            pin="SPEED", wires=("W5",)),
    m.Chain(id="tach", title="Engine speed", quantity="tach", source="e9out", device="match",
            pin="TACH", wires=("W6",)),
    m.Chain(id="clutch", title="Clutch", quantity="clutch", source="clutch", device="match",
            pin="CLUTCH"),
    m.Chain(id="brake", title="Brake", quantity="brake", source="cold", device="match",
            pin="BRAKE"),
    m.Chain(id="arming", title="Arming", quantity="arm", source="arming", device="match",
            pin="ARM"),
)  # fmt: skip

WIRES = (
    wire("W1", "crank.1", "ecu.CRANK", "white", "signal", 0.5, 0.9, twisted=True),
    wire("W2", "crank.2", "ecu.CRANK-", "brown", "signal", 0.5, 0.9, twisted=True),
    wire("W3", "F1", "ecu.MAIN", "red", "power", 2.5, 1.1, fuse_a=15.0),
    wire("W4", "ecu.GROUND", "G1", "black", "ground", 2.5, 0.4),
    wire("W5", "ring.+", "match.SPEED", "blue", "signal", 0.5, 3.2, twisted=True),
    wire("W6", "ecu.TACH OUT", "match.TACH", "grey", "signal", 0.5, 1.0),
    wire("W7", "F1", "match.POWER", "red/white", "power", 0.5, 0.9, fuse_a=1.0),
    wire("W8", "match.GROUND", "G1", "black", "ground", 0.5, 0.5),
    wire("W9", "BAT", "ecu.BATT", "red/yellow", "power", 1.0, 1.6, fuse_a=5.0),
)
FEEDS = (
    m.Feed(id="BAT", name="Battery post", feed="constant"),
    m.Feed(id="F1", name="Slot F1", feed="run-and-crank", fuse_a=20, marked_a=20, wire_mm2=2.5),
)
KNOWN: tuple[tuple[str, m.Rung, str], ...] = (
    ("sources.ring.spec.teeth", "measured", "counted"),
    ("sources.crank.spec.teeth", "measured", "counted through the inspection hole"),
    ("sources.clt.spec.points", "document", "sheet of the engine family"),
    ("sources.wide.spec.points", "document", "controller's sheet"),
    *((f"wires.W{n}.{side}", "counted", "counted from the corner mark") for n, side in (
        (1, "a"), (2, "a"), (3, "a"), (4, "b"), (5, "a"), (7, "a"), (8, "b"), (9, "a"))),
)  # fmt: skip


def job() -> m.Job:
    """Job 0409."""
    made = m.Job(
        number="0409", title="Curlew club racer", synthetic=True, vehicle=VEHICLE,
        devices=(
            device("ecu", "ardle-e9", {"COOLANT": ("table", COOLANT),
                                       "LAMBDA": ("table", WIDEBAND), "LIMIT": "7000"}),
            device("match", "ardle-r5", {"SPEED": "24050", "TACH": "3", "GAP": "2"}),
        ),
        sources=SOURCES, chains=CHAINS, wires=WIRES, feeds=FEEDS,
        studs=(m.Stud(id="G1", name="Tunnel stud"),),
        notes="Remap lead from the 52-way to the 40-way and 26-way plugs. The crank sensor is of "
        "the late kind: keyed low, its wires one place round.",
    )  # fmt: skip
    return known(made, KNOWN, "2026-11-12")
