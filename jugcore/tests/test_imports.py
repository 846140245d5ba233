"""Files from elsewhere: our own documents come in whole, all else as rows with what is wrong at each."""

from __future__ import annotations

import csv
import json
import unittest
from io import StringIO
from pathlib import Path

from jugcore.errors import BadDocument, DomainError
from jugcore.exchange.exports import lines_table, recipe
from jugcore.exchange.imports import MOST_CHARACTERS, MOST_ROWS, Placed, as_problems, document_of, lacks, read_file
from jugcore.method.compile import compile_document, parse_document
from jugcore.method.document import MethodDocument
from jugcore.method.walk import walk

EXAMPLES = Path(__file__).parents[2] / "jugserver" / "demo" / "formulas"


def _example(name: str = "ferrymans-spice") -> MethodDocument:
    return MethodDocument.model_validate_json((EXAMPLES / f"{name}.json").read_text(encoding="utf-8"))


class OurOwn(unittest.TestCase):
    def test_every_formula_comes_back_as_it_was(self) -> None:
        """Lossless: out as JSON and in again is the same document, one at a time and all in one file."""
        documents = [MethodDocument.model_validate_json(path.read_text(encoding="utf-8")) for path in sorted(EXAMPLES.glob("*.json"))]
        for document in documents:
            found = read_file(document.model_dump_json(exclude_none=True))
            self.assertEqual((found.form, found.formulas[0].document), ("document", document))
        together = read_file(json.dumps([document.model_dump(mode="json", exclude_none=True) for document in documents]))
        self.assertEqual([formula.document for formula in together.formulas], documents)

    def test_what_keeps_one_is_looked_into(self) -> None:
        raw = _example().model_dump(mode="json", exclude_none=True)
        for kept in ({"number": 3, "document": raw}, {"formulas": [{"document": raw}]}):
            self.assertEqual(read_file(json.dumps(kept)).formulas[0].document, _example())

    def test_a_wrong_field_is_told_at_its_place_and_the_rest_still_comes_in(self) -> None:
        good = _example().model_dump(mode="json", exclude_none=True)
        bad = json.loads(json.dumps(good))
        bad["stages"][0]["lines"][0]["colour"] = "red"
        found = read_file(json.dumps([bad, good]))
        self.assertIsNone(found.formulas[0].document)
        self.assertIn("colour", found.formulas[0].problems[0].message)
        self.assertEqual(found.formulas[1].document, _example())

    def test_a_format_of_tomorrow(self) -> None:
        found = read_file(json.dumps({"format": "oakenjug.method/9", "name": "Later", "stages": []}))
        self.assertIn("oakenjug.method/9", found.formulas[0].problems[0].message)

    def test_what_cannot_be_walked_is_told(self) -> None:
        document = document_of("N", "", "", "", [Placed(number=1, substance="no_such", amount="1 g")])
        with self.assertRaises(DomainError) as caught:
            compile_document(document)
        self.assertIn("no_such", as_problems(caught.exception)[0].message)

    def test_what_a_row_lacks(self) -> None:
        lacking = [lacks("moon dust", "", ""), lacks("salt", "salt", ""), lacks("salt", "salt", "1 g")]
        self.assertEqual([each and each.field for each in lacking], ["substance", "amount", None])


class Recipes(unittest.TestCase):
    def test_our_own_recipe_comes_back_to_the_gram(self) -> None:
        walked = walk(parse_document(_example().model_dump(mode="json", exclude_none=True)))
        found = read_file(json.dumps(recipe(walked)))
        self.assertEqual(found.form, "recipe")
        self.assertEqual([row.words for row in found.formulas[0].rows], recipe(walked)["recipeIngredient"])
        self.assertIn(f"{len(walked.stages)}. ", found.formulas[0].notes)

    def test_a_graph_sections_and_a_page(self) -> None:
        raw = {
            "@context": "https://schema.org", "@graph": [
                {"@type": "WebPage", "name": "Page"},
                {
                    "@type": ["Recipe"], "name": "Quince &amp; bay", "recipeIngredient": ["1 kg quince juice", " <b>400 g</b> white sugar "],
                    "recipeInstructions": [{"@type": "HowToSection", "itemListElement": [{"@type": "HowToStep", "text": "Simmer."}]}, "Fill hot."],
                },
            ],
        }  # fmt: skip
        for text in (json.dumps(raw), f'<html><head><script type="application/ld+json">{json.dumps(raw)}</script></head></html>'):
            formula = read_file(text).formulas[0]
            self.assertEqual((formula.name, [row.words for row in formula.rows]), ("Quince & bay", ["1 kg quince juice", "400 g white sugar"]))
            self.assertEqual(formula.notes, "1. Simmer.\n2. Fill hot.")

    def test_a_recipe_of_nothing_says_so(self) -> None:
        formula = read_file('{"@type": "Recipe", "name": "Air"}').formulas[0]
        self.assertEqual(formula.rows, [])
        self.assertIn("lists nothing", formula.problems[0].message)


