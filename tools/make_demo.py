"""Make the demo job and its road logs from the scenario; seeded, so always the same bytes.

Everything here is invented. Run ``python tools/make_demo.py`` after changing it.
"""

from __future__ import annotations

import random
import sys
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
sys.path.insert(0, str(ROOT / "src"))

import msgspec

from zombrel.catalog import DATA, DEMO
from zombrel.catalog.cautions import Caution
from zombrel.catalog.sheets import sheet_schema, shelf
from zombrel.job import model as m
from zombrel.job.edits import apply
from zombrel.job.ledger import evidence
from zombrel.store.zjob import from_bytes, to_bytes
from zombrel.units import KMH, KNOT, RPM

SCHEMAS = {"job": m.Job, "sources": tuple[m.Source, ...], "cautions": tuple[Caution, ...]}
SHEETS = {s.id: s for s in shelf()[0]}
SYNTHETIC = "synthetic: made by tools/make_demo.py, no real vehicle or device"


def device(key: str, sheet: str, **settings: str) -> m.Device:
    s = SHEETS[sheet]
    return m.Device(
        id=key,
        name=s.name,
        sheet=s,
        settings=tuple(m.Setting(pin=p, at=at) for p, at in settings.items()),
    )


def wire(key: str, a: str, b: str, colour: str, carries: str, area: float, length: float,
         **more: object) -> m.Wire:  # fmt: skip
    def end(text: str) -> m.End:
        place, _, pin = text.partition(".")
        return m.End(place=place, pin=pin)

    return m.Wire(
        id=key, a=end(a), b=end(b), colour=colour, carries=carries, area_mm2=area,
        length_m=length, **more,
    )  # fmt: skip


VEHICLE = m.Vehicle(
    name="Brackwell Curlew shooting-brake", owner="Marsh", chassis=2714, split_chassis=2600,
    split_note="Dash connector D2 was renumbered: sheets for earlier cars give other cavities.",
    cylinders=6, strokes=4, ignition="wasted-spark", gearbox="manual",
    ratios=(3.42, 2.05, 1.39, 1.00, 0.79), final_drive=3.64, tyre="205/60 R15", mass_kg=1290,
    idle_rps=850 * RPM, redline_rps=6800 * RPM, top_mps=200 * KMH, lamps="led", lamp_w=21,
    lamp_count=2, throttle="cable", system_v=12, battery_place="boot", wheel_airbag=False,
)  # fmt: skip

SOURCES = (
    m.Source(id="ring", name="Left rear tone ring", quantity="speed", place="left rear hub",
             minutes=40, spec=m.WheelRing(teeth=46, volts_per_hz=0.009)),
    m.Source(id="prop", name="Propeller-shaft magnets", quantity="speed", place="underbody",
             minutes=90, spec=m.PropShaft(magnets=4, volts_per_hz=0.02)),
    m.Source(id="coil2", name="Coil 2, switched side", quantity="tach", place="engine bay left",
             minutes=10, spec=m.CoilTap(kick_v=300)),
    m.Source(id="common", name="Common feed of the coils", quantity="tach",
             place="engine bay left", minutes=25, spec=m.CommonFeed()),
    m.Source(id="s4out", name="Spark box TACH OUT", quantity="tach", place="bulkhead",
             minutes=10, spec=m.BoxOutput(device="spark", pin="TACH OUT")),
    m.Source(id="cold", name="Brake switch, cold side", quantity="brake", place="pedal box",
             minutes=15, spec=m.BrakeSide(side="cold")),
    m.Source(id="hot", name="Brake switch, hot side", quantity="brake", place="pedal box",
             minutes=15, spec=m.BrakeSide(side="hot")),
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
)  # fmt: skip

