"""Each planted trouble of job 0412 is found from its facts, goes with them, and is mended."""

from __future__ import annotations

import unittest

import msgspec

from tests.demo import Many, apply, at, demo, found, put, state, whole
from zombrel.diagnose.steps import steps
from zombrel.findings.assess import assess, rank
from zombrel.findings.finding import Finding
from zombrel.findings.met import MOST, mended
from zombrel.findings.overall.fact_rules import _engine
from zombrel.findings.overall.progress_rules import stage_states
from zombrel.findings.scene import Scene
from zombrel.job.edits import Add, Put, Remove
from zombrel.job.ledger import evidence
from zombrel.job.model import Job
from zombrel.job.reason import Reason
from zombrel.job.records.lesson import Met
from zombrel.units import METRIC, Units, words

PLANTED = {
    "rate-limit-speed-pace": "tone ring past 1 kHz above 150 km/h",
    "setting-speed-pace": "pace unit two steps out",
    "brake-brake-pace": "LED lamps leave CANCEL floating",
    "coil-tach-lamp": "shift lamp on a coil with the spark box fitted",
    "colour-W3-a": "two green/white wires in D2",
    "noise-W1-0": "speed run 60 mm from coil 2",
    "slot-F9": "20 A fuse on 1.0 mm²",
    "feed-W15": "accessory feed for the spark box",
    "lift-blend-ecu": "blend sender ground lifted by 1.60 V",
}


class Planted(unittest.TestCase):
    def test_all_are_found(self) -> None:
        got = found(demo())
        for key, trouble in PLANTED.items():
            self.assertIn(key, got, trouble)

    def test_change_the_fact_and_the_finding_goes(self) -> None:
        job = demo()
        counted = apply(job, evidence(job, "wires.W3.a", "counted"))
        no_box = apply(
            job,
            Many(
                edits=(
                    Remove(path="chains.tach-hub"),
                    Remove(path="chains.pick-spark"),
                    Remove(path="chains.arm-spark"),
                    Remove(path="sources.s4out"),
                    Remove(path="devices.spark"),
                )
            ),
        )
        for key, changed in (
            ("rate-limit-speed-pace", put(job, "vehicle.top_mps", 140 / 3.6)),
            ("rate-limit-speed-pace", put(job, "sources.ring.spec.teeth", 30)),
            ("setting-speed-pace", put(job, "devices.pace.settings.SPEED.at", "E9")),
            ("brake-brake-pace", put(job, "vehicle.lamps", "filament")),
            ("coil-tach-lamp", no_box),
            ("colour-W3-a", counted),
            ("colour-W3-a", put(job, "connectors.D2.cavities.4.colour", "violet")),
            ("noise-W1-0", put(job, "wires.W1.neighbours.0.spacing_m", 0.4)),
            ("slot-F9", put(job, "feeds.F9.wire_mm2", 2.5)),
            ("slot-F9", put(job, "feeds.F9.fuse_a", 10.0)),
            ("feed-W15", put(job, "feeds.F5.feed", "run-and-crank")),
            ("lift-blend-ecu", put(job, "studs.G3.ohm", 0.001)),
            ("lift-blend-ecu", put(job, "studs.G3.load_a", 0.0)),
        ):
            with self.subTest(key):
                self.assertIn(key, found(job))
                self.assertNotIn(key, found(changed))

    def test_every_mend_that_is_an_edit_settles_its_finding(self) -> None:
        job = demo()
        for finding in at(job).findings:
            for mend in finding.mends:
                if mend.edit is None:
                    self.assertTrue(mend.go, finding.id)
                    continue
                with self.subTest(finding=finding.id, mend=mend.label):
                    self.assertNotIn(finding.id, found(apply(job, mend.edit)))

    def test_mending_everything_leaves_only_what_hands_must_do(self) -> None:
        left = found(whole())
        self.assertEqual(set(left), {"assumed", "uncounted", "undrawn"})

    def test_scenario_figures_in_the_words(self) -> None:
        got = {f.id: f for f in at(demo()).findings}
        title = got["rate-limit-speed-pace"].title
        self.assertIn("150 km/h", words(title, Units()))
        self.assertIn("93 mph", words(title, Units(distance="mi")))
        text = words(got["rate-limit-speed-pace"].text, Units(distance="mi"))
        self.assertIn("38\u00a0711 pulses per mile", text)
        self.assertIn("÷7 and C1", got["rate-limit-speed-pace"].text)
        self.assertIn("7.0 V", got["brake-brake-pace"].text)
        self.assertIn("E9 is nearest", got["setting-speed-pace"].text)
        self.assertIn("27 and 4", got["colour-W3-a"].text)
        self.assertIn("60 mm", words(got["noise-W1-0"].text, METRIC))

    def test_every_reason_is_complete(self) -> None:
        for finding in at(demo()).findings:
            why = finding.reason
            self.assertIsInstance(why, Reason)
            self.assertTrue(why.result and why.formula and why.title, finding.id)


