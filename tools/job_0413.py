"""Job 0413: the Heron camper. All of it invented."""

from __future__ import annotations

from demo_parts import celsius_curve, device, known, planned, rpm_curve, wire

from zombrel.job import model as m
from zombrel.job import source as sources
from zombrel.job import wiring as w
from zombrel.units import KMH, RPM

VEHICLE = m.Vehicle(
    name="Brackwell Heron camper",
    owner="Fenwick-Ode",
    chassis=1180,
    cylinders=4,
    strokes=4,
    ignition="none",
    gearbox="automatic",
    ratios=(2.74, 1.54, 1.00, 0.69),
    final_drive=4.10,
    tyre="195/70 R15",
    mass_kg=2650,
    idle_rps=780 * RPM,
    redline_rps=4400 * RPM,
    top_mps=140 * KMH,
    lamps="filament",
    lamp_w=21,
    lamp_count=2,
    throttle="lever",
    system_v=12,
    battery_place="under the driver's seat, second under the bench",
    batteries=2,
    wheel_airbag=False,
    battery_ah=160,
    alternator_idle_a=60,
    own_load_a=35,
    tank_l=70,
    stall_rps=2150 * RPM,
    brake_hold_nm=2400,
    torque=rpm_curve("1000:178, 1600:236, 2000:248, 2600:240, 3400:209, 4400:158"),
)

SOURCES = (
    sources.Source(
        id="cable",
        name="Generator in the speedometer cable",
        quantity="speed",
        place="behind the dash",
        minutes=45,
        parts="in-line generator",
        spec=sources.CableGenerator(pulses_per_rev=8, drive_teeth=8, driven_teeth=21),
    ),
    sources.Source(
        id="gearbox",
        name="Gearbox output sensor",
        quantity="speed",
        place="gearbox tail",
        minutes=35,
        access="vehicle on stands",
        spec=sources.GearboxSensor(teeth=24),
    ),
    sources.Source(
        id="gps",
        name="Satellite receiver",
        quantity="speed",
        place="roof locker",
        minutes=20,
        parts="receiver with pulse output",
        spec=sources.Satellite(),
    ),
    sources.Source(
        id="phase",
        name="Alternator phase terminal",
        quantity="tach",
        place="engine bay right",
        minutes=30,
        spec=sources.Alternator(pole_pairs=6, pulley_ratio=2.35),
    ),
    sources.Source(
        id="cold",
        name="Brake switch, cold side",
        quantity="brake",
        place="pedal box",
        minutes=15,
        spec=sources.BrakeSide(side="cold"),
    ),
    sources.Source(
        id="map",
        name="Boost sender",
        quantity="boost",
        place="intake hose",
        minutes=30,
        parts="3 bar absolute sender, tee, clamps",
        spec=sources.Ratiometric(low=20e3, high=300e3, absolute=True),
    ),
    sources.Source(
        id="cooler",
        name="Charge-cooler sender",
        quantity="charge",
        place="intake after the cooler",
        minutes=25,
        parts="sender, boss",
        spec=sources.Thermistor(points=celsius_curve("0:28700, 25:10000, 50:4090, 80:1650")),
    ),
    sources.Source(
        id="park",
        name="Park switch on the selector",
        quantity="park",
        place="selector",
        minutes=25,
        spec=sources.Switch(rests="open", to="ground"),
    ),
    sources.Source(
        id="handle",
        name="Park-brake switch",
        quantity="park brake",
        place="lever",
        minutes=15,
        spec=sources.Switch(rests="open", to="ground"),
    ),
)

CHAINS = (
    m.Chain(
        id="speed-pace",
        title="Road speed",
        quantity="speed",
        source="cable",
        device="pace",
        pin="SPEED",
        wires=("W1",),
    ),
    m.Chain(
        id="brake-pace",
        title="Brake",
        quantity="brake",
        source="cold",
        device="pace",
        pin="CANCEL",
        wires=("W2",),
    ),
    m.Chain(
        id="tach",
        title="Engine speed",
        quantity="tach",
        source="phase",
        device="tacho",
        pin="TACH",
        wires=("W5",),
    ),
    m.Chain(
        id="boost",
        title="Boost",
        quantity="boost",
        source="map",
        device="gauge",
        pin="BOOST",
        wires=("W8",),
    ),
    m.Chain(
        id="charge",
        title="Charge air",
        quantity="charge",
        source="cooler",
        device="pump",
        pin="CHARGE",
        wires=("W11",),
    ),
    m.Chain(id="park", title="Park", quantity="park", source="park", device="idle", pin="PARK"),
    m.Chain(
        id="handle",
        title="Park brake",
        quantity="park brake",
        source="handle",
        device="idle",
        pin="PARK BRAKE",
    ),
    m.Chain(
        id="brake-idle", title="Brake", quantity="brake", source="cold", device="idle", pin="BRAKE"
    ),
    m.Chain(
        id="speed-idle",
        title="Road speed",
        quantity="speed",
        source="cable",
        device="idle",
        pin="SPEED",
    ),
)