COIL_2 = m.Neighbour(what="coil", name="coil 2", spacing_m=0.06, along_m=0.30)
BAY = {"over_ambient_k": 35.0}
WIRES = (
    wire("W1", "ring.+", "pace.SPEED", "white", "signal", 0.5, 5.2, neighbours=(COIL_2,), **BAY),
    wire("W2", "ring.-", "pace.SPEED-", "black", "signal", 0.5, 5.2, **BAY),
    wire("W3", "D2.27", "pace.CANCEL", "green/white", "signal", 0.75, 1.1),
    wire("W4", "F7", "pace.POWER", "red", "power", 1.0, 2.1, fuse_a=5.0),
    wire("W5", "pace.GROUND", "G1", "black", "ground", 1.0, 0.6),
    wire("W6", "F9", "hub.RUN", "brown", "power", 1.0, 3.4, fuse_a=3.0),
    wire("W7", "F2", "hub.CONST", "red/yellow", "power", 0.5, 1.8, fuse_a=1.0),
    wire("W8", "hub.GROUND", "G1", "black", "ground", 1.0, 0.7),
    wire("W9", "ring.+", "hub.SPEED", "blue/yellow", "signal", 0.5, 5.6, twisted=True),
    wire("W10", "spark.TACH OUT", "hub.TACH", "grey/red", "signal", 0.5, 1.6),
    wire("W11", "coil2.-", "lamp.TACH", "grey", "signal", 0.5, 1.8, **BAY),
    wire("W12", "F7", "lamp.POWER", "red/white", "power", 0.5, 1.4, fuse_a=1.0),
    wire("W13", "BAT", "spark.BATT", "red", "power", 4.0, 4.6, fuse_a=20.0),
    wire("W14", "spark.GROUND", "G2", "black", "ground", 4.0, 0.4, **BAY),
    wire("W15", "F5", "spark.KEY", "orange", "power", 0.5, 1.2, fuse_a=1.0),
    wire("W16", "lamp.GROUND", "G1", "black", "ground", 0.5, 0.9),
)
FEEDS = (
    m.Feed(id="BAT", name="Battery post", feed="constant"),
    m.Feed(id="F2", name="Slot F2", feed="constant", fuse_a=15, marked_a=15, wire_mm2=1.5),
    m.Feed(id="F5", name="Slot F5", feed="accessory", fuse_a=10, marked_a=10, wire_mm2=1.0),
    m.Feed(id="F7", name="Slot F7", feed="run", fuse_a=10, marked_a=10, wire_mm2=1.5),
    m.Feed(id="F8", name="Slot F8", feed="run-and-crank", fuse_a=10, marked_a=10, wire_mm2=1.5),
    m.Feed(id="F9", name="Slot F9", feed="run", fuse_a=20, marked_a=10, wire_mm2=1.0, load_a=4),
)
D2 = m.Connector(
    id="D2", name="Dash connector D2", rows=4, columns=10, key="the lever end",
    cavities=tuple(
        m.Cavity(n=n, colour=colour, circuit=circuit, blank=colour == "")
        for n, colour, circuit in (
            (1, "red", "constant"), (2, "black", "ground"), (4, "green/white", ""),
            (9, "", ""), (12, "", ""), (15, "blue/yellow", "park brake"), (18, "", ""),
            (19, "grey/red", "lights"), (22, "", ""), (23, "brown", "illumination"),
            (27, "green/white", "brake lamps"), (31, "", ""), (36, "", ""), (39, "yellow", "horn"),
        )
    ),
)  # fmt: skip

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
    ("devices.pace.settings.SPEED.at", "measured", "read back from the dials"),
    ("devices.hub.settings.SPEED.at", "measured", "read back from the menu"),
)


