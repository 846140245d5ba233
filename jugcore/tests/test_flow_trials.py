"""How a formula will run tomorrow, by what the shop tried through its funnel."""

from __future__ import annotations

import unittest

from jugcore.reading.flow_trials import FlowExpected, FlowTrial, flow_expected
from jugcore.tests.random_methods import AMYLASE as SHEET
from jugcore.tests.test_processes import cocoa, line, walked


class FunnelTrials(unittest.TestCase):
    def trial(self, starch_g: float, seconds: float, *, stuck: bool = False, brix: float = 55.0, funnel: str = "the funnel") -> FlowTrial:
        return FlowTrial(batch=f"b{starch_g:g}", cooked_starch=starch_g, brix=brix, seconds=seconds, stuck=stuck, funnel=funnel)

    def expected(self, *trials: FlowTrial) -> FlowExpected | None:
        """Plain cocoa of about 4.5 g of cooked starch to 100 g of water, at about 50 °Bx."""
        document = cocoa(sheet={**SHEET, "enzyme": {"source": "unknown"}})
        document["stages"].append({"id": "s", "kind": "add", "vessel": "pot", "lines": [line("s2", "white_sugar", "350 g")]})
        return flow_expected(walked(document), trials)

    def test_it_lies_between_its_neighbours_and_is_never_carried_past_them(self) -> None:
        found = self.expected(self.trial(2, 9), self.trial(3, 14), self.trial(6, 40))
        assert found is not None
        self.assertEqual((found.at_least_s, found.at_most_s, found.sticks), (14, 40, False))
        self.assertIn("14 to 40 s", found.words)
        only_less = self.expected(self.trial(2, 9))
        assert only_less is not None
        self.assertEqual((only_less.at_least_s, only_less.at_most_s), (9, None))
        only_more = self.expected(self.trial(8, 60))
        assert only_more is not None
        self.assertEqual((only_more.at_least_s, only_more.at_most_s), (None, 60))

    def test_one_with_less_starch_that_stuck_says_it_will_not_run(self) -> None:
        found = self.expected(self.trial(3, 0, stuck=True))
        assert found is not None
        self.assertTrue(found.sticks)
        self.assertIn("will not run", found.words)
        above = self.expected(self.trial(2, 9), self.trial(7, 0, stuck=True))
        assert above is not None
        self.assertFalse(above.sticks)

    def test_other_funnels_other_brix_and_no_trials_say_nothing(self) -> None:
        self.assertIsNone(self.expected())
        self.assertIsNone(self.expected(self.trial(3, 14, brix=30)))
        found = self.expected(self.trial(3, 14, funnel="the old one"), self.trial(2, 9))
        assert found is not None
        self.assertEqual(found.at_least_s, 9)


if __name__ == "__main__":
    unittest.main()
