"""One source: with the walk's water halved by a patch, every number that depends on water changes, wherever it is read.

What may stay the same is listed; a number that is worked out a second way, beside the walk, would stay and be found.
"""

from __future__ import annotations

import json
import re
from collections.abc import Callable, Iterator
from io import BytesIO
from typing import Any
from unittest.mock import patch

import numpy as np
from pypdf import PdfReader

from jugcore import components as c
from jugcore.figures import Floats
from jugcore.method.context import Context
from jugcore.method.method import Method
from jugserver.batches import reading
from jugserver.batches.states import forget
from jugserver.batches.tests.kitchen import begun_batch
from jugserver.config.tests.shop import ShopCase
from jugserver.demo.documents import demo_document
from jugserver.formulas import services as formulas
from jugserver.formulas.models import FormulaState

#: Numbers that are no matter of water: what was typed or asked for, what hangs on the wall, how figures are shown, landmarks of the
#: sucrose table, whole containers, strokes of a pump, and where drinks and families mostly stand.
_STAY = re.compile(
    r"digits|tare|fridge|size_ml|landmarks|passes|tolerance|\.wanted|hands|temperature_c|fill_c|_s$|cooks|goes|error|document|containers|count|factor|dose_ml|usual|windows|cautious_days"
)
#: What was weighed of each line, the sugar and the fat there is in it, and what was put into a reading beside the walk.
_NO_WATER = re.compile(
    r"lines\[\d+\]\.\w+:(mass_g|low_g|high_g|share)|weighings\[\d+\]\.(exact|rounded)_g|sucrose|inputs\[\d+\]|bands|flows|heat_capacity|fat_g:value|rests_on"
)


def numbers(found: Any, at: str = "") -> Iterator[tuple[str, float]]:
    """Every number of a piece of JSON, with its path."""
    if isinstance(found, dict):
        name = found.get("id") if isinstance(found.get("id"), str) else ""
        for key, value in found.items():
            yield from numbers(value, f"{at}.{f'{name}:' if name else ''}{key}")
    elif isinstance(found, list):
        for n, value in enumerate(found):
            yield from numbers(value, f"{at}[{n}]")
    elif isinstance(found, int | float) and not isinstance(found, bool):
        yield at, float(found)


