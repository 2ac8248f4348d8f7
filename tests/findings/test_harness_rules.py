"""Each rule about plan, power, connectors and leads: found with its number, settled by its mend."""

from __future__ import annotations

import unittest

import msgspec

from tests.demo import apply, at, demo, put, state, whole
from zombrel.catalog import DEMO
from zombrel.findings.finding import Finding
from zombrel.findings.scene import Scene
from zombrel.findings.wiring.slot_rules import separate
from zombrel.harness.plugs import lead, outcomes
from zombrel.job.edits import Add, Put
from zombrel.job.model import Job
from zombrel.store.zjob import load
from zombrel.units import Units, words

CAMPER, RACER = load(DEMO / "0413.zjob"), load(DEMO / "0409.zjob")
VIA = ["hub-left", "under-rear", "under-front", "bay-left", "bulkhead-left", "foot-left", "dash"]


CASES: tuple[tuple[str, Job, str, str], ...] = (
    # finding, job, a number or word it says, the first edit it offers
    ("noise-W1-0", demo(), "60 mm from it", "Run it by the sill left"),
    ("fuse-W12", CAMPER, "2.5 mm² where it lies carries", "Run it by the bulkhead left"),
    ("hot-W21", put(demo(), "zones.bay-left.over_ambient_k", 70), "90 °C there", ""),
    (
        "hot-W1",
        put(demo(), "zones.bay-left.over_ambient_k", 70),
        "good to 85 °C",
        "Run it by the sill left",
    ),
    ("unrouted", put(demo(), "wires.W4.via", []), "W4", "Run them the best way"),
    (
        "unrouted",
        put(demo(), "wires.W4.via", ["foot-left", "boot"]),
        "no longer has the way",
        "Run them the best way",
    ),
    (
        "hole-tunnel-seat",
        put(demo(), "ways.tunnel-seat.hole_mm", 3.0),
        "with tube more than the hole of 3 mm",
        "",
    ),
    (
        "hole-tunnel-seat",
        put(put(demo(), "ways.tunnel-seat.hole_mm", 30.0), "ways.tunnel-seat.grommet", False),
        "bare edge",
        "Grommet fitted",
    ),
    (
        "load-F7",
        put(demo(), "feeds.F7.load_a", 4.0),
        "3.9 A of ours and 4 A of the car",
        "15 A, the wire carries it",
    ),
    ("load-F9", put(demo(), "feeds.F9.fuse_a", 7.5), "rear wiper", "10 A, the wire carries it"),
    ("heavy-W13", put(demo(), "feeds.BAT.kind", "slot"), "more than 10 A", ""),
    ("inrush-W12", put(CAMPER, "wires.W12.fuse_a", 5.0), "26 A for 0.05 s", ""),
    ("school-W4", put(demo(), "house.power", "box"), "the other school", ""),
    (
        "school-W7",
        put(put(demo(), "house.power", "battery"), "feeds.BAT.kind", "battery"),
        "the battery post",
        "Feed from BAT",
    ),
    (
        "class-F7",
        put(demo(), "feeds.F7.volts", {"off": 0, "acc": 0, "run": 0, "crank": 0, "lights": 6.0}),
        "illumination",
        "It is",
    ),
    (
        "kick-brake-pace",
        put(demo(), "chains.brake-pace.hops", [{"type": "relay", "suppression": "none"}]),
        "swings to 350 V; a diode holds it to 14.5 V",
        "Diode across the coil",
    ),
    (
        "contacts-brake-pace",
        put(demo(), "chains.brake-pace.hops", [{"type": "relay", "contact_a": 0.001}]),
        "they weld",
        "",
    ),
    ("stack-G1", put(demo(), "studs.G1.rings", 3), "The house stacks 4", ""),
    (
        "shared-G3",
        put(demo(), "wires.W19.b", {"place": "G3"}),
        "lifted by 1.60 V",
        "Ground them at G1",
    ),
    ("flat", put(demo(), "vehicle.battery_ah", 20.0), "6 mA asleep, the car 20 mA", ""),
    ("alternator", put(demo(), "vehicle.own_load_a", 45.0), "gives 48 A", ""),
    ("class-F7", put(demo(), "feeds.F7.feed", "constant"), "key positions", "It is run"),
    ("change-C1-0", put(demo(), "changes.C1.cavity", 3), "holds no wire to tap", ""),
    ("lead-remap", RACER, "the sheet that came with the lead", ""),
    ("airbag-W9", put(demo(), "zones.sill-left.airbag", True), "tapped or metered", "Run it by"),
    (
        "feed-W12",
        put(
            put(demo(), "devices.lamp.sheet.supplies.POWER.feeds", ["run-and-crank"]),
            "feeds.F7.feed",
            "retained",
        ),
        "resets just when it is needed",
        "Feed from F8",
    ),
)


