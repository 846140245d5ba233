"""Plan against actual: the frozen plan, what was changed on purpose, what happened; nothing that was not reached is “as asked”."""

from __future__ import annotations

import unittest

from jugcore.batch.sheet.plan import plan_against_actual
from jugcore.batch.sheet.schema import PlanRow
from jugcore.editing.edits import set_amount
from jugcore.method.amounts import Written
from jugcore.tests.batches import Book, pear_syrup


def rows(batch: Book) -> dict[str, PlanRow]:
    return {row.id: row for row in plan_against_actual(batch.actual_batch())}


class Plan(unittest.TestCase):
    def test_a_stopped_batch_says_what_was_reached_and_nothing_more(self) -> None:
        batch = Book()
        batch.enter("weighed", line="pear", reads_g=410, tare_g=0, more=False, minute=1)
        batch.cook_to("sweeten", minute=2)
        batch.enter("closed", outcome="stopped", reason="Dropped", again=False, minute=3)
        found = rows(batch)
        self.assertEqual((found["pear"].how, found["pear"].planned, found["pear"].actual), ("measured", 430.0, 410.0))
        self.assertEqual(found["water"].how, "as_asked")
        for id in ("sugar", "mace", "cardamom", "boil.minutes", "boil.off", "strain.lost", "brix", "yield_g"):
            self.assertEqual((found[id].how, found[id].actual), ("not_reached", None), id)
            self.assertIsNotNone(found[id].planned, id)
        self.assertEqual(batch.sheet(5).plan, list(found.values()))

    def test_the_plan_stays_the_frozen_one_and_what_was_changed_on_purpose_stands_beside_it(self) -> None:
        batch = Book()
        batch.cook_to("sweeten", minute=1)
        way = set_amount(pear_syrup(), "sugar", Written(text="900 g"))
        batch.enter(
            "put_right", title="More sugar", why="sweeter", about="", actual=None, document=way.model_dump(mode="json", exclude_none=True), minute=2
        )
        found = rows(batch)
        planned = found["sugar"].planned
        assert planned is not None
        self.assertAlmostEqual(planned, 860, delta=1)
        self.assertEqual(found["sugar"].purposed, 900.0)
        self.assertIsNone(found["pear"].purposed)

    def test_the_yield_is_what_stands_in_bottles_and_what_nobody_measured_is_the_walks(self) -> None:
        batch = Book()
        found = {row.id: row for row in plan_against_actual(batch.actual_batch(), 1200.0)}
        self.assertEqual((found["yield_g"].actual, found["yield_g"].how), (1200.0, "measured"))
        self.assertEqual((found["brix"].how, rows(batch)["yield_g"].how), ("computed", "computed"))

    def test_a_swapped_line_keeps_the_plans_name_beside_what_went_in(self) -> None:
        batch = Book()
        batch.enter("swapped", line="sugar", substance="demerara_sugar", minute=1)
        self.assertRegex(rows(batch)["sugar"].title, "^White granulated sugar, now demerara")
        self.assertEqual(rows(batch)["pear"].title, "Pear juice, pressed")

    def test_boil_time_boil_off_and_what_the_sieve_kept(self) -> None:
        batch = Book()
        batch.cook_to("boil", minute=1)
        batch.enter("began", stage="boil", minute=10)
        batch.enter("pot_weighed", stage="boil", reads_g=2500, tare_g=1243, minute=40)
        batch.enter("done", stage="boil", minute=47)
        batch.enter("gave", stage="strain", reads_g=1150, tare_g=0, minute=55)
        batch.enter("done", stage="strain", minute=56)
        found = rows(batch)
        self.assertEqual((found["boil.minutes"].how, found["boil.minutes"].actual), ("measured", 37.0))
        self.assertGreater(found["boil.minutes"].planned or 0, 5)
        off, lost = found["boil.off"], found["strain.lost"]
        self.assertEqual((off.how, lost.how), ("measured", "measured"))
        self.assertNotAlmostEqual(off.actual or 0, off.planned or 0, delta=5)
        self.assertAlmostEqual(lost.actual or 0, 2500 - 1243 - 1150, delta=1)


if __name__ == "__main__":
    unittest.main()
