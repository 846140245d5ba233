"""An answer about keeping stands as long as what it rests on: it falls with stages and lines, by whatever door they change."""

from __future__ import annotations

import json
import unittest
from typing import Any

from jugcore.editing.freeze import freeze, thaw
from jugcore.editing.keeping_answers import _the_same, rests_on, standing_answers, with_basis
from jugcore.exchange.imports import read_file
from jugcore.method.compile import compile_document, parse_document
from jugcore.method.document import MethodDocument
from jugcore.method.method import Method
from jugcore.method.walk import walk
from jugcore.reading.report import report
from jugcore.scaling.schema import ScaleRequest, scale_report
from jugcore.solving.schema import SolveRequest, TargetRequest, solve_report
from jugcore.suggesting.schema import suggestions_report
from jugcore.suggesting.substitute import substitute

Doc = dict[str, Any]


def document(**changed: Any) -> Doc:
    return {
        "name": "Pear", "vessels": [{"id": "pot"}, {"id": "bottles"}],
        "stages": [
            {"id": "in", "kind": "add", "vessel": "pot", "lines": [
                {"id": "juice", "substance": "pear_juice", "amount": "400 g"}, {"id": "sugar", "substance": "white_sugar", "amount": "400 g"},
                {"id": "sour", "substance": "lemon_juice", "amount": "20 g"}, {"id": "clove", "substance": "clove", "amount": "0.4 g"},
            ]},
            {"id": "hot", "kind": "heat", "vessel": "pot", "to_c": 85},
            {"id": "fill", "kind": "fill", "vessel": "pot", "into": "bottles", "size_ml": 250},
        ],
        "keeping": {"heat_treated": True, "packaged": True, "ph": 4.4}, **changed,
    }  # fmt: skip


def answered(**changed: Any) -> Method:
    """A method whose answers say what they rest on."""
    return with_basis(parse_document(document(**changed)))


def edited(method: Method, change: Any) -> list[str]:
    """What falls once a change was made to the document as JSON."""
    raw = method.document.model_dump(mode="json", exclude_none=True)
    change(raw)
    return list(standing_answers(walk(parse_document(raw))).fallen)


ALL = ["heat_treated", "packaged", "ph"]


class Basis(unittest.TestCase):
    def test_every_line_counts_by_its_share_a_pinch_too(self) -> None:
        shares = rests_on(walk(parse_document(document()))).shares
        self.assertEqual(
            shares, {id: round(g / 820.4, 6) for id, g in {"pear_juice": 400, "white_sugar": 400, "lemon_juice": 20, "clove": 0.4}.items()}
        )

    def test_what_was_half_of_it_and_is_left_out_or_was_not_in_and_is(self) -> None:
        """Water for water: the same °Brix and the same ingredients by name, another share of what is sour."""
        walked = walk(parse_document(document()))
        one = rests_on(walked)
        half = one.model_copy(update={"shares": {**one.shares, "lime_juice": 0.5}})
        self.assertTrue(_the_same(walked, one, one))
        self.assertFalse(_the_same(walked, one, half))
        self.assertFalse(_the_same(walked, half, one))


