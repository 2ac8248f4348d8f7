"""A job's first steps: what is asked, the best source for every input, a like vehicle."""

import unittest

import msgspec

from tests.demo import demo
from zombrel.actions.begin import best_for_all, like, likeness, name_of, serve, usual_source
from zombrel.actions.drawing import draw_all
from zombrel.actions.notes import put_fact
from zombrel.actions.parts import add_device, add_source
from zombrel.actions.placing import place_usual
from zombrel.behaviour.questions import missing, questions, unserved
from zombrel.behaviour.suppose import usual
from zombrel.catalog.plans import plan, take_plan
from zombrel.catalog.sheets import shelf
from zombrel.catalog.sources import templates
from zombrel.findings.assess import assess
from zombrel.findings.overall.assumed_rules import assumed
from zombrel.job.edits import apply
from zombrel.job.follow.query import aside
from zombrel.job.ledger import provenance
from zombrel.job.model import Job
from zombrel.signals.finder import candidates

SHEETS = {s.id: s for s in shelf()[0]}
KINDS = {s.id: s for s in templates()}


def fitted(*devices: str, **facts: object) -> Job:
    """An own job with these devices and facts of the vehicle."""
    job = Job()
    for key in devices:
        job = apply(job, add_device(job, SHEETS[key]))
    for name, value in facts.items():
        job = apply(job, put_fact(f"vehicle.{name}", value))
    return job


def asked(job: Job) -> list[str]:
    return [q.sheet.path.removeprefix("vehicle.") for q in questions(job)]


class Asked(unittest.TestCase):
    def test_only_what_the_devices_use(self) -> None:
        self.assertEqual(asked(Job()), ["name"])
        for devices, some, none in (
            (("ardle-t1",), {"cylinders", "ignition", "redline_rps"}, {"tyre", "lamps", "tank_l"}),
            (("ardle-g6",), {"tyre", "cylinders", "tank_l"}, {"lamps", "throttle", "torque"}),
            (("ardle-p7",), {"tyre", "lamps", "throttle", "mass_kg"}, {"tank_l", "stall_rps"}),
            (("ardle-g2",), {"system_v"}, {"tyre", "cylinders", "lamps"}),
        ):
            with self.subTest(devices):
                found = set(asked(fitted(*devices)))
                self.assertLessEqual(some, found)
                self.assertFalse(none & found)

    def test_what_opens_most_comes_first(self) -> None:
        ranked = questions(fitted("ardle-p7", "ardle-g6"))[1:]
        self.assertEqual([q.opens for q in ranked], sorted((q.opens for q in ranked), reverse=True))
        self.assertEqual(ranked[0].sheet.path, "vehicle.tyre")

    def test_bulbs_are_asked_only_of_bulbs_and_shafts_only_of_shafts(self) -> None:
        self.assertNotIn("lamp_w", asked(fitted("ardle-p7", lamps="led")))
        self.assertIn("lamp_w", asked(fitted("ardle-p7", lamps="filament")))
        hub = fitted("ardle-g6")
        self.assertNotIn("final_drive", asked(hub))
        self.assertIn("final_drive", asked(apply(hub, serve(hub, KINDS["propshaft"]))))

    def test_missing_goes_as_facts_are_said(self) -> None:
        job = fitted("ardle-t1")
        paths = [s.path for s in missing(job)]
        self.assertIn("vehicle.cylinders", paths)
        said = apply(job, put_fact("vehicle.cylinders", 6))
        self.assertNotIn("vehicle.cylinders", [s.path for s in missing(said)])
        self.assertEqual(missing(demo()), ())
        self.assertEqual([s.path for s in missing(Job())], ["vehicle.name"])