def demo_job() -> m.Job:
    """Job 0412."""
    job = m.Job(
        number="0412", title="Curlew shooting-brake, Marsh", synthetic=True, vehicle=VEHICLE,
        devices=(
            device("pace", "ardle-p7", SPEED="E7"),
            device("hub", "ardle-g6", SPEED="24050", TACH="6"),
            device("spark", "ardle-s4"),
            device("lamp", "ardle-l2", TACH="1"),
        ),
        sources=SOURCES, chains=CHAINS, wires=WIRES, feeds=FEEDS,
        studs=(m.Stud(id="G1", name="Dash stud"), m.Stud(id="G2", name="Bulkhead stud")),
        connectors=(D2,),
        notes="Saltmarsh Instrument Works, bay 1. Helper on Thursday.",
    )  # fmt: skip
    for path, rung, note in KNOWN:
        job = apply(job, evidence(job, path, rung, note, "2026-11-19", "bay 1"))
    return job


TRUE_PER_M = 46 / 1.91174 * 1.0135
"""What the ring really gives on this car: the tyres roll 1.35 % shorter than the tables."""
SET_PER_M = 0.8 * 2**2.1 * 7
"""Dials at C1 behind a divider of 7."""


def drive(seed: int) -> list[tuple[float, float, float]]:
    """(t, satellite m/s, shown m/s): five steady speeds, a second's lag, some bad fixes."""
    rng = random.Random(seed)
    plan = [(40, 50), (45, 70), (45, 90), (45, 110), (40, 80), (35, 60)]
    true, v = [], 50 * KMH
    for seconds, target in plan:
        for _ in range(seconds):
            v += max(-1.1, min(0.8, (target * KMH - v) * 0.6)) + rng.gauss(0, 0.015)
            true.append(v)
    rows = []
    for i, v in enumerate(true):
        lagged = true[max(0, i - 1)]
        seen = lagged + rng.gauss(0, 0.03)
        if i in (63, 64, 131, 188):
            seen += rng.choice((-1, 1)) * rng.uniform(2, 5)
        shown = v * TRUE_PER_M / SET_PER_M + rng.gauss(0, 0.04)
        rows.append((float(i), seen, round(shown / KMH) * KMH))
    return rows


def csv_log() -> str:
    lines = [f"# {SYNTHETIC}; pace unit at C1 behind ÷7",
             "time s;satellite km/h;indicated km/h"]  # fmt: skip
    for t, seen, shown in drive(412):
        lines.append(f"{t:.0f};{seen / KMH:.2f};{shown / KMH:.0f}".replace(".", ","))
    return "\n".join(lines) + "\n"


def checked(body: str) -> str:
    total = 0
    for character in body:
        total ^= ord(character)
    return f"${body}*{total:02X}"


def nmea_log() -> str:
    lines = [f"# {SYNTHETIC}; pace unit at C1 behind ÷7"]
    for t, seen, shown in drive(413):
        clock = f"10{int(t) // 60:02d}{int(t) % 60:02d}.00"
        lines.append(checked(f"PZIND,{clock},{shown / KMH:.0f}"))
        lost = 140 <= t < 146
        status, speed = ("V", "") if lost else ("A", f"{seen / KNOT:.2f}")
        lines.append(
            checked(f"GPRMC,{clock},{status},0000.000,N,00000.000,E,{speed},90.0,191126,,,A")
        )
    return "\r\n".join(lines) + "\r\n"


def main() -> None:
    job = from_bytes(to_bytes(demo_job()))  # numbers as a reader will see them
    (DEMO / "0412.zjob").write_bytes(to_bytes(job))
    (DEMO / "0412-road.csv").write_text(csv_log(), encoding="utf-8")
    (DEMO / "0412-road.nmea").write_text(nmea_log(), encoding="utf-8", newline="")
    schema = msgspec.json.format(msgspec.json.encode(sheet_schema(), order="sorted"), indent=1)
    (DATA / "sheet.schema.json").write_bytes(schema + b"\n")
    for name, kind in SCHEMAS.items():
        text = msgspec.json.encode(msgspec.json.schema(kind), order="sorted")
        (DATA / f"{name}.schema.json").write_bytes(msgspec.json.format(text, indent=1) + b"\n")


if __name__ == "__main__":
    main()
