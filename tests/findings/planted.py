"""The two tables: troubles planted one at a time, and sound variants.

``./zombrel bench --judgement`` prints how the whole of it comes out.
"""

from __future__ import annotations

from tests.findings.planted_fitting import FITTING_ROWS, FITTING_SOUND
from tests.findings.planted_plugs import PLUG_ROWS, PLUG_SOUND
from tests.findings.planted_signals import RATE_ROWS, SENSE_ROWS, SET_ROWS, lone
from tests.findings.planted_wiring import BRAKE_ROWS, DRAWN_ROWS, FEED_ROWS, POWER_ROWS
from tests.findings.planting import ALL, Facts, Row, Sound, rows

WORDINGS = ("squib +", "SRS", "supplemental restraint", "clock spring", "airbag", "AIR BAG 2")
AIRBAG_ROWS = (
    *[
        Row(f"airbag: {w}", "0412", "D2.27", {"connectors.D2.cavities.27.circuit": w})
        for w in WORDINGS
    ],
    *rows(
        "airbag: by its sheath",
        ("0412", "D2.27", {"connectors.D2.cavities.27.colour": "yellow sheath"}),
        ("0409", "V52.44", {"connectors.V52.cavities.44.colour": "yellow sheath"}),
    ),
    *rows(
        "airbag: a feed",
        ("0412", "F7", {"feeds.F7.name": "SRS module"}),
        ("0413", "F6", {"feeds.F6.hangs": "clock spring"}),
        ("0409", "F1", {"feeds.F1.name": "Air-bag computer"}),
    ),
    *rows(
        "airbag: metered",
        (
            "0412",
            "F2",
            {
                "feeds.F2.name": "Squib supply",
                "feeds.F2.volts": {"off": 12.4, "acc": 12.4, "run": 12.4, "crank": 10.5},
            },
        ),
    ),
    *rows(
        "airbag: a lead",
        (
            "0409",
            "remap",
            {
                "leads.remap.rows": [
                    {"a": "V52.1", "b": "E40.1", "signal": "squib 1 +"},
                    {"a": "V52.2", "b": "E40.2", "signal": "crank"},
                ]
            },
        ),
    ),
)
FIT_ROWS = (
    *rows(
        "a throttle it does not fit",
        ("0412 0413", "pace", {"vehicle.throttle": "wire"}),
    ),
    *rows(
        "a gearbox it does not fit",
        ("0413", "idle", {"vehicle.gearbox": "manual"}),
        ("0409", "match", {"vehicle.gearbox": "automatic"}),
    ),
    *rows(
        "a year it is not for",
        ("0412", "hub", {"devices.hub.sheet.needs": [{"fact": "chassis", "low": 3000}]}),
        ("0413", "tacho", {"devices.tacho.sheet.needs": [{"fact": "chassis", "high": 900}]}),
        ("0409", "match", {"devices.match.sheet.needs": [{"fact": "chassis", "low": 2600}]}),
    ),
    *rows(
        "hardware without its calibration",
        ("0412", "ecu", {"devices.ecu.hardware": "blend sender"}),
        (
            "0413",
            "pump",
            {"devices.pump.hardware": "ring case", "devices.pump.calibrated_for": "plain"},
        ),
        ("0409", "ecu", {"devices.ecu.hardware": "larger injectors"}),
    ),
)


def swapped(idle: float, redline: float) -> Facts:
    """Idle and redline changed over [rpm]."""
    return {"vehicle.idle_rps": redline / 60, "vehicle.redline_rps": idle / 60}