class Tables(unittest.TestCase):
    def test_our_own_table_comes_back_to_the_gram(self) -> None:
        """Ties do not come back, what follows one is taken by its grams."""
        walked = walk(parse_document(_example().model_dump(mode="json", exclude_none=True)))
        head, rows = lines_table(walked)
        out = StringIO()
        csv.writer(out).writerows([head, *rows])
        found = read_file("\ufeff" + out.getvalue(), "Ferryman.csv")
        self.assertEqual((found.form, found.formulas[0].name), ("table", "Ferryman"))
        placed = [Placed(number=row.number, stage=row.stage, substance=row.id, amount=row.amount) for row in found.formulas[0].rows]
        again = walk(parse_document(document_of("F", "", "", "", placed).model_dump(mode="json", exclude_none=True)))
        grams = [float(again.end.lines[f"line-{row.number}"][0]) for row in found.formulas[0].rows]
        for back, id in zip(grams, walked.method.lines, strict=True):
            self.assertAlmostEqual(back, float(walked.end.lines[id][0]), delta=0.01)

    def test_heads_marks_and_units(self) -> None:
        for text in ("Ingredient;Qty;Unit\nwater;1,5;kg\n", "item\tamount\nwater\t1,5 kg\n", "Step,Ingredient,Weight (g)\nIn,water,1500\n"):
            row = read_file(text).formulas[0].rows[0]
            self.assertEqual((row.number, row.words), (2, "water"))
            self.assertIn(row.amount, ("1,5 kg", "1500 g"))

    def test_many_formulas_blank_lines_and_apostrophes(self) -> None:
        found = read_file("formula,stage,ingredient,amount\nA,In,water,1 kg\n\nB,In,'=sugar,20 g\nA,Late,salt,\n")
        self.assertEqual([formula.name for formula in found.formulas], ["A", "B"])
        self.assertEqual([(row.stage, row.words, row.amount) for row in found.formulas[0].rows], [("In", "water", "1 kg"), ("Late", "salt", "")])
        self.assertEqual((found.formulas[1].rows[0].words, found.formulas[1].rows[0].number), ("=sugar", 4))

    def test_stages_that_follow_each_other_stay_apart(self) -> None:
        rows = [Placed(number=n, stage=stage, substance="water", amount="1 g") for n, stage in enumerate(("A", "A", "B", "A"))]
        self.assertEqual([len(stage.lines) for stage in document_of("N", "", "", "", rows).stages if hasattr(stage, "lines")], [2, 1, 1])

    def test_stages_are_told_apart_by_place_and_one_alone_needs_none(self) -> None:
        def named(*stages: str) -> list[tuple[str, str | None]]:
            rows = [Placed(number=n, stage=stage, substance="water", amount="1 g") for n, stage in enumerate(stages)]
            return [(stage.id, stage.name) for stage in document_of("N", "", "", "", rows).stages]

        self.assertEqual(named("", ""), [("in-1", "All together")])
        self.assertEqual(named("Syrup", ""), [("in-1", "Syrup"), ("in-2", "In, 2")])
        self.assertEqual(named("", "Syrup"), [("in-1", "In, 1"), ("in-2", "Syrup")])

    def test_as_many_stages_and_lines_as_a_formula_may_have_and_no_more(self) -> None:
        def rows(many: int, *, apart: bool) -> list[Placed]:
            return [Placed(number=n, stage=f"S{n}" if apart else "", substance="water", amount="1 g") for n in range(many)]

        self.assertEqual(len(document_of("N", "", "", "", rows(60, apart=True)).stages), 60)
        for many, apart, words in ((61, True, "61 steps; at most 60"), (121, False, "121 ingredients; at most 120")):
            with self.assertRaisesRegex(BadDocument, words):
                document_of("N", "", "", "", rows(many, apart=apart))


class Lists(unittest.TestCase):
    def test_lines_as_people_type_them(self) -> None:
        found = read_file("For the syrup:\n- 500 g white sugar\n2) 500 g water\n\n* 1 1/2 tsp blossom water", "notes.txt")
        formula = found.formulas[0]
        self.assertEqual((found.form, formula.name), ("list", "notes"))
        self.assertEqual([row.words for row in formula.rows], ["500 g white sugar", "500 g water", "1 1/2 tsp blossom water"])
        self.assertEqual({row.stage for row in formula.rows}, {"For the syrup"})

    def test_what_is_none_of_it_is_told(self) -> None:
        cases = {
            "": "nothing in this file", "{": "stops making sense in line 1", "[1, 2]": "no formula and no recipe", "<html></html>": "carries no recipe",
            "ingredient,amount\n": "no line under it", "PK\x03\x04\x00": "not a text file", "x" * (MOST_CHARACTERS + 1): "too long", "[" * 100_000: "JSON",
            "formula,ingredient,amount\n" + "".join(f"F{n % 5},water,{n} g\n" for n in range(1, 1200)): "1,199 lines",
            "[" * 950 + "]" * 950: "JSON",
        }  # fmt: skip
        for text, words in cases.items():
            with self.assertRaises(BadDocument) as caught:
                read_file(text)
            self.assertIn(words, caught.exception.message)
            self.assertTrue(caught.exception.remedy)

    def test_more_lines_than_are_taken_is_told(self) -> None:
        formula = read_file("\n".join(f"{n} g water" for n in range(1, MOST_ROWS + 5))).formulas[0]
        self.assertEqual(len(formula.rows), MOST_ROWS)
        self.assertIn("left out", formula.problems[0].message)


if __name__ == "__main__":
    unittest.main()
