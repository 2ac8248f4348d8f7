"""Lines of the owner's page, device by device: what each setting and input makes of them."""

from __future__ import annotations

import unittest

import msgspec

from tests.demo import apply, demo, proven, put, whole
from zombrel.actions.signals import put_setting
from zombrel.behaviour.suppose import usual
from zombrel.catalog import DEMO
from zombrel.diagnose.record import prove
from zombrel.diagnose.steps import gates
from zombrel.findings.assess import assess
from zombrel.handover.owner.lines import chains_of, ends_of, lines, slot_of
from zombrel.handover.owner.make import owner_page
from zombrel.handover.owner.page import OwnerPage
from zombrel.job.edits import Put, Remove
from zombrel.job.model import Device, Job, index
from zombrel.job.sheet import OwnerPart
from zombrel.store.zjob import load
from zombrel.units import METRIC, Units, words


def heron() -> Job:
    return load(DEMO / "0413.zjob")


def racer() -> Job:
    return load(DEMO / "0409.zjob")


def device(job: Job, key: str) -> Device:
    return index(job.devices)[key]


def said(job: Job, key: str, part: OwnerPart, units: Units = METRIC) -> dict[str, str]:
    found = lines(job, device(job, key), part)
    return {x.head: words(x.text, units).replace("\xa0", " ") for x in found}


def page(job: Job) -> OwnerPage:
    return owner_page(job, assess(job, usual(job.vehicle)))


def spots(job: Job) -> str:
    return words("\n".join(s.words for s in page(job).spots), METRIC).replace("\xa0", " ")


class Lines(unittest.TestCase):
    def test_every_day_by_what_is_set(self) -> None:
        job = whole()
        cases = {
            ("hub", "TEMP HIGH", "111"): ("The gauge hub", "coolant lamp above 111 °C"),
            ("lamp", "SHIFT", "5900"): ("Shift", "the lamp lights at 5900 rpm"),
        }
        for (key, pin, at), (head, text) in cases.items():
            changed = apply(job, put_setting(device(job, key), pin, at))
            with self.subTest(pin):
                self.assertIn(text, said(changed, key, "daily")[head])
                self.assertNotIn(text, said(job, key, "daily").get(head, ""))
        self.assertIn(
            "221 °F", said(whole(), "hub", "daily", Units(temperature="F"))["The gauge hub"]
        )

    def test_a_raised_idle_says_what_ends_it(self) -> None:
        job = heron()
        coder = next(d for d in job.devices if any(c.means == "idle" for c in d.sheet.controls))
        control = next(c for c in coder.sheet.controls if c.means == "idle")
        self.assertNotIn("High idle", said(job, coder.id, "daily"))  # nobody has set it
        held = [c.quantity for c in ends_of(job, coder)]
        self.assertIn("park", held)
        job = apply(job, put_setting(coder, control.pin, "8200"))
        bare = said(job, coder.id, "daily")["High idle"]
        self.assertIn("that it ends is not proven: do not use it", bare)
        for step in gates(job):
            seen = {f.name: (f.low + f.high) / 2 for f in step.fields}
            job = apply(job, prove(job, step, "pass", seen, "", "2026-11-27"))
        told = said(job, coder.id, "daily")["High idle"]
        self.assertIn("raises the idle to 13", told)  # 8.2 kΩ is about 1 350 rpm
        for part in ("out of park", "letting off the park brake", "the brake pedal", "ends it"):
            self.assertIn(part, told)

    def test_what_ends_a_pace_is_what_is_joined(self) -> None:
        job = proven()
        self.assertEqual([c.quantity for c in ends_of(job, device(job, "pace"))], ["brake"])
        self.assertIn("it lets go at once", said(job, "pace", "daily")["End it"])
        for unsure in (whole(), demo(), put(job, "vehicle.system_v", 24)):  # nobody has seen it
            told = said(unsure, "pace", "daily")["End it"]
            self.assertEqual(told, "that it lets go is not proven: do not use it")
        bare = apply(job, Remove(path="chains.brake-pace"))
        self.assertIn("nothing that lets it go is joined", said(bare, "pace", "daily")["End it"])
        self.assertNotIn("It lets go by itself", said(bare, "pace", "odd"))
        self.assertIn("It does not let go", said(bare, "pace", "odd"))
        self.assertFalse([x for x in page(bare).mind if "tail lamps" in x])

    def test_what_was_proven_says_its_day_and_no_hour(self) -> None:
        job = proven()
        proofs = [msgspec.structs.replace(p, when="2026-11-27 10:12") for p in job.proofs]
        job = msgspec.structs.replace(job, proofs=tuple(proofs))
        told = next(x.text for x in page(job).proven if x.head == "wiring and readings")
        self.assertRegex(told, r"^(\d+) of \1 checks, 2026-11-27$")

    def test_the_key_is_not_turned_while_it_rolls(self) -> None:
        told = said(whole(), "pace", "odd")["It does not let go"]
        self.assertLess(told.index("brake firmly"), told.index("the key only once it stands"))

    def test_lamps_by_relay_or_without(self) -> None:
        with_relay, without = (page(j).mind for j in (whole(), demo()))
        self.assertIn("Other tail lamps: no change needed. The relay stays.", with_relay)
        self.assertTrue([x for x in without if "come in first" in x])
        self.assertFalse([x for x in without if "The relay stays" in x])

    def test_tyres_are_said_once_and_only_where_a_speed_is_shown(self) -> None:
        self.assertEqual(len([x for x in page(whole()).mind if "Other tyres" in x]), 1)
        untold = put(whole(), "vehicle.tyre", "")
        self.assertFalse([x for x in page(untold).mind if "Other tyres" in x])
        lamp = device(whole(), "lamp")
        self.assertFalse([c for c in chains_of(whole(), lamp) if c.quantity == "speed"])
        self.assertEqual(said(whole(), "lamp", "odd"), {})