BY_THE_TURBO = ("foot-left", "bulkhead-left", "bulkhead-right", "bay-right", "bay-left")
"""The way the pump's feed was meant to take: across the bay past the exhaust."""
WIRES = (
    wire("W1", "cable.out", "pace.SPEED", "white", "signal", 0.5, 1.4),
    wire("W2", "cold.1", "pace.CANCEL", "green", "signal", 0.75, 0.9),
    wire("W3", "F4", "pace.POWER", "red", "power", 1.0, 1.2, fuse_a=5.0),
    wire("W4", "pace.GROUND", "G1", "black", "ground", 1.0, 0.5),
    wire("W5", "phase.W", "tacho.TACH", "grey", "signal", 0.5, 3.1),
    wire("W6", "F4", "tacho.POWER", "red/white", "power", 0.5, 1.0, fuse_a=1.0),
    wire("W7", "tacho.GROUND", "G1", "black", "ground", 0.5, 0.6),
    wire("W8", "map.2", "gauge.BOOST", "blue", "signal", 0.5, 2.6),
    wire("W9", "F6", "gauge.POWER", "red/blue", "power", 0.5, 1.1, fuse_a=1.0),
    wire("W10", "gauge.GROUND", "G1", "black", "ground", 0.5, 0.6),
    wire("W11", "cooler.1", "pump.CHARGE", "yellow", "signal", 0.5, 1.2),
    wire("W12", "F12", "pump.POWER", "red", "power", 2.5, 2.2, fuse_a=10.0, via=BY_THE_TURBO),
    wire("W13", "pump.GROUND", "G2", "black", "ground", 2.5, 0.4),
    wire("W14", "F6", "idle.POWER", "brown", "power", 0.5, 1.0, fuse_a=1.0),
    wire("W15", "idle.GROUND", "G1", "black", "ground", 0.5, 0.6),
)
FEEDS = (
    w.Feed(
        id="F4", name="Slot F4", feed="run", fuse_a=10, marked_a=10, wire_mm2=1.5, zone="foot-left"
    ),
    w.Feed(
        id="F6",
        name="Slot F6",
        feed="run-and-crank",
        fuse_a=10,
        marked_a=10,
        wire_mm2=1.5,
        zone="foot-left",
    ),
    w.Feed(
        id="F12",
        name="Slot F12",
        feed="run",
        fuse_a=15,
        marked_a=15,
        wire_mm2=2.5,
        zone="foot-left",
    ),
)
ZONES = {
    "F4": "foot-left",
    "F6": "foot-left",
    "F12": "foot-left",
    "cable": "dash",
    "gearbox": "under",
    "gps": "roof",
    "phase": "bay-right",
    "cold": "foot-left",
    "map": "bay-left",
    "cooler": "bay-left",
    "park": "foot-right",
    "handle": "foot-right",
    "G1": "dash",
    "G2": "bay-left",
    "pace": "dash",
    "tacho": "dash",
    "gauge": "dash",
    "idle": "dash",
    "pump": "bay-left",
}
"""Where each thing lies on the plan."""

KNOWN: tuple[tuple[str, m.Rung, str], ...] = (
    ("vehicle.tyre", "measured", "read off the sidewall"),
    ("vehicle.final_drive", "measured", "tag on the axle"),
    ("vehicle.lamps", "measured", ""),
    ("vehicle.batteries", "measured", ""),
    ("sources.phase.spec.pole_pairs", "document", "alternator sheet"),
    ("sources.phase.spec.pulley_ratio", "measured", "callipers: 141 over 60 mm"),
    ("sources.cable.spec.drive_teeth", "measured", "counted through the cover"),
    ("sources.cable.spec.driven_teeth", "measured", "counted on the bench"),
    ("sources.map.place", "measured", ""),
    ("sources.cooler.spec.points", "measured", "ice, room, two pans of water"),
    ("vehicle.brake_hold_nm", "hearsay", "it crept at more, says the owner"),
    *(
        (f"wires.{w}.{side}", "measured", "")
        for w, side in (
            ("W1", "a"),
            ("W2", "a"),
            ("W3", "a"),
            ("W4", "b"),
            ("W5", "a"),
            ("W6", "a"),
            ("W7", "b"),
            ("W8", "a"),
            ("W9", "a"),
            ("W10", "b"),
            ("W11", "a"),
            ("W12", "a"),
            ("W13", "b"),
            ("W14", "a"),
            ("W15", "b"),
        )
    ),
)


def job() -> m.Job:
    """Job 0413."""
    made = m.Job(
        number="0413",
        title="Heron camper, Fenwick-Ode",
        synthetic=True,
        vehicle=VEHICLE,
        devices=(
            device("pace", "ardle-p7", {"SPEED": "D0", "TAKE-UP": "4", "SENSITIVITY": "1"}),
            device("tacho", "ardle-t1", {"TACH": "11000001"}),
            device(
                "gauge",
                "ardle-g2",
                {"BOOST": "2 bar", "HIGH": "1.2", "BACK": "0.05", "WAIT": "0.5"},
            ),
            device("idle", "ardle-h1"),
            device("pump", "ardle-c4", {"CHARGE": "2", "LEAST": "2", "SENSE": "A"}),
        ),
        sources=SOURCES,
        chains=CHAINS,
        wires=WIRES,
        feeds=FEEDS,
        studs=(w.Stud(id="G1", name="Dash stud"), w.Stud(id="G2", name="Inner-wing stud")),
        wishes=(
            m.Wish(id="idle/IDLE", value=1350 * RPM, note="owner: for the roof fan and fridge"),
            m.Wish(id="gauge/HIGH", value=1.2e5, note="turbo rebuilt, run in first"),
            m.Wish(id="pump/SENSE", value=1, note="line low runs the pump: measured unplugged"),
        ),
        house=m.House(name="Saltmarsh Instrument Works"),
        notes="Slab sides: cross wind on the coast road. Two batteries: disconnect both.",
    )
    return known(planned(made, "van", ZONES), KNOWN, "2026-11-20")
