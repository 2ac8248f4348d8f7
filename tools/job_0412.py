"""Job 0412: the Curlew shooting-brake. All of it invented."""

from __future__ import annotations

from demo_parts import celsius_curve, device, known, planned, rpm_curve, wire
from zombrel.job import model as m
from zombrel.job import source as sources
from zombrel.job import wiring as w
from zombrel.units import KMH, RPM

VEHICLE = m.Vehicle(
    name="Brackwell Curlew shooting-brake", owner="Marsh", chassis=2714, split_chassis=2600,
    split_note="Dash connector D2 was renumbered: sheets for earlier cars give other cavities.",
    cylinders=6, strokes=4, ignition="wasted-spark",
    firing_order="1-5-3-6-2-4", gearbox="manual",
    ratios=(3.42, 2.05, 1.39, 1.00, 0.79), final_drive=3.64, tyre="205/60 R15", mass_kg=1290,
    idle_rps=850 * RPM, redline_rps=6800 * RPM, top_mps=200 * KMH, lamps="led", lamp_w=21,
    lamp_count=2, throttle="cable", system_v=12, battery_place="boot", wheel_airbag=False,
    torque=rpm_curve("1500:205, 2500:232, 3500:255, 4500:262, 5500:247, 6200:221, 6800:188"),
    battery_ah=60, alternator_idle_a=48, own_load_a=27,
    tank_l=55, initial_deg=10, mechanical=rpm_curve("900:0, 1500:4, 2500:13, 3600:21, 6800:22"),
    timing_seen=rpm_curve("900:10.5, 2000:19, 3000:26.5, 4500:32"),
)  # fmt: skip

CLT = celsius_curve("20:3030, 40:1437, 60:741, 80:407, 100:239")
TANK = (
    (0.0, 70.0),
    (0.01, 62.0),
    (0.02, 52.0),
    (0.03, 39.0),
    (0.04, 24.0),
    (0.05, 10.0),
    (0.055, 6.0),
)
"""Filled in steps of 10 l: a saddle-shaped tank."""

SOURCES = (
    sources.Source(id="ring", name="Left rear tone ring", quantity="speed", place="left rear hub",
             minutes=40, spec=sources.WheelRing(teeth=46, volts_per_hz=0.009)),
    sources.Source(id="prop", name="Propeller-shaft magnets", quantity="speed",
             place="underbody", minutes=90, spec=sources.PropShaft(magnets=4, volts_per_hz=0.02)),
    sources.Source(id="coil2", name="Coil 2, switched side", quantity="tach",
             place="engine bay left", minutes=10, spec=sources.CoilTap(kick_v=300)),
    sources.Source(id="common", name="Common feed of the coils", quantity="tach",
             place="engine bay left", minutes=25, spec=sources.CommonFeed()),
    sources.Source(id="s4out", name="Spark box TACH OUT", quantity="tach", place="bulkhead",
             minutes=10, spec=sources.BoxOutput(device="spark", pin="TACH OUT")),
    sources.Source(id="cold", name="Brake switch, cold side", quantity="brake", place="pedal box",
             minutes=15, spec=sources.BrakeSide(side="cold")),
    sources.Source(id="gps", name="Satellite receiver", quantity="speed", place="rear shelf",
             minutes=25, parts="receiver with pulse output", spec=sources.Satellite()),
    sources.Source(id="clt", name="Coolant sender of the hub", quantity="coolant",
             place="thermostat housing", minutes=30, access="drain a litre of coolant",
             parts="sender, 1/8 inch adapter",
             spec=sources.Thermistor(points=CLT)),
    sources.Source(id="clt-car", name="Coolant sender of the dash gauge", quantity="coolant",
             place="cylinder head", minutes=15, spoils="dash gauge",
             spec=sources.Thermistor(points=celsius_curve("20:3020, 60:738, 100:238"),
                                     one_wire=True, shared_ohm=680)),
    sources.Source(id="oil", name="Oil pressure sender of the hub", quantity="oil",
             place="oil filter head", minutes=35, parts="sender, tee",
             spec=sources.Ratiometric(low=0, high=1e6)),
    sources.Source(id="tank", name="Tank sender", quantity="fuel", place="under the rear seat",
             minutes=25, spec=sources.Resistive(points=TANK)),
    sources.Source(id="lamps", name="Side lamp feed, D2 cavity 19", quantity="lights",
             place="dash connector D2", minutes=10, spec=sources.Switch(rests="open", to="supply")),
    sources.Source(id="clutch", name="Clutch switch", quantity="clutch", place="pedal box",
             minutes=25, parts="switch, bracket",
             spec=sources.Switch(rests="open", to="ground")),
    sources.Source(id="arming", name="Launch switch on the dash", quantity="arm", place="dash",
             minutes=20, parts="switch with guard", spec=sources.Switch(rests="open", to="supply")),
    sources.Source(id="pick", name="Distributor-shaft pick-up", quantity="tach",
             place="engine bay right", minutes=20,
             spec=sources.ToothedWheel(teeth=6, on_cam=True, volts_per_hz=0.05)),
    sources.Source(id="flex", name="Fuel-blend sender", quantity="blend",
             place="fuel line, bulkhead", minutes=50, parts="sender, two hose steps",
             spec=sources.BlendSender()),
    sources.Source(id="blend-out", name="Blend reader OUT", quantity="blend", place="bulkhead",
             minutes=15, spec=sources.BoxOutput(device="blend", pin="OUT")),
    sources.Source(id="hot", name="Brake switch, hot side", quantity="brake", place="pedal box",
             minutes=15, spec=sources.BrakeSide(side="hot")),
)  # fmt: skip

