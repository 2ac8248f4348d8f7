"""Troubles of feeds, fuses, relays, brake lamps and of what is drawn wrongly."""

from __future__ import annotations

from tests.findings.planting import rows

POWER_ROWS = (
    *rows(
        "no fuse at the battery post",
        ("0412", "W13", {"wires.W13.fuse_a": None}),
        ("0409", "W9", {"wires.W9.fuse_a": None}),
    ),
    *rows(
        "slot and in-line fuse both absent",
        ("0412", "W12", {"feeds.F7.fuse_a": None, "wires.W12.fuse_a": None}),
        ("0413", "W9", {"feeds.F6.fuse_a": None, "wires.W9.fuse_a": None}),
        ("0409", "W3", {"feeds.F1.fuse_a": None, "wires.W3.fuse_a": None}),
    ),
    *rows(
        "in-line fuse far from the post",
        ("0412", "W13", {"wires.W13.fuse_at_m": 1.5}),
        ("0409", "W9", {"wires.W9.fuse_at_m": 0.6}),
    ),
    *rows(
        "fuse under its load",
        ("0412", "W4", {"wires.W4.fuse_a": 4.0}),
        ("0413", "W12", {"wires.W12.fuse_a": 7.5}),
        ("0409", "W3", {"wires.W3.fuse_a": 10.0}),
    ),
    *rows(
        "slot under its load",
        ("0412", "F7", {"feeds.F7.load_a": 5.0}),
        ("0413", "F12", {"feeds.F12.load_a": 6.0}),
        ("0409", "F1", {"feeds.F1.load_a": 10.0}),
    ),
    *rows(
        "fuse over what the wire carries",
        ("0412", "W4", {"wires.W4.fuse_a": 40.0}),
        ("0413", "W3", {"wires.W3.area_mm2": 0.13}),
        ("0409", "W3", {"wires.W3.fuse_a": 40.0}),
    ),
    *rows(
        "fuse over what the wire behind the slot carries",
        ("0412", "F7", {"feeds.F7.fuse_a": 30.0}),
        ("0413", "F6", {"feeds.F6.fuse_a": 30.0}),
        ("0409", "F1", {"feeds.F1.fuse_a": 40.0}),
    ),
    *rows(
        "slot over its marking, wire unknown",
        ("0412", "F8", {"feeds.F8.fuse_a": 15.0, "feeds.F8.wire_mm2": None}),
        ("0413", "F4", {"feeds.F4.fuse_a": 20.0, "feeds.F4.wire_mm2": None}),
        ("0409", "F1", {"feeds.F1.fuse_a": 30.0, "feeds.F1.wire_mm2": None}),
    ),
    *rows(
        "a device where it gets too hot or wet",
        ("0412", "pace", {"devices.pace.zone": "bay-right"}),
        ("0413", "gauge", {"devices.gauge.zone": "under"}),
        ("0409", "match", {"devices.match.zone": "nose"}),
    ),
    *rows(
        "a wire that the terminals do not take",
        ("0412", "W3", {"connectors.D2.family": "AR 2.8 sealed"}),
    ),
    *rows(
        "ground thinner than its current",
        ("0412", "W14", {"wires.W14.area_mm2": 0.5}),
        ("0413", "W13", {"wires.W13.area_mm2": 0.22}),
        ("0409", "W4", {"wires.W4.area_mm2": 0.35}),
    ),
    *rows(
        "drop there and back",
        ("0412", "W4", {"wires.W4.fixed": True, "wires.W4.length_m": 9.0}),
        ("0413", "W13", {"wires.W13.fixed": True, "wires.W13.length_m": 9.0}),
        ("0409", "W3", {"wires.W3.fixed": True, "wires.W3.length_m": 9.0}),
    ),
)
FEED_ROWS = (
    *rows(
        "constant where it draws awake",
        ("0412", "W6", {"wires.W6.a": {"place": "F2"}}),
        ("0413", "W3", {"feeds.F4.feed": "constant"}),
        ("0409", "W7", {"wires.W7.a": {"place": "BAT"}}),
    ),
    *rows(
        "accessory where cranking must hold",
        ("0412", "W15", {"feeds.F8.feed": "accessory", "feeds.F8.volts": None}),
        ("0409", "W3", {"feeds.F1.feed": "accessory"}),
    ),
    *rows(
        "retained",
        ("0412", "W4", {"feeds.F7.feed": "retained", "feeds.F7.volts": None}),
        ("0413", "W12", {"feeds.F12.feed": "retained"}),
        ("0409", "W7", {"feeds.F1.feed": "retained"}),
    ),
    *rows(
        "dimmed illumination",
        ("0412", "W4", {"feeds.F7.dimmed": True, "feeds.F7.volts": None}),
        ("0413", "W9", {"feeds.F6.feed": "illumination", "feeds.F6.dimmed": True}),
    ),
    *rows(
        "undimmed lights",
        ("0412", "W4", {"feeds.F7.feed": "illumination", "feeds.F7.volts": None}),
        ("0413", "W9", {"feeds.F6.feed": "illumination"}),
        ("0409", "W3", {"feeds.F1.feed": "illumination"}),
    ),
    *rows(
        "a 12 V device in a 24 V car",
        ("0412", "hub", {"vehicle.system_v": 24}),
        ("0413", "idle", {"vehicle.system_v": 24}),
        ("0409", "ecu", {"vehicle.system_v": 24}),
    ),
    *rows(
        "a 12 V relay on 24 V",
        (
            "0412",
            "brake-pace",
            {
                "vehicle.system_v": 24,
                **{
                    f"devices.{d}.sheet.max_v": 32.0
                    for d in ("pace", "hub", "spark", "lamp", "blend")
                },
            },
        ),
    ),
)
RELAY_BAD = [{"type": "relay", "contact_ohm": 80.0}]
BRAKE_ROWS = (
    *rows(
        "brake tapped on the hot side",
        ("0412", "brake-pace", {"sources.cold.spec.side": "hot"}),
        ("0413", "brake-pace", {"sources.cold.spec.side": "hot"}),
    ),
    *rows(
        "LED lamps",
        ("0412", "brake-pace", {"chains.brake-pace.hops": []}),
        ("0413", "brake-pace", {"vehicle.lamps": "led"}),
    ),
    *rows(
        "a cancel input with nothing joined",
        ("0412 0413", "pace.CANCEL", {"chains.brake-pace": ...}),
        ("0409", "match.BRAKE", {"chains.brake": ...}),
    ),
    *rows(
        "a poor relay contact",
        ("0412 0413", "brake-pace", {"chains.brake-pace.hops": RELAY_BAD}),
        ("0409", "clutch", {"chains.clutch.hops": [{"type": "relay", "contact_ohm": 2000.0}]}),
    ),
    *rows(
        "a contact that rests the wrong way",
        ("0412", "clutch-lamp", {"sources.clutch.spec.rests": "closed"}),
        ("0413", "park", {"sources.park.spec.rests": "closed"}),
        ("0409", "clutch", {"sources.clutch.spec.rests": "open"}),
    ),
    *rows(
        "a contact to the other rail",
        ("0412", "clutch-lamp", {"sources.clutch.spec.to": "supply"}),
        ("0413", "handle", {"sources.handle.spec.to": "supply"}),
        ("0409", "arming", {"sources.arming.spec.to": "supply"}),
    ),
)
SPACE = {"id": "Wx", "colour": "red", "area_mm2": 0.5, "length_m": 1.0}
DRAWN_ROWS = (
    *rows(
        "a wire that ends at another pin",
        ("0412", "W20", {"wires.W20.b": {"place": "hub", "pin": "OIL"}}),
        ("0413", "W5", {"wires.W5.b": {"place": "gauge", "pin": "BOOST"}}),
        ("0409", "W6", {"wires.W6.b": {"place": "match", "pin": "SPEED"}}),
    ),
    *rows(
        "the second wire of a pair at another pin",
        ("0412", "W2", {"wires.W2.b": {"place": "hub", "pin": "SPEED-"}}),
        ("0412", "W26", {"wires.W26.b": {"place": "spark", "pin": "BATT"}}),
        ("0409", "W2", {"wires.W2.b": {"place": "match", "pin": "POWER"}}),
    ),
    *rows(
        "a supply led to a signal input",
        ("0412", "W4", {"wires.W4.b": {"place": "pace", "pin": "SPEED-"}}),
        ("0412", "W17", {"wires.W17.b": {"place": "ecu", "pin": "BLEND"}}),
        ("0413", "W9", {"wires.W9.b": {"place": "gauge", "pin": "BOOST"}}),
        ("0409", "W7", {"wires.W7.b": {"place": "match", "pin": "TACH"}}),
    ),
    *rows(
        "a supply pin that a wire leads from elsewhere",
        ("0412", "lamp.POWER", {"wires.W12.a": {"place": "oil", "pin": "3"}}),
        ("0413", "gauge.GROUND", {"wires.W10.b": {"place": "map", "pin": "3"}}),
        ("0409", "match.POWER", {"wires.W7.a": {"place": "wide", "pin": "3"}}),
    ),
    *rows(
        "two wires in one cavity",
        ("0412", "D2.27", {"wires.W22.a": {"place": "D2", "pin": "27"}}),
    ),
    *rows(
        "a wire in a blanked cavity",
        ("0412", "D2.18", {"wires.W22.a": {"place": "D2", "pin": "18"}}),
        ("0409", "E26.10", {"wires.W5.a": {"place": "E26", "pin": "10"}}),
    ),
    *rows(
        "a wire in an unusable cavity",
        ("0412", "B4.13", {"wires.W22.a": {"place": "B4", "pin": "13"}}),
    ),
    *rows(
        "a wire in no cavity",
        ("0412", "D2.77", {"wires.W22.a": {"place": "D2", "pin": "77"}}),
        ("0409", "V52.88", {"wires.W5.a": {"place": "V52", "pin": "88"}}),
    ),
    *rows(
        "two outputs joined",
        (
            "0412",
            "Wx",
            {
                "+wires": SPACE
                | {
                    "a": {"place": "spark", "pin": "TACH OUT"},
                    "b": {"place": "blend", "pin": "OUT"},
                    "carries": "signal",
                }
            },
        ),
    ),
    *rows(
        "two signals to one input",
        (
            "0412",
            "hub.TEMP",
            {
                "+chains": {
                    "id": "temp-2",
                    "title": "Coolant",
                    "quantity": "coolant",
                    "source": "clt-car",
                    "device": "hub",
                    "pin": "TEMP",
                }
            },
        ),
    ),
    *rows(
        "supply joined to ground",
        (
            "0412",
            "Wx",
            {
                "+wires": SPACE
                | {"a": {"place": "F7"}, "b": {"place": "G1"}, "carries": "power", "fuse_a": 1.0}
            },
        ),
        ("0413", "W3", {"wires.W3.b": {"place": "G1"}}),
        ("0409", "W4", {"wires.W4.b": {"place": "F1"}}),
    ),
    *rows(
        "supply and ground not drawn",
        ("0412", "hub.GROUND", {"wires.W8": ...}),
        ("0413", "pace.POWER", {"wires.W3": ...}),
        ("0409", "ecu.GROUND", {"wires.W4": ...}),
    ),
)