class Best(unittest.TestCase):
    def test_every_input_at_once_and_each_with_a_reason(self) -> None:
        job = demo()
        bare = msgspec.structs.replace(job, chains=())
        offer = best_for_all(bare)
        assert offer.edit is not None
        whole = apply(bare, offer.edit)
        self.assertEqual(len(whole.chains), len(offer.taken))
        self.assertEqual(len({c.id for c in whole.chains}), len(whole.chains))
        self.assertTrue(all(t.why for t in offer.taken))
        inputs = sum(len(d.sheet.inputs) for d in job.devices)
        self.assertEqual(len(offer.taken) + len(offer.refused), inputs)

    def test_what_is_refused_names_the_fact_and_takes_its_answer(self) -> None:
        job = fitted("ardle-p7", tyre="205/60 R15", final_drive=3.64)
        shifts = msgspec.structs.replace(
            KINDS["gearbox-sensor"],
            spec=msgspec.structs.replace(KINDS["gearbox-sensor"].spec, electronic=True),
        )
        job = apply(job, add_source(job, shifts))
        refused = next(r for r in best_for_all(job).refused if r.pin == "SPEED")
        self.assertIn("the gearbox shifts by this pair", refused.reasons[0])
        answer = refused.answers[0]
        self.assertIn("SPEED", [t.pin for t in best_for_all(apply(job, answer.edit)).taken])

    def test_a_missing_fact_refuses_with_the_way_to_it(self) -> None:
        job = fitted("ardle-p7")
        job = apply(job, add_source(job, KINDS["wheel-ring"]))
        refused = next(r for r in best_for_all(job).refused if r.pin == "SPEED")
        self.assertEqual(refused.where, "survey:vehicle.tyre")
        self.assertIn("tyre size", refused.reasons[0])

    def test_the_usual_source_serves_all_and_says_what_it_lacks(self) -> None:
        job = fitted("ardle-p7", "ardle-g6")
        brake = usual_source(job, "brake", KINDS.values())
        assert brake is not None
        self.assertEqual(brake.id, "brake-cold")
        served = apply(job, serve(job, KINDS["wheel-ring"]))
        self.assertEqual([c.pin for c in served.chains], ["SPEED", "SPEED"])
        self.assertNotIn("speed", [w.quantity for w in unserved(served)])
        readings = assess(served, usual(served.vehicle)).chains
        self.assertTrue(all("tyre" in r.problem for r in readings))


class Likes(unittest.TestCase):
    def test_facts_of_a_like_vehicle_are_taken_as_seen_elsewhere(self) -> None:
        job = fitted("ardle-t1", name="Curlew estate", redline_rps=100.0)
        found = like(job, demo(), "2026-11-26 10:00")
        assert found is not None
        new = apply(job, found.edit)
        self.assertEqual(new.vehicle.cylinders, 6)
        self.assertEqual(provenance(new, "vehicle.cylinders"), "other car")
        self.assertEqual(new.vehicle.redline_rps, 100.0)  # what is said here stays
        self.assertEqual(new.vehicle.tyre, "")  # a tachometer does not ask it
        self.assertEqual(len({e.id for e in new.ledger}), len(new.ledger))
        self.assertIsNone(like(new, demo()))

    def test_likeness_and_names(self) -> None:
        self.assertEqual(likeness("Curlew estate, 2.9", "Curlew shooting-brake"), 1)
        self.assertEqual(likeness("Heron", "Curlew"), 0)
        self.assertEqual(name_of(Job()), "New job")
        self.assertEqual(name_of(fitted("ardle-t1", name="Heron")), "Tachometer in Heron")
        self.assertEqual(name_of(demo()), "0412 Curlew shooting-brake, Marsh")


class Placed(unittest.TestCase):
    def test_what_lies_where_it_usually_does_is_assumed_until_it_is_said(self) -> None:
        job = fitted("ardle-t1")
        job = apply(job, serve(job, KINDS["coil"]))
        job = apply(job, take_plan(job, plan("car")))
        count, edit = place_usual(job)
        assert edit is not None
        job = apply(job, edit)
        self.assertEqual((count, place_usual(job)), (2, (0, None)))
        self.assertEqual((job.devices[0].zone, job.sources[0].zone), ("dash", "bay-left"))
        drawing = draw_all(job)
        assert drawing.edit is not None
        self.assertEqual(drawing.guessed, frozenset())
        self.assertEqual(len(drawing.placed), 2)  # the tach and the ground; no feed is live in run
        self.assertIn("no feed noted is", drawing.not_drawn[0].why)
        job = apply(job, drawing.edit)
        whats = [a.what for a in assumed(job)]
        self.assertIn("Tachometer, where it lies", whats)
        said = apply(job, put_fact("devices.t1.zone", "seat"))
        self.assertNotIn("Tachometer, where it lies", [a.what for a in assumed(said)])


class Tried(unittest.TestCase):
    def test_a_job_that_was_only_tried_does_not_stay_the_present_one(self) -> None:
        # the tried one lacks a source that the present one's signals come from
        with aside():
            job = fitted("ardle-p7")
            job = apply(job, serve(job, KINDS["brake-cold"]))
            now = usual(job.vehicle)
            before = assess(job, now)
            speeds = tuple(k for k in KINDS.values() if k.quantity == "speed")
            device = job.devices[0]
            candidates(msgspec.structs.replace(job, sources=speeds), device, device.sheet.inputs[0])
            self.assertEqual(assess(job, now), before)


class Likeness(unittest.TestCase):
    def test_letters_alone_make_no_two_cars_alike(self) -> None:
        self.assertEqual(likeness("Heron S", "Curlew S"), 0)
        self.assertEqual(likeness("Brackwell Heron S", "Heron panel van"), 1)