class OneSource(ShopCase):
    def both(self, read: Callable[[], Any]) -> tuple[Any, Any]:
        """What is read with the walk as it is, and with half the water of whatever goes in."""
        plainly = Method.fraction_of

        def halved(self: Method, substance: str, ctx: Context) -> Floats:
            fraction = np.array(plainly(self, substance, ctx))
            fraction[..., c.WATER] *= 0.5
            return fraction

        whole = read()
        FormulaState.objects.update(stale=True)
        with patch.object(Method, "fraction_of", halved):
            half = read()
        FormulaState.objects.update(stale=True)
        return whole, half

    def stays(self, whole: Any, half: Any) -> list[str]:
        now = dict(numbers(half))
        return [at for at, value in numbers(whole) if value and now.get(at) == value and not _STAY.search(at) and not _NO_WATER.search(at)]

    def test_everything_the_api_says_of_a_formula(self) -> None:
        """Equal parts, nothing boiled: no number of the product can stay."""
        client = self.signed_in("lead")
        raw = demo_document("weir-simple").model_dump(mode="json")
        for path, body in (
            ("/api/v1/walk", raw),
            ("/api/v1/suggestions", {"document": raw, "reading": "yield_g", "value": 1300}),
            ("/api/v1/scale", {"document": raw, "ask": {"by": "factor", "value": 2}}),
            ("/api/v1/drink", {"document": raw, "ask": {"dose": "2 pumps", "base": [{"substance": "whole_milk", "amount": "120 g"}]}}),
            ("/api/v1/substitute", {"document": raw, "ask": {"line": "sugar", "parts": {"honey": 1}, "hold": []}}),
        ):
            whole, half = self.both(lambda path=path, body=body: json.loads(self.send(client, "POST", path, body).content))
            with self.subTest(path=path):
                self.assertGreater(len(list(numbers(whole))), 20)
                self.assertEqual(self.stays(whole, half), [])

    def test_everything_the_api_says_of_a_drink_and_what_hangs_at_the_bar(self) -> None:
        """A dose in grams and milk to the line: whatever is of the milk or of a hundred millilitres moves, wherever it is read."""
        client = self.signed_in("lead")
        sizes = [
            {"id": "short", "name": "Short", "cup_ml": 180, "fill_ml": 166, "price": 3},
            {"id": "long", "name": "Long", "cup_ml": 360, "fill_ml": 346},
        ]
        parts = (
            ("dose", "honey", "dose", "10 g", "20 g"),
            ("shot", "espresso", "coffee", "30 g", "60 g"),
            ("milk", "whole_milk", "milk", *2 * ("to the line",)),
        )
        raw = {
            "name": "Latte", "sizes": sizes,
            "components": [
                {"id": id, "substance": what, "role": role, "amounts": {"short": short, "long": long}} for id, what, role, short, long in parts
            ],
        }  # fmt: skip

        def post(path: str, body: Any) -> Any:
            return json.loads(self.send(client, "POST", f"/api/v1/drinks{path}", body).content)

        def printed(path: str) -> str:
            page = PdfReader(BytesIO(client.get(f"/api/v1/drinks{path}").content)).pages[0]
            return page.extract_text() + str(page.get_contents().get_data())

        whole, half = self.both(lambda: post("/sizes", raw))
        figures, then = (
            {f["id"]: [size["likely"] and round(size["likely"], 6) for size in f["sizes"]] for f in each["readings"]} for each in (whole, half)
        )
        # Of the honey and the coffee, which are weighed; the line, to which it is filled; no price.
        stay = {"added_sugars", "free_sugars", "caffeine", "fills", "room", "cost", "margin", "cost_made", "margin_made"}
        self.assertEqual({id for id, values in figures.items() if values == then[id]}, stay)
        for before, after in zip(whole["sizes"], half["sizes"], strict=True):
            self.assertNotEqual([layer["ml"] for layer in before["layers"]], [layer["ml"] for layer in after["layers"]])
        ask = {"component": "dose"}
        whole, half = self.both(lambda: post("/even-out", {"document": raw, "ask": ask}))
        self.assertNotEqual(whole["target"], half["target"])
        for doses in ("in_grams", "in_strokes", "best"):
            self.assertNotEqual(whole[doses]["values"], half[doses]["values"])
        drink = post("", {"document": raw})["id"]
        post(f"/{drink}/versions", {"draft": 1, "note": "Kept."})
        post(f"/{drink}/versions/1/ready", {"ready": True, "reason": "Known."})
        for paper in (f"/{drink}/build.pdf", "/sheet.pdf"):
            with self.subTest(paper=paper):
                whole, half = self.both(lambda paper=paper: printed(paper))
                self.assertNotEqual(whole, half)

    def test_everything_said_of_money(self) -> None:
        """Half the water in as much sugar: less comes out, so a litre, a dose and where making begins to pay are others; what is paid for is not."""
        client = self.signed_in("lead")

        def ask(method: str, path: str, body: Any) -> Any:
            answer = self.send(client, method, path, body)
            self.assertLess(answer.status_code, 300, answer.content[:300])
            return json.loads(answer.content)

        business = ask("GET", "/api/v1/business", None)
        paid = {**business["business"], "energy_price_kwh": 0.3, "wage_h": 18, "container_price": 0.4, "label_price": 0.1}
        ask("PUT", "/api/v1/business", {"number": business["number"], "business": paid})
        rows = [{"substance": id, "name": "Bag", "mass_g": 1000, "price": 1.5} for id in ("white_sugar", "caster_sugar")]
        ask("PUT", "/api/v1/money/prices", {"rows": rows})
        raw = demo_document("weir-simple").model_dump(mode="json")
        formula = str(formulas.start_formula(actor=self.people["lead"], document=demo_document("weir-simple")).id)
        benchmark = ask("POST", "/api/v1/benchmarks", {"document": {"name": "Bought", "pack": {"size": 750, "price": 6}}})["id"]
        whole, half = self.both(lambda: ask("POST", "/api/v1/cost", {"document": raw, "dose_g": 20, "formula": formula}))
        for each in ("per_kg", "per_litre", "per_dose"):
            self.assertNotEqual(whole[each]["likely"], half[each]["likely"], each)
        self.assertEqual([item["likely"] for item in whole["items"] if item["id"] == "ingredients"],
                         [item["likely"] for item in half["items"] if item["id"] == "ingredients"])  # fmt: skip
        body = {"formula": formula, "dose_g": 20, "benchmark": benchmark, "dose": 15}
        whole, half = self.both(lambda: ask("POST", "/api/v1/money/make-or-buy", body))
        for at in range(len(whole["points"])):
            self.assertNotEqual(whole["points"][at]["dose"]["likely"], half["points"][at]["dose"]["likely"])
        self.assertNotEqual(whole["pays_from"]["amount"], half["pays_from"]["amount"])
        choices = [{"kind": "formula", "id": formula, "dose": 20}]
        whole, half = (each["choices"][0] for each in self.both(lambda: ask("POST", "/api/v1/money/side-by-side", {"choices": choices})))
        for each in ("per_kg", "per_litre", "per_dose", "sugars_g"):
            self.assertNotEqual(whole[each]["likely"], half[each]["likely"], each)

    def test_every_reading_moves(self) -> None:
        client = self.signed_in("lead")
        for name in ("weir-simple", "damson-bay"):
            raw = demo_document(name).model_dump(mode="json")
            whole, half = self.both(lambda raw=raw: json.loads(self.send(client, "POST", "/api/v1/walk", raw).content))
            for before, after in zip(whole["readings"], half["readings"], strict=True):
                with self.subTest(formula=name, reading=before["id"]):
                    self.assertTrue(before["value"] is None or before["value"] != after["value"])

    def test_lists_and_calculators(self) -> None:
        lead = self.people["lead"]
        formulas.start_formula(actor=lead, document=demo_document("weir-simple"))
        client = self.signed_in("lead")
        whole, half = self.both(lambda: json.loads(client.get("/api/v1/formulas").content)["items"][0]["mark"])
        self.assertEqual([at for at, value in numbers(whole) if dict(numbers(half))[at] == value and value], [])
        for id, typed, fields in (("ratio", {"ratio": 1}, ("brix", "g_l")), ("cook-down", {"want_brix": 75}, ("off_g",))):
            whole, half = self.both(
                lambda id=id, typed=typed: json.loads(
                    self.send(client, "POST", f"/api/v1/calculators/{id}", {"values": typed, "typed": next(iter(typed))}).content
                )
            )
            values, then = ({f["id"]: f["value"] for f in each["fields"]} for each in (whole, half))
            with self.subTest(sum=id):
                for field in fields:
                    self.assertNotEqual(values[field], then[field])
                self.assertNotEqual(whole["lines"], half["lines"])

    def test_paper_csv_and_the_sheet_of_a_batch(self) -> None:
        lead = self.people["lead"]
        batch = begun_batch(lead)
        client = self.signed_in("lead")

        def read() -> dict[str, Any]:
            reading.forget()
            forget()
            sheet = json.loads(client.get(f"/api/v1/batches/{batch.pk}").content)["report"]
            paper = PdfReader(BytesIO(client.get(f"/api/v1/batches/{batch.pk}/run-sheet.pdf").content))
            label = PdfReader(BytesIO(client.get(f"/api/v1/batches/{batch.pk}/label.pdf").content))
            return {
                "sheet": sheet, "paper": " ".join(page.extract_text() for page in paper.pages), "label": label.pages[0].extract_text(),
                "csv": client.get(f"/api/v1/batches/{batch.pk}/log.csv").content.decode(), "table": client.get("/api/v1/batches/table.csv").getvalue().decode(),
            }  # fmt: skip

        whole, half = self.both(read)
        reading.forget()
        sheet = whole["sheet"]["sheet"] if "sheet" in whole["sheet"] else whole["sheet"]
        then = half["sheet"]["sheet"] if "sheet" in half["sheet"] else half["sheet"]
        boil = next(step for step in sheet["steps"] if step["kind"] == "boil")["boil"]
        other = next(step for step in then["steps"] if step["kind"] == "boil")["boil"]
        moved = [key for key, value in boil.items() if isinstance(value, int | float) and value and value != other[key]]
        self.assertTrue({"off_g", "starts_reads_g", "stop_reads_g"} <= set(moved), boil)
        stop = f"{round(boil['stop_reads_g']):,}"
        self.assertIn(stop, whole["paper"])
        self.assertNotIn(stop, half["paper"])
        self.assertNotEqual(whole["paper"], half["paper"])
        # The table of batches and the log as CSV: the figures of this batch's own row.
        self.assertNotEqual(whole["table"], half["table"])
