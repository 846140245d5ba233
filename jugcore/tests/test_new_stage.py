"""A stage that nobody has heard of: its class is all that it takes, and everything that reads a walk reads it."""

from __future__ import annotations

import unittest
from collections.abc import Iterator
from datetime import UTC, datetime, timedelta
from typing import Literal, Self
from uuid import UUID

from jugcore.batch.log.events import Began, Done, Event, Gave, Logged
from jugcore.batch.sheet.run_sheet import sheet
from jugcore.editing.edits import insert_stage
from jugcore.editing.freeze import freeze
from jugcore.exchange.compare import Side, compare
from jugcore.exchange.exports import lines_table, recipe
from jugcore.fields import number
from jugcore.method.compile import compile_document, parse_document
from jugcore.method.context import Context
from jugcore.method.document import MethodDocument
from jugcore.method.kitchen import EquipmentKind
from jugcore.method.stages import AtStage, StageBase, Step
from jugcore.method.stages.base import finish
from jugcore.method.stages.entered import Entered
from jugcore.method.state import State
from jugcore.method.walk import walk
from jugcore.reading.equipment.cross_contact import allergens_met_by_equipment
from jugcore.reading.report import report
from jugcore.scaling.scale import scaled
from jugcore.suggesting.suggestions import suggestions

_NOW = datetime(2026, 3, 1, 6, 0, tzinfo=UTC)


class Skim(StageBase):
    """Take a share off the top with a siphon's cup, and throw it away."""

    title = "Skim"
    kind: Literal["skim"] = "skim"
    cautions = ("The ladle is hot.",)
    share: float = number(0.1, unit="1", gt=0, le=0.9, description="Taken off")

    def apply(self, state: State, ctx: Context) -> Step:
        held = ctx.matter(state, self.vessel)
        off = held.share(ctx.value(self.path("share"), self.share))
        after = state.with_vessels(**{self.vessel: held.minus(off)}).with_away("skimmed", off.mass_g)
        spent = ctx.seconds(30, 60, 120, stage=self)
        return Step(finish(self, state, after, duration_s=spent), (), spent, spent, {"off_g": off.total_g})

    @property
    def equipment_kind(self) -> EquipmentKind | None:
        return "siphon"

    def setting(self, at: AtStage) -> str:
        return f"{100 * self.share:g} % off"

    def instruction(self, at: AtStage) -> str:
        return f"Skim {float(at.step.figures['off_g'][0]):.0f} g off {at.method.vessel_name(self.vessel)}"

    def warnings(self, after_c: float) -> Iterator[str]:
        if after_c > 40:
            yield from super().warnings(after_c)

    def as_measured(self, entered: Entered) -> Self:
        return self if entered.gave_g is None else self.model_copy(update={"share": 0.5})


def _document() -> MethodDocument:
    method = parse_document({
        "name": "Skimmed",
        "stages": [
            {"id": "in", "kind": "add", "vessel": "pot", "lines": [
                {"id": "milk", "substance": "whole_milk", "amount": "500 g"}, {"id": "sugar", "substance": "white_sugar", "amount": "500 g"},
            ]},
            {"id": "warm", "kind": "heat", "vessel": "pot", "to_c": 70},
            {"id": "off", "kind": "boil", "vessel": "pot", "until": {"brix": 60}},
        ],
    })  # fmt: skip
    return insert_stage(method.document, Skim(id="skim", vessel="pot"), 2)


def _entered(seq: int, what: object) -> Logged:
    at = _NOW + timedelta(minutes=seq)
    return Logged(seq, Event.model_validate({"id": UUID(int=seq), "at": at, "by": "mina", "device": "hob", "what": what}))


class NewStage(unittest.TestCase):
    def test_it_is_walked_and_accounted_for(self) -> None:
        walked = walk(compile_document(_document()))
        self.assertEqual(walked.faults, ())
        self.assertAlmostEqual(float(walked.came_in_g()[0].sum()), float(walked.stands_g()[0].sum()), places=9)
        self.assertAlmostEqual(float(walked.step("skim").figures["off_g"][0]), 100.0, places=6)

    def test_the_report_tells_of_it(self) -> None:
        found = report(walk(compile_document(_document())))
        stage = next(each for each in found.stages if each.id == "skim")
        self.assertEqual((stage.name, stage.cautions[0]), ("Skim", "The ladle is hot."))
        self.assertTrue(stage.summary.startswith("10 % off · "), stage.summary)
        self.assertTrue(stage.trunk)

    def test_the_run_sheet_orders_it_and_a_batch_takes_what_was_measured(self) -> None:
        began, gave, done = Began(stage="skim"), Gave(stage="skim", reads_g=500.0), Done(stage="skim")
        log = [_entered(i + 1, what) for i, what in enumerate((began, gave, done))]
        step = next(each for each in sheet(_document(), [], _NOW).steps if each.id == "skim")
        self.assertEqual((step.title, step.state), ("Skim 100 g off pot", "to_do"))
        after = sheet(_document(), log, _NOW + timedelta(minutes=9))
        self.assertEqual(next(each for each in after.steps if each.id == "skim").title, "Skim 500 g off pot")
        self.assertEqual(after.aside, [])

    def test_whatever_else_reads_a_walk_reads_it(self) -> None:
        method = compile_document(_document())
        walked = walk(method)
        self.assertEqual(allergens_met_by_equipment(walked), {"siphon": ("milk",)})
        self.assertIn("10 % off", recipe(walked)["recipeInstructions"][2]["text"])
        self.assertEqual(len(lines_table(walked)[1]), 2)
        self.assertIn("Skim", [each.title for each in compare([Side("a", walked), Side("b", walked)]).stages])
        self.assertAlmostEqual(float(walk(compile_document(scaled(method, 2.0))).product.total_g[0]), 2 * float(walked.product.total_g[0]), delta=20)
        self.assertTrue(suggestions(method, "brix", 62.0).suggestions)
        self.assertEqual([stage.id for stage in freeze(method).stages], ["in", "warm", "skim", "off"])


if __name__ == "__main__":
    unittest.main()