CHAINS = (
    m.Chain(id="speed-pace", title="Road speed", quantity="speed", source="ring", device="pace",
            pin="SPEED", wires=("W1", "W2")),
    m.Chain(id="brake-pace", title="Brake", quantity="brake", source="cold", device="pace",
            pin="CANCEL", wires=("W3",)),
    m.Chain(id="tach-lamp", title="Engine speed", quantity="tach", source="coil2", device="lamp",
            pin="TACH", wires=("W11",)),
    m.Chain(id="speed-hub", title="Road speed", quantity="speed", source="ring", device="hub",
            pin="SPEED", wires=("W9",)),
    m.Chain(id="tach-hub", title="Engine speed", quantity="tach", source="s4out", device="hub",
            pin="TACH", wires=("W10",)),
    m.Chain(id="temp-hub", title="Coolant", quantity="coolant", source="clt", device="hub",
            pin="TEMP", wires=("W20",)),
    m.Chain(id="oil-hub", title="Oil pressure", quantity="oil", source="oil", device="hub",
            pin="OIL", wires=("W21",)),
    m.Chain(id="fuel-hub", title="Fuel", quantity="fuel", source="tank", device="hub",
            pin="FUEL", wires=("W22",)),
    m.Chain(id="dim-hub", title="Lights", quantity="lights", source="lamps", device="hub",
            pin="DIM"),
    m.Chain(id="clutch-lamp", title="Clutch", quantity="clutch", source="clutch", device="lamp",
            pin="CLUTCH"),
    m.Chain(id="pick-spark", title="Trigger", quantity="tach", source="pick", device="spark",
            pin="PICK-UP", polarity="kept"),
    m.Chain(id="arm-spark", title="Launch arming", quantity="arm", source="arming",
            device="spark", pin="ARM"),
    m.Chain(id="blend-reader", title="Fuel blend", quantity="blend", source="flex",
            device="blend", pin="SENDER"),
    m.Chain(id="blend-ecu", title="Fuel blend", quantity="blend", source="blend-out",
            device="ecu", pin="BLEND", wires=("W19",)),
)  # fmt: skip

