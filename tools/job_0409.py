"""Job 0409: the Curlew club racer with an engine computer of its own. All of it invented."""

from __future__ import annotations

import msgspec
from demo_parts import celsius_curve, device, known, planned, wire
from job_0412 import VEHICLE as ROAD_CAR

from zombrel.harness.plugs.lead import with_faces
from zombrel.harness.plugs.pinout import rest_empty
from zombrel.job import model as m
from zombrel.job import source as sources
from zombrel.job import wiring as w
from zombrel.units import KMH, RPM

VEHICLE = msgspec.structs.replace(
    ROAD_CAR,
    name="Brackwell Curlew club racer",
    owner="Saltmarsh club car",
    chassis=2188,
    mass_kg=1085,
    lamps="filament",
    top_mps=225 * KMH,
    redline_rps=7000 * RPM,
    initial_deg=None,
    mechanical=(),
    timing_seen=(),
    battery_place="left footwell",
)

COOLANT = celsius_curve("-20:15500, 0:5900, 20:2500, 40:1180, 60:600, 80:325, 100:187, 120:113")
WIDEBAND = ((0.68, 0.0), (1.36, 5.0))

SOURCES = (
    sources.Source(
        id="crank",
        name="Crank sensor",
        quantity="tach",
        place="front cover",
        minutes=25,
        spec=sources.ToothedWheel(teeth=36, missing=1, volts_per_hz=0.006),
    ),
    sources.Source(
        id="clt",
        name="Coolant sender of the engine computer",
        quantity="coolant",
        place="thermostat housing",
        minutes=10,
        spec=sources.Thermistor(points=COOLANT),
    ),
    sources.Source(
        id="wide",
        name="Wideband controller",
        quantity="mixture",
        place="tunnel",
        minutes=35,
        parts="controller and sensor",
        spec=sources.Volts(points=WIDEBAND),
    ),
    sources.Source(
        id="ring",
        name="Left rear tone ring",
        quantity="speed",
        place="left rear hub",
        minutes=30,
        spec=sources.WheelRing(teeth=46, volts_per_hz=0.009, shared=False),
    ),
    sources.Source(
        id="e9out",
        name="Engine computer TACH OUT",
        quantity="tach",
        place="bulkhead",
        minutes=10,
        spec=sources.BoxOutput(device="ecu", pin="TACH OUT"),
    ),
    sources.Source(
        id="clutch",
        name="Clutch switch, closed at rest",
        quantity="clutch",
        place="pedal box",
        minutes=20,
        spec=sources.Switch(rests="closed", to="ground"),
    ),
    sources.Source(
        id="cold",
        name="Brake switch, cold side",
        quantity="brake",
        place="pedal box",
        minutes=10,
        spec=sources.BrakeSide(side="cold"),
    ),
    sources.Source(
        id="arming",
        name="Arming switch on the tunnel",
        quantity="arm",
        place="tunnel",
        minutes=15,
        spec=sources.Switch(rests="open", to="ground"),
    ),
)

CHAINS = (
    m.Chain(
        id="crank",
        title="Crank",
        quantity="tach",
        source="crank",
        device="ecu",
        pin="CRANK",
        wires=("W1", "W2"),
    ),
    m.Chain(
        id="coolant", title="Coolant", quantity="coolant", source="clt", device="ecu", pin="COOLANT"
    ),
    m.Chain(
        id="lambda", title="Mixture", quantity="mixture", source="wide", device="ecu", pin="LAMBDA"
    ),
    m.Chain(
        id="speed",
        title="Road speed",
        quantity="speed",
        source="ring",
        device="match",
        pin="SPEED",
        wires=("W5", "W10"),
    ),
    m.Chain(
        id="tach",
        title="Engine speed",
        quantity="tach",
        source="e9out",
        device="match",
        pin="TACH",
        wires=("W6",),
    ),
    m.Chain(
        id="clutch",
        title="Clutch",
        quantity="clutch",
        source="clutch",
        device="match",
        pin="CLUTCH",
    ),
    m.Chain(
        id="brake", title="Brake", quantity="brake", source="cold", device="match", pin="BRAKE"
    ),
    m.Chain(
        id="arming", title="Arming", quantity="arm", source="arming", device="match", pin="ARM"
    ),
)

