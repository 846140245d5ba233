"""What is off plan, sorted by what to look at."""

from __future__ import annotations

import unittest
from typing import Any

from jugcore.batch.sheet.off_plan import off_plan, worth_looking_at
from jugcore.batch.sheet.schema import Deviation


def off(id: str, **more: Any) -> Deviation:
    reading = None if id.startswith("line:") else id
    return Deviation.model_validate(
        {"id": id, "title": id, "unit": "g", "digits": 0, "planned": 1, "actual": 2, "beyond": True, "reading": reading, **more}
    )


class OffPlan(unittest.TestCase):
    """Common practice, no source."""

    def sorted(self, *deviations: Deviation) -> dict[str, str]:
        return {each.id: each.look for each in worth_looking_at(deviations)}

    def test_one_pot_boiled_too_far_is_one_thing(self) -> None:
        found = worth_looking_at([off("brix"), off("yield_g"), off("spice_finished")])
        self.assertEqual([each.look for each in found], ["first", "besides", "besides"])
        self.assertEqual(off_plan(found), 1)

    def test_every_line_that_was_weighed_off_is_one(self) -> None:
        found = worth_looking_at([off("line:a"), off("brix"), off("line:b"), off("yield_g")])
        self.assertEqual([each.look for each in found], ["first", "first", "first", "besides"])
        self.assertEqual(off_plan(found), 3)

    def test_what_was_said_to_and_what_is_near_enough_are_none(self) -> None:
        found = worth_looking_at([off("line:a", dealt="accepted"), off("brix", dealt="put_right"), off("fat", beyond=False), off("yield_g")])
        self.assertEqual([each.look for each in found], ["dealt", "dealt", "near", "first"])