COIL_2 = w.Neighbour(what="coil", name="coil 2", spacing_m=0.06, along_m=0.30, zone="bay-left")
BY_THE_BAY = (
    "hub-left", "under-rear", "under-front", "bay-left", "bulkhead-left", "foot-left", "dash",
)  # fmt: skip
"""The way the speed lead was meant to take: under the car and past the coils."""
WIRES = (
    wire(
        "W1",
        "ring.+",
        "pace.SPEED",
        "white",
        "signal",
        0.5,
        5.2,
        neighbours=(COIL_2,),
        via=BY_THE_BAY,
    ),
    wire("W2", "ring.-", "pace.SPEED-", "black", "signal", 0.5, 5.2, via=BY_THE_BAY),
    wire("W3", "D2.27", "pace.CANCEL", "green/white", "signal", 0.75, 1.1),
    wire("W4", "F7", "pace.POWER", "red", "power", 1.0, 2.1, fuse_a=5.0),
    wire("W5", "pace.GROUND", "G1", "black", "ground", 1.0, 0.6),
    wire("W6", "F9", "hub.RUN", "brown", "power", 1.0, 3.4, fuse_a=3.0),
    wire("W7", "F2", "hub.CONST", "red/yellow", "power", 0.5, 1.8, fuse_a=1.0),
    wire("W8", "hub.GROUND", "G1", "black", "ground", 1.0, 0.7),
    wire("W9", "ring.+", "hub.SPEED", "blue/yellow", "signal", 0.5, 5.6, twisted=True),
    wire("W10", "spark.TACH OUT", "hub.TACH", "grey/red", "signal", 0.5, 1.6),
    wire("W11", "coil2.-", "lamp.TACH", "grey", "signal", 0.5, 1.8),
    wire("W12", "F7", "lamp.POWER", "red/white", "power", 0.5, 1.4, fuse_a=1.0),
    wire("W13", "BAT", "spark.BATT", "red", "power", 4.0, 4.6, fuse_a=20.0),
    wire("W14", "spark.GROUND", "G2", "black", "ground", 4.0, 0.4),
    wire("W15", "F5", "spark.KEY", "orange", "power", 0.5, 1.2, fuse_a=1.0),
    wire("W17", "F8", "blend.POWER", "violet", "power", 0.5, 2.2, fuse_a=1.0),
    wire("W18", "blend.GROUND", "G3", "black", "ground", 0.5, 0.8, fixed=True),
    wire("W19", "blend.OUT", "ecu.BLEND", "yellow/green", "signal", 0.5, 2.4, twisted=True),
    wire("W20", "clt.1", "hub.TEMP", "yellow", "signal", 0.5, 2.1),
    wire("W21", "oil.2", "hub.OIL", "blue", "signal", 0.5, 2.3),
    wire("W22", "tank.1", "hub.FUEL", "grey/blue", "signal", 0.5, 3.8),
    wire("W16", "lamp.GROUND", "G1", "black", "ground", 0.5, 0.9),
)
FEEDS = (
    w.Feed(id="BAT", name="Battery post", feed="constant", kind="battery"),
    w.Feed(
        id="F2",
        name="Slot F2",
        feed="constant",
        fuse_a=15,
        marked_a=15,
        wire_mm2=1.5,
        zone="foot-left",
    ),
    w.Feed(
        id="F5",
        name="Slot F5",
        feed="accessory",
        fuse_a=10,
        marked_a=10,
        wire_mm2=1.0,
        zone="foot-left",
        volts=w.KeyVolts(off=0, acc=12.4, run=12.4, crank=0.2, lights=12.3),
    ),
    w.Feed(
        id="F7",
        name="Slot F7",
        feed="run",
        fuse_a=10,
        marked_a=10,
        wire_mm2=1.5,
        zone="foot-left",
        volts=w.KeyVolts(off=0, acc=0.1, run=12.4, crank=0.3, lights=12.3),
    ),
    w.Feed(
        id="F8",
        name="Slot F8",
        feed="run-and-crank",
        fuse_a=10,
        marked_a=10,
        wire_mm2=1.5,
        zone="foot-left",
        volts=w.KeyVolts(off=0, acc=0, run=12.4, crank=10.6, lights=12.3),
    ),
    w.Feed(
        id="F9",
        name="Slot F9",
        feed="run",
        fuse_a=20,
        marked_a=10,
        wire_mm2=1.0,
        load_a=4,
        hangs="rear wiper",
        zone="foot-left",
    ),
)
D2 = w.Connector(
    id="D2", name="Dash connector D2", rows=4, columns=10, key="the lever end", zone="dash",
    family="BK 2.8", terminals="female", least_mm2=0.5, most_mm2=1.0,
    cavities=tuple(
        w.Cavity(n=n, colour=colour, circuit=circuit, blank=colour == "")
        for n, colour, circuit in (
            (1, "red", "constant"), (2, "black", "ground"), (4, "green/white", ""),
            (9, "", ""), (12, "", ""), (15, "blue/yellow", "park brake"), (18, "", ""),
            (19, "grey/red", "lights"), (22, "", ""), (23, "brown", "illumination"),
            (27, "green/white", "brake lamps"), (31, "", ""), (36, "", ""), (39, "yellow", "horn"),
        )
    ),
)  # fmt: skip