class Rules(unittest.TestCase):
    def test_a_drop_counts_there_and_back(self) -> None:
        """3.6 A from F7: its wire and its ground wire together may lose 3 % of 13.8 V."""
        fixed = put(whole(), "wires.W4.fixed", True)
        drops = {w: at(fixed).wire(w).drop_v for w in ("W4", "W5")}
        room = (0.03 * 13.8 - drops["W5"]) / drops["W4"]
        length = at(fixed).run("W4").length_m
        for share, level in ((0.97, []), (1.03, ["trouble"])):
            longer = put(fixed, "wires.W4.length_m", length * room * share)
            said = [f.level for f in at(longer).findings if f.id == "drop-W4"]
            with self.subTest(share):
                self.assertEqual(said, level)

    def find(self, job: Job, key: str) -> Finding | None:
        return next((f for f in at(job).findings if f.id == key), None)

    def test_each_is_found_says_its_number_and_is_mended(self) -> None:
        for key, job, said, label in CASES:
            with self.subTest(key, said=said):
                found = self.find(job, key)
                assert found is not None, [f.id for f in at(job).findings]
                self.assertIn(said, words(f"{found.title} {found.text}", Units()))
                self.assertTrue(found.reason.formula)
                self.assertTrue(found.mends)
                edits = [m for m in found.mends if m.edit is not None]
                if not label:
                    continue
                self.assertIn(label, edits[0].label)
                assert edits[0].edit is not None
                self.assertIsNone(self.find(apply(job, edits[0].edit), key))

    def test_the_plain_demo_has_none_of_the_new_ones_but_the_planted(self) -> None:
        new = {c[0] for c in CASES}
        self.assertEqual({f.id for f in at(demo()).findings} & new, {"noise-W1-0"})

    def test_the_pair_moves_together(self) -> None:
        found = self.find(demo(), "noise-W1-0")
        assert found is not None
        assert found.mends[0].edit is not None
        after = apply(demo(), found.mends[0].edit)
        ways = {w.id: w.via for w in after.wires}
        self.assertEqual(ways["W1"], ways["W2"])
        alone = put(demo(), "wires.W2.via", [*VIA[:1], "sill-left", *VIA[-2:]])
        apart = self.find(alone, "noise-W1-0")
        assert apart is not None
        assert apart.mends[0].edit is not None
        self.assertEqual(apply(alone, apart.mends[0].edit).wires[1].via, alone.wires[1].via)

    def test_keeping_off_is_noted_and_keeps_what_lies_elsewhere(self) -> None:
        far = {"what": "coil", "name": "far one", "spacing_m": 0.1, "along_m": 0.1, "zone": "boot"}
        own = [
            {
                "what": "coil",
                "name": "coil 2",
                "spacing_m": 0.06,
                "along_m": 0.3,
                "zone": "bay-left",
            },
            far,
        ]
        job = put(demo(), "wires.W1.neighbours", own)
        found = self.find(job, "noise-W1-0")
        assert found is not None
        off = next(m for m in found.mends if m.label.startswith("Keep"))
        assert off.edit is not None
        after = apply(job, off.edit)
        kept = {n.name: n.spacing_m for n in after.wires[0].neighbours}
        self.assertAlmostEqual(kept["coil 2"], 0.15)
        self.assertEqual(kept["far one"], 0.1)
        self.assertIsNone(self.find(after, "noise-W1-0"))

    def test_a_neighbour_of_the_zone_counts_and_can_be_kept_off(self) -> None:
        near = [{"what": "ignition lead", "name": "lead 4", "spacing_m": 0.03, "along_m": 0.6}]
        job = put(put(demo(), "zones.bay-left.near", near), "wires.W1.neighbours", [])
        found = self.find(job, "noise-W1-0")
        assert found is not None
        self.assertIn("lead 4", found.title)
        off = next(m for m in found.mends if m.label.startswith("Keep"))
        assert off.edit is not None
        after = apply(job, off.edit)
        self.assertEqual(after.wires[0].neighbours[0].zone, "bay-left")
        self.assertEqual([n.name for n in at(after).run("W1").neighbours], ["lead 4"])

    def test_a_wrong_lead_is_trouble_until_it_is_corrected(self) -> None:
        pairs = [(r.a, r.b) for r in RACER.leads[0].rows]
        pairs[0], pairs[1] = (pairs[0][0], pairs[1][1]), (pairs[1][0], pairs[0][1])
        done = lead.metered(RACER.leads[0], pairs, RACER.connectors)
        job = apply(
            RACER,
            Put(
                path="leads.remap.answers",
                value=[{"a": x.a, "b": x.b, "conducts": x.conducts} for x in done.answers],
            ),
        )
        found = self.find(job, "lead-remap")
        assert found is not None
        self.assertEqual(found.level, "trouble")
        self.assertIn("E40.1 and E40.2 have changed places", found.text)
        self.assertEqual([m.label for m in found.mends], ["Decide"])  # nothing is corrected away
        told = outcomes.deviations(job.leads[0], job.connectors)
        self.assertEqual([d.kind for d in told], ["swap"])
        mended = apply(job, outcomes.repaired(job.leads[0], told[0]))
        waits = self.find(mended, "lead-remap")
        assert waits is not None
        self.assertEqual(waits.level, "trouble")
        self.assertIn("not probed again", waits.title)
        after = apply(job, outcomes.paper_wrong(job, job.leads[0], told))
        again = self.find(after, "lead-remap")
        self.assertTrue(again is None or again.level == "note")