class Places(unittest.TestCase):
    def test_fuses_are_named_as_they_are_marked(self) -> None:
        job = whole()
        self.assertEqual([slot_of(f) for f in job.feeds if f.kind == "slot"][:1], ["F2"])
        told = spots(job)
        for part in (
            "F7 5 A in the line (pace unit)",
            "at the battery 20 A in the line (spark box)",
        ):
            self.assertIn(part, told)
        wire = next(w for w in job.wires if w.fuse_a and "pace" in (w.a.place, w.b.place))
        other = apply(job, Put(path=f"wires.{wire.id}.fuse_a", value=7.5))
        self.assertIn("F7 7.5 A in the line (pace unit)", spots(other))

    def test_a_device_lies_where_it_is_put_and_how_it_is_fixed(self) -> None:
        job = whole()
        self.assertIn("pace unit: dash", spots(job))
        moved = put(job, "devices.pace.zone", "foot-right")
        self.assertIn("pace unit: foot right", spots(moved))
        fixed = put(moved, "devices.pace.mount.how", "screws")
        self.assertIn("pace unit: foot right, on screws", spots(fixed))
        self.assertNotIn("pace unit:", spots(put(job, "devices.pace.zone", "")))

    def test_spots_lie_on_the_car_and_apart(self) -> None:
        for job in (whole(), heron(), racer()):
            found = page(job).spots
            self.assertEqual([s.number for s in found], list(range(1, len(found) + 1)))
            places = {(round(s.x, 3), round(s.y, 3)) for s in found}
            self.assertEqual(len(places), len(found))
            for s in found:
                self.assertTrue(0 < s.x < 1 and 0 < s.y < 1, s)

    def test_which_post_comes_off_first_is_the_house_rule(self) -> None:
        self.assertIn("negative first off, last on", spots(whole()))
        other = put(whole(), "house.battery", "positive first")
        self.assertIn("positive first off, last on", spots(other))

    def test_what_is_the_cars_own_is_not_said_to_be_fitted(self) -> None:
        self.assertNotIn("engine computer", page(whole()).have)
        self.assertIn("an engine computer", page(racer()).have)  # this one was


class Head(unittest.TestCase):
    def test_names_and_articles(self) -> None:
        job = heron()
        self.assertIn(
            "a pace unit, a tachometer, a boost gauge, a high-idle coder and", page(job).have
        )
        one = Job(devices=job.devices[:1])
        self.assertEqual(page(one).have, "a pace unit")
        two = Job(
            devices=(job.devices[0], msgspec.structs.replace(job.devices[1], name="Idle box"))
        )
        self.assertEqual(page(two).have, "a pace unit and an idle box")

    def test_who_where_and_when(self) -> None:
        job = whole()
        judged = assess(job, usual(job.vehicle))
        about = owner_page(job, judged, "27 November 2026").about
        self.assertEqual(
            about,
            "Brackwell Curlew shooting-brake, Marsh · job 0412 · Saltmarsh Instrument Works, "
            "27 November 2026",
        )
        plain = put(put(job, "vehicle.owner", ""), "number", "")
        self.assertTrue(
            owner_page(plain, judged).about.startswith("Brackwell Curlew shooting-brake ·")
        )

    def test_more_than_a_few_troubles_are_counted(self) -> None:
        found = page(demo()).stops
        self.assertEqual(len(found), 5)
        self.assertRegex(found[-1], r"^And \d+ more that are not settled\.$")


if __name__ == "__main__":
    unittest.main()