B4 = w.Connector(
    id="B4", name="Bulkhead connector B4", rows=3, columns=5, row_lengths=(4, 5, 4),
    key="the square corner", keyed="top", zone="bulkhead-left", family="BK 4.8 sealed",
    terminals="male", least_mm2=0.75, most_mm2=2.5, sealed=True,
    cavities=(
        w.Cavity(n=1, colour="red", circuit="constant"),
        w.Cavity(n=2, colour="black", circuit="ground"),
        w.Cavity(n=3, colour="brown/white", circuit="start"),
        w.Cavity(n=4, blank=True),
        w.Cavity(n=5, colour="grey/red", circuit="lights"),
        w.Cavity(n=7, colour="green/white", circuit="brake lamps"),
        w.Cavity(n=8, colour="violet", circuit="wiper park"),
        w.Cavity(n=11, colour="blue", circuit="washer"),
        w.Cavity(n=13, unusable=True),
    ),
)  # fmt: skip

ZONES = {
    "F2": "foot-left", "F5": "foot-left", "F7": "foot-left", "F8": "foot-left", "F9": "foot-left",
    "ring": "hub-left", "prop": "under-rear", "coil2": "bay-left", "common": "bay-left",
    "s4out": "bulkhead-left", "cold": "foot-left", "gps": "boot", "clt": "bay-left",
    "clt-car": "bay-left", "oil": "bay-left", "tank": "seat", "lamps": "dash",
    "clutch": "foot-left", "arming": "dash", "pick": "bay-right", "flex": "bulkhead-right",
    "blend-out": "bulkhead-right", "hot": "foot-left", "BAT": "boot", "G1": "dash",
    "G2": "bulkhead-left", "G3": "bulkhead-right", "pace": "dash", "hub": "dash",
    "spark": "bulkhead-left", "lamp": "dash", "blend": "bulkhead-right", "ecu": "foot-right",
}  # fmt: skip
"""Where each thing lies on the plan."""

