"""What is done to signals, wires and the plan: each action leaves a sound job with just that."""

from __future__ import annotations

import ast
import unittest
from pathlib import Path

from tests.demo import apply, at, demo, put
from zombrel.actions import plan, signals, wires
from zombrel.actions.plugs import probing
from zombrel.job.edits import Edit, fact
from zombrel.job.ledger import provenance
from zombrel.job.model import Divider, Job, index
from zombrel.job.problem import Problem
from zombrel.job.source import Thermistor
from zombrel.job.validate import validate
from zombrel.job.wiring import End, KeyVolts

SCREENS = Path(__file__).resolve().parents[2] / "src" / "zombrel" / "ui"


def done(edit: Edit, job: Job | None = None) -> Job:
    """The demo job after an action."""
    return validate(apply(demo() if job is None else job, edit))


class Work(unittest.TestCase):
    def test_each_leaves_what_it_says(self) -> None:
        job = demo()
        chain, w3 = index(job.chains)["speed-pace"], index(job.wires)["W3"]
        dash, boot = index(job.zones)["dash"], index(job.zones)["boot"]
        way, change, feed = job.ways[0], job.changes[0], index(job.feeds)["F7"]
        for edit, path, value in (
            (signals.put_divider(chain, 7), "chains.speed-pace.hops.0.by", 7),
            (signals.put_divider(chain, 1), "chains.speed-pace.hops", ()),
            (wires.put_wire(w3, "twisted", True), "wires.W3.twisted", True),
            (wires.put_length(w3, 2.5), "wires.W3.length_m", 2.5),
            (wires.put_length(w3, 2.5), "wires.W3.fixed", True),
            (wires.add_feed("F1.1", "slot"), "feeds.F1 1.feed", "dead"),
            (wires.add_feed("F1.1", "slot"), "feeds.F1 1.name", "Slot F1.1"),
            (wires.add_feed("Post", "battery"), "feeds.Post.feed", "constant"),
            (wires.put_change(change, "note", "x"), f"changes.{change.id}.note", "x"),
            (plan.lay(w3, ("dash", "boot")), "wires.W3.via", ("dash", "boot")),
            (plan.place_in("feeds", "F7", "boot"), "feeds.F7.zone", "boot"),
            (plan.move_zone(dash, 1.234, 0.567), "zones.dash.x_m", 1.23),
            (plan.move_zone(dash, 1.234, 0.567), "zones.dash.y_m", 0.57),
            (plan.put_way(way, 3.0), f"ways.{way.id}.length_m", 3.0),
            (plan.join_zones(dash, boot), "ways.dash-boot.b", "boot"),
            (
                wires.put_volts(feed, KeyVolts(off=12.4, acc=12.4, run=12.4, crank=10.0)),
                "feeds.F7.volts.crank",
                10.0,
            ),
        ):
            with self.subTest(path, value=value):
                self.assertEqual(fact(done(edit), path), value)

    def test_a_wire_is_drawn_and_joined_elsewhere(self) -> None:
        a, b = End(place="F7"), End(place="hub", pin="BATT")
        job = done(wires.new_wire("W99", a, b, "red", "power", 1.0))
        wire = index(job.wires)["W99"]
        self.assertEqual((wire.a, wire.b, wire.length_m), (a, b, 1.0))
        laid = apply(job, plan.lay(wire, ("dash",)))
        wire = index(laid.wires)["W99"]
        same = index(done(wires.rejoin(wire, a, b, "pink", "power"), laid).wires)["W99"]
        self.assertEqual((same.colour, same.via), ("pink", ("dash",)))
        moved = index(done(wires.rejoin(wire, End(place="F9"), b, "pink", "power"), laid).wires)
        self.assertEqual((moved["W99"].a.place, moved["W99"].via), ("F9", ()))

    def test_a_zone_comes_with_its_way_and_goes_with_all(self) -> None:
        dash = index(demo().zones)["dash"]
        key, name, edit = plan.add_zone(demo(), dash)
        job = done(edit)
        self.assertEqual((key, name, index(job.ways)["dash-zone-1"].b), ("zone-1", "Zone 1", key))
        self.assertEqual(plan.add_zone(job, dash)[0], "zone-2")
        self.assertEqual(done(plan.remove_zone(job, index(job.zones)[key]), job).ways, demo().ways)

    def test_a_change_takes_the_wire_that_lies_there_and_a_vacant_place(self) -> None:
        used = demo().changes[0]
        plug = index(demo().connectors)[used.connector]
        wire = index(demo().wires)[used.wire]
        held = next(int(e.pin) for e in (wire.a, wire.b) if e.place == plug.id)
        key, edit = wires.plan_change(demo(), "remap", plug, held)
        made = index(done(edit).changes)[key]
        self.assertEqual((made.wire, made.cavity), (used.wire, held))
        self.assertNotEqual(made.to.split(".")[0], plug.id)
        key, edit = wires.plan_change(demo(), "add", plug, held)
        self.assertEqual(index(done(edit).changes)[key].to, "")
        self.assertEqual(done(wires.remove_change(used)).changes, demo().changes[1:])

    def test_no_vehicle_has_such_volts(self) -> None:
        feed, volts = demo().feeds[0], KeyVolts(off=900.0, acc=0.0, run=0.0, crank=0.0)
        with self.assertRaisesRegex(Problem, "check the meter"):
            wires.put_volts(feed, volts)

    def test_a_trim_puts_setting_and_source_right(self) -> None:
        job = put(demo(), "devices.pace.settings.SPEED.at", "C1")
        chain = index(job.chains)["speed-pace"]
        hops = (Divider(by=7),)
        job = done(signals.fit_way(job, chain, hops), job)
        chain = index(job.chains)["speed-pace"]
        shown = at(job).chain("speed-pace").shown
        found = signals.trim(job, chain, 0.9 * shown, shown)
        assert found is not None
        after = done(found[1], job)
        # the source gives more pulses than its figures say, by as much as it was over-read
        self.assertAlmostEqual(index(after.sources)["ring"].trim, 1 / 0.9, delta=0.15)
        self.assertAlmostEqual(at(after).chain("speed-pace").error, 0.0, delta=0.06)
        far = signals.trim(job, chain, shown, 20 * shown)
        assert far is not None
        self.assertEqual(index(done(far[1], job).sources)["ring"].trim, 1.0)
        self.assertIsNone(signals.trim(job, index(job.chains)["brake-pace"], 1.0, 1.0))

    def test_a_senders_pairs_are_noted_with_where_they_come_from(self) -> None:
        source = next(s for s in demo().sources if isinstance(s.spec, Thermistor))
        pairs = ((273.15, 5800.0), (298.15, 2100.0), (353.15, 330.0))
        edit = signals.put_pairs(demo(), source, pairs, "measured", "in a pan", "today")
        job, path = done(edit), f"sources.{source.id}.spec.points"
        self.assertEqual((fact(job, path), provenance(job, path)), (pairs, "measured"))
        with self.assertRaises(Problem):
            signals.put_pairs(demo(), source, pairs[:1], "measured", "", "")

    def test_a_lead_of_our_own_wires_and_one_from_a_file(self) -> None:
        edit = probing.own_wires(demo())
        assert edit is not None
        job = done(edit)
        rows = index(job.leads)[probing.OWN].rows
        self.assertEqual([r.signal for r in rows], [w.id for w in job.wires])
        self.assertIsNone(probing.own_wires(job))
        changed = put(job, "wires.W3.colour", "pink")
        again = probing.own_wires(changed)
        assert again is not None
        self.assertIn(
            "pink", {r.colour for r in index(done(again, changed).leads)[probing.OWN].rows}
        )
        key, edit = probing.add_lead(job, "my.lead", "my.lead.csv", [("P.1", "E.2")])
        lead = index(done(edit, job).leads)[key]
        self.assertEqual((key, lead.rows[0].a, lead.rows[0].b), ("my-lead", "P.1", "E.2"))
        all_ = done(probing.metered(job, lead, [("P.1", "E.2")]), done(edit, job))
        answers = index(all_.leads)[key].answers
        self.assertTrue(answers)
        less = done(probing.take_back(index(all_.leads)[key]), all_)
        self.assertEqual(index(less.leads)[key].answers, answers[:-1])


class Screens(unittest.TestCase):
    def test_no_screen_builds_an_edit(self) -> None:
        for path in SCREENS.rglob("*.py"):
            for node in ast.walk(ast.parse(path.read_text(encoding="utf-8"))):
                if isinstance(node, ast.Call) and isinstance(node.func, ast.Name):
                    name = node.func.id
                    self.assertNotIn(name, ("Put", "Add", "Remove", "Many"), path)


if __name__ == "__main__":
    unittest.main()