class Slots(unittest.TestCase):
    def test_a_feed_with_nothing_of_ours_on_it_has_nothing_to_part(self) -> None:
        spare = {"id": "F99", "name": "Slot F99", "kind": "slot", "feed": "run", "fuse_a": 10}
        job = apply(demo(), Add(path="feeds", value=spare))
        used = {e.place for w in job.wires for e in (w.a, w.b)}
        self.assertNotIn("F99", used)
        for feed in job.feeds:
            with self.subTest(feed.id):
                parted = separate(Scene(job, state(job)), feed)
                self.assertEqual(parted is not None, feed.id in used)

    def test_two_wires_in_one_cavity_are_told_and_one_is_not(self) -> None:
        job = demo()
        like = next(w for w in job.wires if w.id == "W3")

        def crowded(*names: str) -> list[str]:
            more = [
                msgspec.structs.replace(like, id=name, a=msgspec.structs.replace(like.a, pin="5"))
                for name in names
            ]
            other = msgspec.structs.replace(job, wires=(*job.wires, *more))
            return [f.id for f in at(other).findings if f.id.startswith("crowded")]

        self.assertEqual(crowded("X1"), [])
        self.assertEqual(crowded("X1", "X2"), ["crowded-D2-5"])


if __name__ == "__main__":
    unittest.main()
