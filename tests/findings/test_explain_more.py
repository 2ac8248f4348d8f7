"""Answers to why for candidates, wires, contacts and sensors: sums that add up."""

from __future__ import annotations

import unittest

from tests.demo import at, demo, put, state
from zombrel.catalog import DEMO
from zombrel.findings.explain import explain_candidate, explain_input, explain_wire
from zombrel.job.model import by_id
from zombrel.signals.finder import candidates
from zombrel.signals.reduce import input_of
from zombrel.store.zjob import load
from zombrel.units import Units


class Sums(unittest.TestCase):
    def test_a_candidates_minutes_add_up_to_its_score(self) -> None:
        for chain in demo().chains:
            for c in candidates(demo(), *input_of(demo(), chain)):
                reason = explain_candidate(demo(), c)
                if not c.possible:
                    self.assertEqual(reason.result, "not possible")
                    continue
                minutes = [g.value for g in reason.given if g.value.endswith(" min")]
                total = sum(float(m.removesuffix(" min")) for m in minutes)
                self.assertAlmostEqual(total, c.cost, delta=len(minutes) * 0.5)
                self.assertIn(f"score {c.score:.0f}", reason.result)
                self.assertEqual(reason.moves, max(c.parts, key=lambda p: p[1])[0])

    def test_a_wires_drop_goes_with_current_length_and_section(self) -> None:
        wire = by_id(demo().wires, "W13")
        assert wire is not None
        reason = explain_wire(demo(), wire, at(demo()).wire("W13"), state(demo()))
        self.assertIn("1 % of current: +1.00 %", reason.moves)
        self.assertIn("section: -0.99 %", reason.moves)

    def test_the_cancel_line_says_what_moves_it(self) -> None:
        """An LED string holds its knee: the supply moves it more than the pull-up."""
        chain = by_id(demo().chains, "brake-pace")
        assert chain is not None
        reason = explain_input(demo(), chain, at(demo()).chain("brake-pace"), Units())
        self.assertRegex(reason.moves, r"^1 % of supply: \+\d+\.\d mV at rest; pull-up: -")

    def test_a_contact_says_what_each_side_is(self) -> None:
        racer = load(DEMO / "0409.zjob")
        chain = by_id(racer.chains, "clutch")
        assert chain is not None
        reason = explain_input(racer, chain, at(racer).chain("clutch"), Units())
        self.assertEqual(reason.result, "sees it wrong")
        self.assertIn(("contact rests", "closed"), [(g.name, g.value) for g in reason.given])

    def test_a_lifted_ground_is_in_the_answer(self) -> None:
        chain = by_id(demo().chains, "blend-ecu")
        assert chain is not None
        lifted = explain_input(demo(), chain, at(demo()).chain("blend-ecu"), Units())
        self.assertIn(("ground lift", "1603 mV"), [(g.name, g.value) for g in lifted.given])
        clean = put(demo(), "studs.G3.ohm", 0.0)
        reason = explain_input(clean, chain, at(clean).chain("blend-ecu"), Units())
        self.assertIn(("ground lift", "1 mV"), [(g.name, g.value) for g in reason.given])


if __name__ == "__main__":
    unittest.main()