class Falling(unittest.TestCase):
    def test_what_is_not_changed_stands_whatever_way_it_is_written_down(self) -> None:
        method = answered()
        self.assertEqual(standing_answers(walk(method)).fallen, ())
        self.assertEqual(edited(method, lambda raw: raw.update(name="Another", notes="x")), [])
        self.assertEqual(edited(method, lambda raw: raw["stages"][1].update(minutes=4, name="Hot")), [])
        self.assertEqual(standing_answers(walk(compile_document(freeze(method)))).fallen, ())
        self.assertEqual(standing_answers(walk(compile_document(thaw(freeze(method))))).fallen, ())

    def test_scaling_changes_nothing_that_they_rest_on(self) -> None:
        for factor in (0.37, 2.0, 11.0):
            found = scale_report(answered(), ScaleRequest(by="factor", value=factor))
            for scaled in (found.document, found.document_on_scales):
                self.assertEqual(standing_answers(walk(compile_document(scaled))).fallen, (), factor)

    def test_stages_and_lines_take_the_answers_with_them(self) -> None:
        method = answered()
        late = {"id": "late", "kind": "add", "vessel": "bottles", "lines": [{"id": "raw", "substance": "damson_puree", "amount": "100 g"}]}

        def amount(raw: Doc, line: int, text: str) -> None:
            raw["stages"][0]["lines"][line]["amount"] = text

        for name, change, falls in (
            ("a stage more", lambda raw: raw["stages"].append(late), ALL),
            ("less heat", lambda raw: raw["stages"][1].update(to_c=60), ["heat_treated", "packaged"]),
            ("no heat", lambda raw: raw["stages"].pop(1), ["heat_treated", "packaged"]),
            ("no bottles", lambda raw: raw["stages"].pop(2), ["heat_treated", "packaged"]),
            ("another ingredient", lambda raw: raw["stages"][0]["lines"][2].update(substance="water"), ALL),
            ("twice as sour", lambda raw: amount(raw, 2, "40 g"), ["ph"]),
            ("half as sour", lambda raw: amount(raw, 2, "10 g"), ["ph"]),
            ("more sugar", lambda raw: amount(raw, 1, "700 g"), ["ph"]),
            ("a pinch more clove", lambda raw: amount(raw, 3, "0.8 g"), []),
            ("rounded to the scale", lambda raw: amount(raw, 2, "20.5 g"), []),
            ("a line less", lambda raw: raw["stages"][0]["lines"].pop(2), ALL),
        ):  # fmt: skip
            with self.subTest(name):
                self.assertEqual(edited(method, change), falls)

    def test_another_composition_under_the_same_name_is_another_ingredient(self) -> None:
        own = {"sour_own": {"title": "Sour", "kind": "juice", "composition_g_per_100g": {"water": 95, "citric": 5}}}
        raw = document(substances=own)
        raw["stages"][0]["lines"][2]["substance"] = "sour_own"
        method = with_basis(parse_document(raw))
        self.assertEqual(
            edited(method, lambda raw: raw["substances"]["sour_own"]["composition_g_per_100g"].update(water=98, citric=2)), ["ph"],
        )  # fmt: skip

    def test_what_fell_is_asked_again_and_said(self) -> None:
        raw = answered().document.model_dump(mode="json", exclude_none=True)
        raw["stages"][0]["lines"][2]["amount"] = "5 g"
        raw["stages"][1]["to_c"] = 60
        found = report(walk(parse_document(raw))).keeping
        self.assertEqual(found.fallen, ALL)
        self.assertIn("heat, packaging and pH", found.fallen_words)
        self.assertFalse(found.ph_measured)
        self.assertEqual(found.verdict, "ask")


class Doors(unittest.TestCase):
    """Answers that do not say what they rest on, which is how they were kept before, fall by every door all the same."""

    def fallen(self, changed: MethodDocument) -> list[str]:
        return list(standing_answers(walk(compile_document(changed))).fallen)

    def test_a_way(self) -> None:
        method = parse_document(document())
        found = suggestions_report(method, "sugars_100g", 30.0)
        self.assertTrue(found.suggestions)
        for way in found.suggestions:
            with self.subTest(way.title):
                self.assertIn("ph", self.fallen(way.document))

    def test_a_solve(self) -> None:
        found = solve_report(
            parse_document(document()), SolveRequest(targets=(TargetRequest(reading="acidity", equals=1.0),), locks=("juice", "sugar"))
        )
        self.assertEqual(found.status, "solved")
        self.assertIn("ph", self.fallen(found.document))

    def test_a_swap(self) -> None:
        found = substitute(parse_document(document()), "sour", {"lime_juice": 1.0})
        self.assertTrue(found.suggestions)
        for way in found.suggestions:
            self.assertEqual(self.fallen(way.document), ALL)

    def test_an_import_keeps_only_what_can_be_held_against_it(self) -> None:
        loose = read_file(json.dumps({"format": "oakenjug.method/1", **document()}))
        kept = loose.formulas[0].document
        assert kept is not None
        self.assertIsNone(kept.keeping)
        raw = answered().document.model_dump(mode="json", exclude_none=True)
        raw["stages"][1]["to_c"] = 50
        changed = read_file(json.dumps(raw)).formulas[0].document
        assert changed is not None
        self.assertEqual(self.fallen(changed), ["heat_treated", "packaged"])


if __name__ == "__main__":
    unittest.main()