PAPER: tuple[tuple[int, str, str, str], ...] = (
    # cavity of the car's 52-way, cavity of the computer, colour, signal
    (1, "E40.1", "red", "battery"),
    (2, "E40.2", "red/white", "main relay"),
    (3, "E40.11", "black", "ground 1"),
    (4, "E40.12", "black", "ground 2"),
    (5, "E40.3", "white", "crank +"),
    (6, "E40.4", "brown", "crank −"),
    (7, "E40.5", "blue", "cam"),
    (9, "E40.6", "yellow", "coolant"),
    (10, "E40.7", "yellow/green", "charge air"),
    (11, "E40.13", "grey", "throttle"),
    (12, "E40.14", "grey/red", "5 V throttle"),
    (13, "E40.15", "black/white", "sensor ground"),
    (14, "E40.16", "orange", "5 V pressure"),
    (15, "E40.17", "orange/black", "manifold pressure"),
    (17, "E40.21", "violet", "injector 1"),
    (18, "E40.22", "violet/white", "injector 2"),
    (19, "E40.23", "violet/green", "injector 3"),
    (20, "E40.24", "violet/blue", "injector 4"),
    (21, "E40.25", "violet/red", "injector 5"),
    (22, "E40.27", "violet/yellow", "injector 6"),
    (24, "E40.31", "green", "coil 1"),
    (25, "E40.32", "green/red", "coil 2"),
    (26, "E40.33", "green/blue", "coil 3"),
    (28, "E26.1", "pink", "idle valve"),
    (29, "E26.2", "pink/black", "purge valve"),
    (31, "E26.3", "blue/white", "lambda heater"),
    (32, "E26.4", "blue/red", "fan relay"),
    (33, "E26.5", "blue/yellow", "pump relay"),
    (35, "E26.8", "white/red", "lambda +"),
    (36, "E26.9", "white/black", "lambda −"),
    (38, "E26.14", "brown/red", "speed"),
    (40, "E26.15", "brown/white", "tach out"),
    (44, "E26.16", "green/white", "brake"),
    (47, "E26.20", "yellow/black", "clutch"),
    (50, "E26.21", "grey/white", "check lamp"),
)
"""What the sheet that came with the remap lead says."""
FOUND = {31: "E26.4", 32: "E26.3", 14: "E40.26", 50: ""}
"""What the lead really does: heater and fan swapped, the pressure sensor's 5 V feed a row off, and
nothing in the cavity of the check lamp."""


BEHIND = {
    "injector": "driver",
    "coil": "driver",
    "crank": "pair",
    "cam": "Hall",
    "coolant": "NTC",
    "charge air": "NTC",
    "5 V": "5 V feed",
    "throttle": "0 to 5 V",
    "manifold": "0 to 5 V",
    "lambda heater": "driver",
    "valve": "driver",
    "relay": "driver",
    "lamp": "driver",
    "sensor ground": "sensor ground",
    "ground": "ground",
    "battery": "feed",
    "brake": "contact",
    "clutch": "contact",
    "speed": "contact",
    "tach out": "output",
}
"""What lies behind a circuit of the computers' plugs, by a part of its name."""


def kind_of(signal: str) -> str:
    """What the paper says lies behind a circuit."""
    return next((kind for name, kind in BEHIND.items() if name in signal), "")


def face(plug: str, name: str, rows: int, columns: int, **more: object) -> w.Connector:
    """A plug with what the paper puts into it."""
    held = {
        (f"V52.{a}" if plug == "V52" else b): (colour, signal) for a, b, colour, signal in PAPER
    }
    cavities = tuple(
        w.Cavity(n=int(at.partition(".")[2]), colour=colour, circuit=signal, kind=kind_of(signal))
        for at, (colour, signal) in sorted(held.items(), key=lambda x: int(x[0].partition(".")[2]))
        if at.startswith(f"{plug}.")
    )
    return w.Connector(id=plug, name=name, rows=rows, columns=columns, cavities=cavities, **more)


V52 = face(
    "V52",
    "Car's 52-way plug",
    4,
    13,
    key="the corner mark",
    zone="foot-right",
    family="BK 1.5",
    terminals="male",
    least_mm2=0.35,
    most_mm2=1.0,
)
E40 = face(
    "E40",
    "Computer's 40-way plug",
    4,
    10,
    key="the corner mark",
    zone="foot-right",
    family="AR 1.5 sealed",
    terminals="female",
    least_mm2=0.35,
    most_mm2=1.0,
    sealed=True,
    keyed="top",
)
E26 = face(
    "E26",
    "Computer's 26-way plug",
    2,
    13,
    key="the corner mark",
    zone="foot-right",
    family="AR 1.5 sealed",
    terminals="female",
    least_mm2=0.35,
    most_mm2=1.0,
    sealed=True,
    keyed="top",
    numbering="forth and back",
)


def cam_plug(plug: str, name: str, order: tuple[int, ...]) -> w.Connector:
    """One kind of the camshaft sensor; ``order`` gives the wire in cavity 1, 2, …"""
    wires = (
        ("blue", "cam signal"),
        ("red/blue", "cam supply"),
        ("black/white", "cam ground"),
        ("bare", "cam screen"),
    )
    return w.Connector(
        id=plug,
        name=name,
        rows=1,
        columns=len(order),
        key="the key",
        keyed="top",
        zone="nose",
        cavities=tuple(
            w.Cavity(n=i + 1, colour=wires[k][0], circuit=wires[k][1]) for i, k in enumerate(order)
        ),
    )