class Other(unittest.TestCase):
    def test_worst_first_then_cheapest(self) -> None:
        order = at(demo()).findings
        self.assertEqual(order[0].id, "brake-brake-pace")
        levels = [f.level for f in order]
        self.assertEqual(levels, sorted(levels, key=["trouble", "watch", "note"].index))

        def make(key: str, harm: int, minutes: float) -> Finding:
            reason = Reason(title="", result="", formula="")
            return Finding(
                id=key,
                stage="wire",
                level="watch",
                title="",
                text="",
                harm=harm,
                minutes=minutes,
                reason=reason,
            )

        ranked = rank([make("slow", 50, 30), make("mild", 10, 1), make("quick", 50, 5)])
        self.assertEqual([f.id for f in ranked], ["quick", "slow", "mild"])

    def test_a_bare_job_says_what_is_missing(self) -> None:
        got = at(Job()).findings
        self.assertEqual([f.id for f in got], ["missing"])
        self.assertEqual([g.name for g in got[0].reason.given], ["Vehicle"])  # nothing asks more

    def test_a_chain_without_its_fact_names_it(self) -> None:
        got = {f.id: f for f in at(put(demo(), "vehicle.tyre", "")).findings}
        self.assertIn("tyre size is missing", got["incomplete-speed-pace"].text)
        wrong = {f.id: f for f in at(put(demo(), "devices.pace.settings.SPEED.at", "Z9")).findings}
        self.assertIn("Z9", wrong["incomplete-speed-pace"].text)

    def test_weak_and_silent_signals(self) -> None:
        weak = put(demo(), "sources.ring.spec.volts_per_hz", 0.0008)
        self.assertIn("level-speed-hub", found(weak))
        open_collector = apply(
            demo(),
            Many(
                edits=(
                    Add(
                        path="sources",
                        value={
                            "id": "ecu",
                            "name": "ECU",
                            "quantity": "tach",
                            "spec": {"type": "computer", "pulses_per_rev": 3.0},
                        },
                    ),
                    Put(path="chains.tach-hub.source", value="ecu"),
                )
            ),
        )
        got = {f.id: f for f in at(open_collector).findings}
        self.assertIn("never counts", got["level-tach-hub"].title)
        mend = next(m for m in got["level-tach-hub"].mends if m.edit is not None)
        self.assertNotIn("level-tach-hub", found(apply(open_collector, mend.edit)))

    def test_loading_a_shared_pair(self) -> None:
        job = put(demo(), "devices.hub.sheet.inputs.SPEED.input_ohm", 4700.0)
        self.assertIn("loading-ring", found(job))

    def test_wires(self) -> None:
        thin = put(demo(), "wires.W13.area_mm2", 1.0)
        got = found(thin)
        self.assertIn("fuse-W13", got)
        self.assertIn("drop-W13", got)
        for finding in (got["fuse-W13"], got["drop-W13"]):
            edits = [m.edit for m in finding.mends if m.edit is not None]  # type: ignore[attr-defined]
            self.assertTrue(edits)
            for edit in edits:
                self.assertNotIn(finding.id, found(apply(thin, edit)))  # type: ignore[attr-defined]

    def test_unconnected_input_gets_the_best_source(self) -> None:
        job = apply(demo(), Remove(path="chains.speed-hub"))
        finding = at(job).findings
        got = next(f for f in finding if f.id == "unconnected-hub-SPEED")
        fixed = apply(job, got.mends[0].edit)  # type: ignore[arg-type]
        chain = fixed.chains[-1]
        self.assertEqual((chain.device, chain.pin, chain.source), ("hub", "SPEED", "ring"))

    def test_hot_air_lowers_what_a_wire_carries(self) -> None:
        hot = state(demo(), "Hot hill")
        cool = state(demo())
        a, b = assess(demo(), hot).wire("W13"), assess(demo(), cool).wire("W13")
        self.assertLess(a.ampacity, b.ampacity)

    def test_same_job_same_answer_and_nothing_changed(self) -> None:
        job = demo()
        before = msgspec.json.encode(job)
        a, b = at(job), assess(job, state(job))
        self.assertEqual((a.chains, a.wires, a.stages), (b.chains, b.wires, b.stages))
        self.assertEqual([(f.id, f.text) for f in a.findings], [(f.id, f.text) for f in b.findings])
        self.assertEqual(msgspec.json.encode(job), before)


class Stages(unittest.TestCase):
    def words(self, job: Job) -> dict[str, tuple[str, str]]:
        return {s.stage: (s.mark, s.words) for s in at(job).stages}

    def test_from_evidence_not_ticks(self) -> None:
        got = self.words(demo())
        self.assertEqual(got["road"], ("locked", "locked"))
        self.assertEqual(got["prove"], ("open", "0 of 38 proven"))
        self.assertEqual(got["source"][0], "trouble")
        mended = self.words(whole())
        self.assertEqual(mended["source"], ("good", "settled"))
        self.assertEqual(mended["set"], ("good", "settled"))
        self.assertEqual(self.words(Job())["source"], ("open", "no signals yet"))


