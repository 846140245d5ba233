"""What a formula is for other programs: the grams of the walk, nothing that runs, and what is lost said."""

from __future__ import annotations

import json
import unittest
from pathlib import Path

from jugcore.exchange.exports import LINES_LOSE, RECIPE_LOSES, lines_table, recipe
from jugcore.method.compile import parse_document
from jugcore.method.walk import walk

EXAMPLES = Path(__file__).resolve().parents[2] / "docs" / "examples"


class Exports(unittest.TestCase):
    def test_a_recipe_holds_the_grams_of_the_walk_and_a_step_a_stage(self) -> None:
        for path in sorted(EXAMPLES.glob("*.json")):
            method = parse_document(json.loads(path.read_text(encoding="utf-8")))
            walked = walk(method)
            found = recipe(walked)
            with self.subTest(formula=path.stem):
                self.assertEqual((found["@context"], found["@type"], found["name"]), ("https://schema.org", "Recipe", method.document.name))
                self.assertEqual(len(found["recipeIngredient"]), len(method.lines))
                self.assertEqual(len(found["recipeInstructions"]), len(method.stages))
                for text, id in zip(found["recipeIngredient"], method.lines, strict=True):
                    self.assertAlmostEqual(float(text.split(" g ")[0]), float(walked.end.lines[id][0]), delta=0.51)
                self.assertEqual(found["disambiguatingDescription"], RECIPE_LOSES)
                json.dumps(found)

    def test_a_table_has_a_row_a_line_that_adds_up(self) -> None:
        walked = walk(parse_document(json.loads((EXAMPLES / "ferrymans-spice.json").read_text(encoding="utf-8"))))
        head, rows = lines_table(walked)
        self.assertEqual({len(row) for row in rows}, {len(head)})
        self.assertEqual([row[2] for row in rows], list(walked.method.lines))
        self.assertAlmostEqual(sum(float(row[7]) for row in rows), 1.0, places=3)
        self.assertIn("nothing to walk again", LINES_LOSE)


if __name__ == "__main__":
    unittest.main()