FACT_ROWS = (
    *rows(
        "a figure that no road vehicle has",
        ("0412 0413 0409", "vehicle.idle_rps", {"vehicle.idle_rps": 850.0}),
        ("0412 0413 0409", "vehicle.top_mps", {"vehicle.top_mps": 5.0}),
        ("0412", "vehicle.mass_kg", {"vehicle.mass_kg": 1.29}),
        ("0413", "vehicle.mass_kg", {"vehicle.mass_kg": 2.65}),
    ),
    *rows(
        "an input that marks a tooth fed by no toothed wheel",
        ("0409", "crank", {"chains.crank.source": "e9out"}),
    ),
    *rows(
        "a wheel with a gap at a spark box that fires at each tooth",
        ("0412", "pick", {"sources.pick.spec.teeth": 36, "sources.pick.spec.missing": 1}),
        mended=False,
    ),
    *rows(
        "a pick-up that is not one pulse a firing",
        ("0412", "pick", {"sources.pick.spec.teeth": 12}),
        ("0412", "spark", {"sources.pick.spec.on_cam": False}),
        ("0412", "spark", {"vehicle.cylinders": 4, "vehicle.firing_order": "1-3-4-2"}),
    ),
    *rows(
        "idle over redline",
        ("0412", "vehicle.idle_rps", swapped(850, 6800)),
        ("0413", "vehicle.idle_rps", swapped(780, 4400)),
        ("0409", "vehicle.idle_rps", swapped(850, 7000)),
    ),
    *rows(
        "no firing order",
        ("0412 0409", "vehicle.firing_order", {"vehicle.firing_order": "1-5-3-6-2-2"}),
        ("0413", "vehicle.firing_order", {"vehicle.firing_order": "1-3-4-2-5"}),
    ),
    *rows(
        "ratios out of order",
        ("0412 0409", "vehicle.ratios", {"vehicle.ratios": [3.42, 1.39, 2.05, 1.0, 0.79]}),
        ("0413", "vehicle.ratios", {"vehicle.ratios": [2.74, 1.0, 1.54, 0.69]}),
    ),
    *rows(
        "torque pairs unsorted",
        (
            "0412 0409",
            "vehicle.torque",
            {"vehicle.torque": [[40, 200], [25, 180], [90, 210]]},
        ),
    ),
    *rows(
        "an absurd final drive",
        ("0412 0409", "vehicle.final_drive", {"vehicle.final_drive": 36.4}),
        ("0413", "vehicle.final_drive", {"vehicle.final_drive": 0.41}),
    ),
    *rows(
        "an odd number with wasted spark",
        ("0412 0409", "vehicle.cylinders", {"vehicle.cylinders": 5, "vehicle.firing_order": ""}),
    ),
)
MADE_ROWS = (
    *rows(
        "an output whose own input has nothing",
        (
            "0412",
            "tach-hub",
            {"chains.pick-spark": ..., "devices.spark.sheet.inputs.PICK-UP.polarised": False},
        ),
        ("0412", "blend-ecu", {"chains.blend-reader": ...}),
        ("0409", "tach", lone("ecu", "CRANK", "crank")),
    ),
)
ASSUMED_ROWS = rows(
    "a typed length", ("0413", "W1", {"wires.W1.via": []}), level="watch", mended=False
)
PLANTED: tuple[Row, ...] = (
    *MADE_ROWS,
    *ASSUMED_ROWS,
    *POWER_ROWS,
    *FEED_ROWS,
    *BRAKE_ROWS,
    *RATE_ROWS,
    *SENSE_ROWS,
    *SET_ROWS,
    *DRAWN_ROWS,
    *AIRBAG_ROWS,
    *FIT_ROWS,
    *FITTING_ROWS,
    *PLUG_ROWS,
    *FACT_ROWS,
)


def each(jobs: str, *facts: Facts, name: str = "") -> list[Sound]:
    """Sound variants: each fact in each job."""
    return [Sound(name or str(f)[:60], job, f) for job in jobs.split() for f in facts]


def rated(tyre: str) -> Facts:
    """Another tyre."""
    return {"vehicle.tyre": tyre}