class HotSide(unittest.TestCase):
    def test_a_tap_on_the_hot_side_never_cancels(self) -> None:
        """Whatever lamps, relay or resistor hang on it: the pedal is never seen, and Road shut."""
        source = next(c.source for c in demo().chains if c.id == "brake-pace")
        for lamps in ("led", "filament"):
            for hops in ([], [{"type": "relay"}], [{"type": "load", "ohm": 47.0}]):
                job = put(put(demo(), "vehicle.lamps", lamps), "chains.brake-pace.hops", hops)
                hot = put(job, f"sources.{source}.spec.side", "hot")
                finding = found(hot)["brake-brake-pace"]
                with self.subTest(lamps, hops=hops):
                    self.assertEqual((finding.level, finding.harm), ("trouble", 100))
                    self.assertIn("hot side: 13.8 V with the pedal up and down", finding.text)
                    self.assertFalse(at(hot).chain("brake-pace").brake.sure)
                    gate = next(s for s in steps(hot) if s.gate)
                    self.assertIn("hot side", gate.blocked)
        self.assertNotIn("brake-brake-pace", found(whole()))


class Codes(unittest.TestCase):
    """What a finding is filed under comes from codes, whatever things are called."""

    def test_a_name_does_not_decide(self) -> None:
        for name in ("Surveyor hub", "Hub, see Set", "enter it in Survey"):
            job = put(demo(), "devices.hub.name", name)
            unset = apply(job, Remove(path="devices.hub.settings.SPEED"))
            finding = found(unset)["incomplete-speed-hub"]
            with self.subTest(name):
                self.assertEqual((finding.stage, finding.mends[-1].go), ("set", "set:speed-hub"))
                assert finding.mends[0].edit is not None  # where it should stand is offered
                self.assertNotIn("incomplete-speed-hub", found(apply(unset, finding.mends[0].edit)))
        lacking = put(demo(), "vehicle.tyre", "")
        finding = found(lacking)["incomplete-speed-hub"]
        self.assertEqual((finding.stage, finding.mends[0].go), ("survey", "survey:vehicle.tyre"))


class Engine(unittest.TestCase):
    def test_an_engine_that_idles_at_its_redline_is_impossible(self) -> None:
        job = demo()
        for idle, wrong in ((job.vehicle.redline_rps, True), (job.vehicle.redline_rps / 5, False)):
            with self.subTest(idle):
                said = [title for _, title, *_ in _engine(put(job, "vehicle.idle_rps", idle))]
                self.assertEqual("The engine idles above its redline" in said, wrong)

    def test_an_engine_may_idle_where_its_redline_is_not_known(self) -> None:
        job = put(demo(), "vehicle.redline_rps", None)
        self.assertNotIn("The engine idles above its redline", {f.title for f in at(job).findings})
        job = put(demo(), "vehicle.redline_rps", 10.0)
        self.assertIn("The engine idles above its redline", {f.title for f in at(job).findings})

    def test_no_more_is_remembered_than_a_job_can_hold(self) -> None:
        finding = at(demo()).findings[0]
        for many, noted in ((MOST - 1, True), (MOST, False)):
            held = tuple(Met(id=f"m{i}", code="x", title="x") for i in range(many))
            job = msgspec.structs.replace(demo(), met=held)
            after = apply(job, mended(job, finding, Put(path="notes", value="x")))
            self.assertEqual(len(after.met) > many, noted)

    def test_a_stage_is_as_bad_as_the_worst_that_is_said_of_it(self) -> None:
        job = demo()
        found = at(job).findings
        trouble = next(f for f in found if f.level == "trouble" and f.stage == "wire")
        watch = msgspec.structs.replace(trouble, level="watch")
        for said, mark in (
            ((watch,), "watch"),
            ((watch, trouble), "trouble"),
            ((trouble, watch), "trouble"),
            ((), "good"),
        ):
            stages = {s.stage: s.mark for s in stage_states(Scene(job, state(job)), said, "")}
            with self.subTest([f.level for f in said]):
                self.assertEqual(stages["wire"], mark)

    def test_half_a_tooth_of_a_wheel_on_the_cam_is_a_whole_one_of_the_crank(self) -> None:
        """Six teeth: 720/6/2 on a cam of four strokes, 360/6/2 on the crank and of two strokes."""
        for on_cam, strokes, late in ((True, 4, 60.0), (False, 4, 30.0), (True, 2, 30.0)):
            job = put(put(demo(), "chains.pick-spark.polarity", "reversed"), "ledger", [])
            job = put(put(job, "sources.pick.spec.on_cam", on_cam), "vehicle.strokes", strokes)
            said = next(f for f in at(job).findings if f.id == "polarity-pick-spark")
            with self.subTest(on_cam=on_cam, strokes=strokes):
                self.assertIn(f"about {late:.1f}° of crank later", said.text)

    def test_where_the_point_of_a_final_drive_slipped(self) -> None:
        for typed, meant in ((36.4, "3.64"), (0.364, "3.64"), (364.0, "3.64"), (0.0364, "3.64")):
            job = put(put(demo(), "vehicle.final_drive", typed), "ledger", [])
            labels = [m.label for f in at(job).findings for m in f.mends]
            with self.subTest(typed):
                self.assertIn(f"The point slipped: {meant}", labels)


if __name__ == "__main__":
    unittest.main()