CAM_EARLY = cam_plug("CSE", "Camshaft sensor, early kind, three ways", (0, 1, 2))
CAM_LATE = cam_plug("CSL", "Camshaft sensor, late kind, four ways", (1, 0, 2, 3))
CHANGES = (
    w.Change(
        id="C1",
        kind="add",
        connector="E26",
        cavity=23,
        wire="W6",
        note="the computer's tach output to the rev-match module",
    ),
    w.Change(id="C2", kind="tap", connector="V52", cavity=44, note="brake to the rev-match module"),
)
LEAD = with_faces(
    w.Lead(
        id="remap",
        name="Remap lead, 52-way to 40-way and 26-way",
        source="the sheet that came with the lead",
        rows=tuple(w.LeadRow(a=f"V52.{a}", b=b, colour=c, signal=s) for a, b, c, s in PAPER),
        old=("V52",),
        new=("E40", "E26"),
    ),
    (V52, E40, E26),
)


def lead_seen() -> list[tuple[str, str]]:
    """What really conducts in the lead."""
    return [(f"V52.{a}", FOUND.get(a, b)) for a, b, _, _ in PAPER if FOUND.get(a, b)]


WIRES = (
    wire("W1", "crank.1", "ecu.CRANK", "white", "signal", 0.5, 0.9, twisted=True),
    wire("W2", "crank.2", "ecu.CRANK-", "brown", "signal", 0.5, 0.9, twisted=True),
    wire("W3", "F1", "ecu.MAIN", "red", "power", 2.5, 1.1, fuse_a=15.0),
    wire("W4", "ecu.GROUND", "G1", "black", "ground", 2.5, 0.4),
    wire("W5", "ring.+", "match.SPEED", "blue", "signal", 0.5, 3.2, twisted=True),
    wire("W10", "ring.-", "match.SPEED-", "black", "signal", 0.5, 3.2, twisted=True),
    wire("W6", "ecu.TACH OUT", "match.TACH", "grey", "signal", 0.5, 1.0),
    wire("W7", "F1", "match.POWER", "red/white", "power", 0.5, 0.9, fuse_a=1.0),
    wire("W8", "match.GROUND", "G1", "black", "ground", 0.5, 0.5),
    wire("W9", "BAT", "ecu.BATT", "red/yellow", "power", 1.0, 1.6, fuse_a=5.0),
)
FEEDS = (
    w.Feed(id="BAT", name="Battery post", feed="constant", kind="battery"),
    w.Feed(
        id="F1",
        name="Slot F1",
        feed="run-and-crank",
        fuse_a=20,
        marked_a=20,
        wire_mm2=2.5,
        zone="foot-right",
    ),
)
ZONES = {
    "F1": "foot-right",
    "crank": "nose",
    "clt": "bay-left",
    "wide": "tunnel",
    "ring": "hub-left",
    "e9out": "foot-right",
    "clutch": "foot-left",
    "cold": "foot-left",
    "arming": "tunnel",
    "BAT": "foot-left",
    "G1": "tunnel",
    "ecu": "foot-right",
    "match": "dash",
}
"""Where each thing lies on the plan."""

KNOWN: tuple[tuple[str, m.Rung, str], ...] = (
    ("sources.ring.spec.teeth", "measured", "counted"),
    ("sources.crank.spec.teeth", "measured", "counted through the inspection hole"),
    ("sources.clt.spec.points", "document", "sheet of the engine family"),
    ("sources.wide.spec.points", "document", "controller's sheet"),
    *(
        (f"wires.W{n}.{side}", "counted", "counted from the corner mark")
        for n, side in (
            (1, "a"),
            (2, "a"),
            (3, "a"),
            (4, "b"),
            (5, "a"),
            (7, "a"),
            (8, "b"),
            (9, "a"),
            (10, "a"),
        )
    ),
)


def job() -> m.Job:
    """Job 0409."""
    made = m.Job(
        number="0409",
        title="Curlew club racer",
        synthetic=True,
        vehicle=VEHICLE,
        devices=(
            device(
                "ecu",
                "ardle-e9",
                {"COOLANT": ("table", COOLANT), "LAMBDA": ("table", WIDEBAND), "LIMIT": "7000"},
            ),
            device("match", "ardle-r5", {"SPEED": "24050", "TACH": "3", "GAP": "2"}),
        ),
        sources=SOURCES,
        chains=CHAINS,
        wires=WIRES,
        feeds=FEEDS,
        connectors=(V52, rest_empty(E40), rest_empty(E26), CAM_EARLY, CAM_LATE),
        changes=CHANGES,
        leads=(LEAD,),
        studs=(w.Stud(id="G1", name="Tunnel stud"),),
        house=m.House(name="Saltmarsh Instrument Works"),
        notes="Remap lead from the 52-way to the 40-way and 26-way plugs. The crank sensor is of "
        "the late kind: keyed low, its wires one place round.",
    )
    return known(planned(made, "car", ZONES), KNOWN, "2026-11-12")