KNOWN: tuple[tuple[str, m.Rung, str], ...] = (
    ("vehicle.chassis", "measured", "read off the plate"),
    ("vehicle.split_chassis", "document", "workshop bulletin"),
    ("vehicle.cylinders", "measured", "counted"),
    ("vehicle.ignition", "measured", "three coils, two leads each"),
    ("vehicle.ratios", "document", "handbook"),
    ("vehicle.final_drive", "document", "handbook; axle tag not read yet"),
    ("vehicle.tyre", "measured", "read off the sidewall"),
    ("vehicle.gearbox", "measured", ""),
    ("vehicle.lamps", "hearsay", "the owner fitted them"),
    ("vehicle.throttle", "measured", ""),
    ("vehicle.idle_rps", "document", "handbook"),
    ("vehicle.redline_rps", "document", "handbook"),
    ("vehicle.wheel_airbag", "measured", "no module in the wheel"),
    ("vehicle.battery_place", "measured", ""),
    ("sources.ring.spec.teeth", "measured", "counted twice with chalk"),
    ("sources.ring.spec.volts_per_hz", "measured", "wheel spun by drill, 10 kΩ across"),
    ("wires.W1.a", "counted", "hub connector, cavity 1"),
    ("wires.W2.a", "counted", "hub connector, cavity 2"),
    ("wires.W3.a", "colour", "green/white as in the sheet"),
    ("wires.W4.a", "measured", "slot metered, key in each position"),
    ("wires.W5.b", "measured", "0.03 V to battery negative"),
    ("wires.W6.a", "document", "fuse card"),
    ("wires.W7.a", "measured", "slot metered"),
    ("wires.W8.b", "measured", ""),
    ("wires.W9.a", "counted", ""),
    ("wires.W11.a", "other car", "as on the last Curlew"),
    ("wires.W12.a", "measured", ""),
    ("wires.W13.a", "measured", ""),
    ("wires.W14.b", "counted", ""),
    ("wires.W15.a", "measured", "slot metered, not while cranking"),
    ("wires.W16.b", "measured", ""),
    ("feeds.F5.feed", "measured", "dies when the key goes to start"),
    ("feeds.F9.wire_mm2", "measured", "callipers over the copper"),
    ("feeds.F9.fuse_a", "measured", "read off the fuse"),
    ("sources.clt.spec.points", "measured", "pan of water, thermometer, meter"),
    ("sources.tank.spec.points", "measured", "filled 10 l at a time"),
    ("studs.G3.ohm", "measured", "2.46 V to battery negative with the pump running"),
    ("wires.W17.a", "measured", ""),
    ("wires.W18.b", "measured", ""),
    ("wires.W20.a", "counted", "one tab"),
    ("wires.W21.a", "counted", ""),
    ("wires.W22.a", "counted", ""),
    ("vehicle.torque", "document", "rolling-road sheet of the engine's builder"),
    ("devices.pace.settings.SPEED.at", "measured", "read back from the dials"),
    ("devices.hub.settings.SPEED.at", "measured", "read back from the menu"),
)


def job() -> m.Job:
    """Job 0412."""
    made = m.Job(
        number="0412", title="Curlew shooting-brake, Marsh", synthetic=True, vehicle=VEHICLE,
        devices=(
            device("pace", "ardle-p7", {"SPEED": "E7", "ENGAGE": "1", "GAIN": "1"}),
            device("hub", "ardle-g6", {
                "SPEED": "24050", "TACH": "6", "TEMP": "B",
                "FUEL": ("table", TANK), "TEMP HIGH": "105", "TEMP BACK": "3",
                "TEMP WAIT": "5", "OIL LOW": "0.8", "OIL BACK": "0.2", "OIL WAIT": "2",
                "RESERVE": "7",
            }),
            device("spark", "ardle-s4", {"LAUNCH": "42", "LIMIT": "68"}),
            device("lamp", "ardle-l2", {"TACH": "1", "SHIFT": "6200", "LAUNCH": "4200"}),
            device("blend", "ardle-b3"),
            device("ecu", "brackwell-e5"),
        ),
        sources=SOURCES, chains=CHAINS, wires=WIRES, feeds=FEEDS,
        studs=(w.Stud(id="G1", name="Dash stud"), w.Stud(id="G2", name="Bulkhead stud", rings=1),
               w.Stud(id="G3", name="Lift bracket, painted", ohm=0.308, load_a=8.0)),
        connectors=(D2, B4),
        changes=(w.Change(id="C1", kind="tap", connector="D2", cavity=27, wire="W3",
                          note="cold side of the brake switch"),),
        wishes=(
            m.Wish(id="spark/LAUNCH", value=4200 * RPM, note="owner: tyres spin above"),
            m.Wish(id="lamp/LAUNCH", value=4200 * RPM, note="as the spark box"),
        ),
        notes="Saltmarsh Instrument Works, bay 1. Helper on Thursday.",
    )  # fmt: skip
    return known(planned(made, "car", ZONES), KNOWN, "2026-11-19")