DAISY = {"place": "pace", "pin": "POWER"}
SOUND: tuple[Sound, ...] = (
    *FITTING_SOUND,
    *PLUG_SOUND,
    # tyres that leave the settings within a per cent
    *each(
        "0412",
        rated("195/65 R15") | {"devices.hub.settings.SPEED.at": "23770"},
        name="tyre",
    ),
    *each(
        "0409",
        rated("6.50-16") | {"devices.match.settings.SPEED.at": "20440"},
        name="a bias tyre",
    ),
    *each("0412 0409", rated("205/60R15"), rated("205/60 VR15"), name="tyre, written otherwise"),
    *each("0412 0409", {"vehicle.mass_kg": 1350.0}, name="mass"),
    *each(ALL, {"vehicle.idle_rps": 900 / 60}, name="idle"),
    *each(ALL, {"vehicle.battery_ah": None}, name="battery not known"),
    *each(ALL, {"vehicle.battery_ah": 90.0}, name="a bigger battery"),
    *each(ALL, {"vehicle.batteries": 2}, name="two batteries"),
    *each("0409", {"vehicle.lamps": "led"}, name="LED lamps no cancel input needs"),
    *each("0412", {"vehicle.lamps": "filament"}, name="bulbs behind a relay"),
    *each("0413", {"vehicle.lamp_w": 18.0}, {"vehicle.lamp_count": 3}, name="other bulbs"),
    # a run pin on run-and-crank, and other feeds that serve
    *each("0412", {"wires.W4.a": {"place": "F8"}}, name="run pin on run-and-crank"),
    *each("0413", {"feeds.F4.feed": "run-and-crank"}, name="run pin on run-and-crank"),
    *each("0412", {"feeds.F2.kind": "box"}, {"feeds.F7.kind": "box"}, name="boxes"),
    *each("0413", {"feeds.F12.kind": "box"}, name="boxes"),
    # fuses and wires with more in hand
    *each("0412", {"wires.W4.area_mm2": 1.5}, {"wires.W13.area_mm2": 10.0}, name="thicker"),
    *each("0413", {"wires.W12.area_mm2": 4.0}, {"wires.W13.area_mm2": 4.0}, name="thicker"),
    *each("0409", {"wires.W3.area_mm2": 4.0}, {"wires.W4.area_mm2": 4.0}, name="thicker"),
    *each("0412", {"feeds.F9.wire_mm2": 1.5}, {"feeds.F9.load_a": 3.0}, name="slots"),
    *each("0412", {"wires.W12.fuse_at_m": 0.1}, name="a fuse near its feed"),
    *each("0412", {"feeds.F8.marked_a": 15.0}, name="a slot marked for more"),
    *each("0413", {"feeds.F12.marked_a": 20.0}, name="a slot marked for more"),
    # senders and sources alike
    *each("0412", {"sources.clt.spec.seal": "tape"}, name="tape on a two-wire sender"),
    *each("0413", {"sources.cooler.spec.seal": "sealant"}, name="sealant on a two-wire sender"),
    *each("0412", {"sources.oil.spec.out_ohm": 300.0}, name="output resistance"),
    *each("0412", {"sources.ring.spec.volts_per_hz": 0.012}, name="a stronger ring"),
    *each("0409", {"sources.crank.spec.volts_per_hz": 0.009}, name="a stronger sensor"),
    *each("0409", {"sources.clutch.spec.contact_ohm": 0.5}, name="an older contact"),
    *each("0412", {"studs.G1.load_a": 3.0}, {"studs.G2.rings": 2}, name="studs"),
    # a device that gets its feed from the pin of another
    *each("0412", {"wires.W12.a": DAISY, "wires.W12.via": ["dash"]}, name="daisy chain"),
    *each(
        "0413",
        {"wires.W9.a": {"place": "tacho", "pin": "POWER"}, "wires.W9.via": ["dash"]},
        name="daisy chain",
    ),
    # the shop's own ways, and units of the person, which decide nothing
    *each(ALL, {"house.battery": "positive first"}, name="battery order"),
    *each(ALL, {"house.joint_by": "solder"}, name="joints"),
    *each(ALL, {"house.fuse_within_m": 0.3}, name="fuse distance"),
    *each(ALL, {"vehicle.owner": "another"}, {"vehicle.chassis": 2000}, name="papers"),
    *each(ALL, {"vehicle.wheel_airbag": True}, name="an airbag in the wheel"),
    *each("0412", {"vehicle.top_mps": 50.0}, name="a slower car"),
    *each("0413", {"vehicle.top_mps": 36.0}, name="a slower car"),
)
