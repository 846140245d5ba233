"""The roles × endpoints matrix: every endpoint, every role, signed out, and another site."""

from __future__ import annotations

import base64
import json
from dataclasses import dataclass
from datetime import timedelta
from typing import Any
from uuid import UUID, uuid4

from django.http import HttpResponse
from django.test import Client
from django.utils import timezone

from jugcore.drinks.document import load_drink
from jugcore.matter.substance_document import SubstanceDoc
from jugcore.method.kitchen import Kitchen
from jugcore.tasting.sheet import BenchmarkDoc
from jugserver.accounts.models import Role, User
from jugserver.batches.services import start_batch
from jugserver.batches.tests.kitchen import entry
from jugserver.config.tests.as_described import not_as_described, operation_of
from jugserver.config.tests.shop import PASSWORD, ShopCase, described
from jugserver.demo.documents import demo_document
from jugserver.drinks.services import start_drink
from jugserver.drinks.versions import save_version as save_drink_version
from jugserver.drinks.versions import say_ready as say_drink_ready
from jugserver.formulas.services import start_formula
from jugserver.formulas.versions import save_version
from jugserver.kitchen import services as kitchen_services
from jugserver.pantry import services as pantry
from jugserver.pantry.schemas import LotIn, PackIn
from jugserver.pantry.suppliers import supplier_called
from jugserver.planning import services as planning
from jugserver.planning.models import ForecastOverride
from jugserver.planning.schemas import LikeIn, OverrideIn
from jugserver.sales import imports as sales_imports
from jugserver.sales import services as sales
from jugserver.sales.models import SoldName
from jugserver.sales.schemas import CalendarIn, SalesImportIn, TillIn
from jugserver.stock.schemas import PlaceIn
from jugserver.stock.services import save_place
from jugserver.tastings.services import save_benchmark
from jugtool.testing.noted import noted

#: Operation → what lead, prep, view, signed out and a lead of another site get.
MATRIX: dict[str, tuple[int, int, int, int, int]] = {
    "session_get": (200, 200, 200, 200, 200),
    "session_begin": (401, 401, 401, 401, 401),
    "session_end": (200, 200, 200, 200, 200),
    "session_people": (200, 200, 200, 401, 200),
    "session_switch": (422, 422, 422, 401, 422),
    "session_set_pin": (204, 204, 204, 401, 204),
    "people_list": (200, 403, 403, 401, 200),
    "people_clear_pin": (204, 403, 403, 401, 404),
    "people_unlock_pin": (204, 403, 403, 401, 404),
    "people_deactivate": (204, 403, 403, 401, 404),
    "people_reactivate": (204, 403, 403, 401, 404),
    "session_here": (204, 204, 204, 401, 204),
    "sessions_list": (200, 200, 200, 401, 200),
    "sessions_end": (404, 404, 404, 401, 404),
    "changes_list": (200, 403, 403, 401, 200),
    "business_get": (200, 200, 200, 401, 200),
    "business_save": (200, 403, 403, 401, 200),
    "kitchen_get": (200, 200, 200, 401, 200),
    "kitchen_save": (200, 403, 403, 401, 200),
    "kitchen_equipment_cleaned": (200, 200, 403, 401, 404),
    "substances_find": (200, 200, 200, 401, 200),
    "substances_typed": (200, 200, 200, 401, 200),
    "substances_titles": (200, 200, 200, 401, 200),
    "substances_get": (200, 200, 200, 401, 404),
    "substances_new": (201, 403, 403, 401, 201),
    "substances_save": (200, 403, 403, 401, 404),
    "substances_put_away": (204, 403, 403, 401, 404),
    "label_read": (200, 200, 200, 401, 200),
    "packs_add": (201, 403, 403, 401, 404),
    "packs_remove": (200, 403, 403, 401, 404),
    "lots_add": (201, 201, 403, 401, 404),
    "lots_save": (200, 200, 403, 401, 404),
    "suppliers_list": (200, 200, 200, 401, 200),
    "suppliers_save": (200, 403, 403, 401, 404),
    "suppliers_archive": (200, 403, 403, 401, 404),
    "calculators_list": (200, 200, 200, 401, 200),
    "calculators_work": (200, 200, 200, 401, 200),
    "walk": (200, 200, 200, 401, 200),
    "solve": (200, 200, 200, 401, 200),
    "suggestions": (200, 200, 200, 401, 200),
    "scale": (200, 200, 200, 401, 200),
    "substitute": (200, 200, 200, 401, 200),
    "drink": (200, 200, 200, 401, 200),
    "cost": (200, 200, 200, 401, 200),
    "overshot": (200, 200, 200, 401, 200),
    "export": (200, 200, 200, 401, 200),
    "allergens_met_by_equipment": (200, 200, 200, 401, 200),
    "import_read": (200, 403, 403, 401, 200),
    "import_rows": (200, 403, 403, 401, 200),
    "holds": (200, 200, 200, 401, 200),
    "formulas_list": (200, 200, 200, 401, 200),
    "formulas_starters": (200, 200, 200, 401, 200),
    "formulas_start": (201, 403, 403, 401, 201),
    "formulas_get": (200, 200, 200, 401, 404),
    "formulas_save_draft": (200, 403, 403, 401, 404),
    "formulas_archive": (204, 403, 403, 401, 404),
    "formulas_bring_back": (200, 403, 403, 401, 404),
    "formulas_used_in": (200, 200, 200, 401, 404),
    "versions_list": (200, 200, 200, 401, 404),
    "versions_save": (201, 403, 403, 401, 404),
    "versions_get": (200, 200, 200, 401, 404),
    "versions_make_draft": (200, 403, 403, 401, 404),
    "versions_ready": (200, 403, 403, 401, 404),
    "compare": (200, 200, 200, 401, 404),
    "drinks_list": (200, 200, 200, 401, 200),
    "drinks_start": (201, 403, 403, 401, 201),
    "drinks_doses": (200, 200, 200, 401, 200),
    "drinks_dose_card": (200, 200, 200, 401, 422),
    "drinks_sheet": (200, 200, 200, 401, 422),
    "drinks_build_card": (200, 200, 200, 401, 404),
    "drinks_using": (200, 200, 200, 401, 404),
    "drinks_sizes": (200, 200, 200, 401, 200),
    "drinks_even_out": (200, 200, 200, 401, 200),
    "drinks_ways": (200, 200, 200, 401, 200),
    "drinks_swaps": (200, 200, 200, 401, 200),
    "drinks_get": (200, 200, 200, 401, 404),
    "drinks_save_draft": (200, 403, 403, 401, 404),
    "drinks_archive": (204, 403, 403, 401, 404),
    "drinks_bring_back": (200, 403, 403, 401, 404),
    "drink_versions_list": (200, 200, 200, 401, 404),
    "drink_versions_save": (201, 403, 403, 401, 404),
    "drink_versions_get": (200, 200, 200, 401, 404),
    "drink_versions_make_draft": (200, 403, 403, 401, 404),
    "drink_versions_ready": (200, 403, 403, 401, 404),
    "stock": (200, 200, 200, 401, 200),
    "stock_containers": (200, 200, 200, 401, 200),
    "stock_container": (404, 404, 404, 401, 404),
    "stock_enter": (404, 404, 403, 401, 404),
    "stock_needs": (200, 200, 200, 401, 404),
    "stock_start": (201, 201, 403, 401, 404),
    "stock_csv": (200, 200, 200, 401, 200),
    "stock_opened_label": (404, 404, 404, 401, 404),
    "places_bars": (200, 403, 403, 401, 200),
    "places_place_bar": (200, 403, 403, 401, 404),
    "stock_recall": (200, 200, 200, 401, 200),
    "stock_recall_csv": (200, 200, 200, 401, 200),
    "stock_origin": (404, 404, 404, 401, 404),
    "stock_origin_csv": (404, 404, 404, 401, 404),
    "stock_open_lots": (404, 404, 404, 401, 404),
    "places_list": (200, 200, 200, 401, 200),
    "places_new": (201, 403, 403, 401, 201),
    "places_save": (404, 403, 403, 401, 404),
    "places_archive": (404, 403, 403, 401, 404),
    "prices_list": (200, 200, 200, 401, 200),
    "prices_save": (200, 403, 403, 401, 200),
    "prices_csv": (200, 200, 200, 401, 200),
    "money_changes": (200, 200, 200, 401, 200),
    "money_side_by_side": (200, 200, 200, 401, 404),
    "money_make_or_buy": (200, 200, 200, 401, 404),
    "money_packs": (200, 200, 200, 401, 200),
    "sales": (200, 200, 200, 401, 200),
    "sales_read": (200, 403, 403, 401, 422),
    "sales_import": (200, 403, 403, 401, 422),
    "sales_undo_import": (200, 403, 403, 401, 404),
    "sales_day": (200, 200, 200, 401, 404),
    "sales_corrections": (200, 200, 200, 401, 200),
    "sales_correct": (200, 403, 403, 401, 404),
    "sales_calendar_add": (201, 403, 403, 401, 404),
    "sales_calendar_save": (200, 403, 403, 401, 404),
    "sales_calendar_delete": (204, 403, 403, 401, 404),
    "sales_names": (200, 200, 200, 401, 200),
    "sales_forget_name": (200, 403, 403, 401, 404),
    "tills_list": (200, 200, 200, 401, 200),
    "tills_add": (201, 403, 403, 401, 201),
    "tills_save": (200, 403, 403, 401, 404),
    "tills_archive": (200, 403, 403, 401, 404),
    "tills_fetch": (422, 403, 403, 401, 404),
    "forecast": (200, 200, 200, 401, 200),
    "forecast_override": (201, 403, 403, 401, 404),
    "forecast_undo_override": (200, 403, 403, 401, 404),
    "forecast_like": (200, 403, 403, 401, 404),
    "forecast_stop_like": (200, 403, 403, 401, 404),
    "needs": (200, 200, 200, 401, 200),
    "over_pours": (200, 200, 200, 401, 200),
    "plan_week": (200, 200, 200, 401, 200),
    "plan_save_settings": (200, 403, 403, 401, 200),
    "batches_list": (200, 200, 200, 401, 200),
    "batches_start": (201, 201, 403, 401, 404),
    "batches_get": (200, 200, 200, 401, 404),
    "batches_append": (200, 200, 403, 401, 404),
    "batches_entries": (200, 200, 200, 401, 404),
    "batches_rescue": (200, 200, 403, 401, 404),
    "batches_table": (200, 200, 200, 401, 200),
    "batches_label": (200, 200, 200, 401, 404),
    "batches_run_sheet": (200, 200, 200, 401, 404),
    "batches_log_csv": (200, 200, 200, 401, 404),
    "batches_json": (200, 200, 200, 401, 404),
    "benchmarks_list": (200, 200, 200, 401, 200),
    "benchmarks_attributes": (200, 200, 200, 401, 200),
    "benchmarks_new": (201, 201, 403, 401, 201),
    "benchmarks_read": (200, 200, 200, 401, 404),
    "benchmarks_get": (200, 200, 200, 401, 404),
    "benchmarks_save": (200, 200, 403, 401, 404),
    "benchmarks_put_away": (204, 204, 403, 401, 404),
    "benchmarks_aim": (200, 200, 200, 401, 404),
    "stream": (200, 200, 200, 401, 200),
}
#: What a bar gets; anything else is not for it.
BAR: dict[str, int] = {
    "session_get": 200, "session_begin": 401, "session_end": 200, "session_switch": 422, "session_set_pin": 204, "session_here": 204,
    "stock": 200, "stock_containers": 200, "stock_container": 404, "stock_enter": 404, "places_list": 200,
    "stock_opened_label": 404,
    "drinks_doses": 200, "drinks_dose_card": 200, "drinks_sheet": 200,
}  # fmt: skip
_OWN = {"title": "Own", "kind": "sugar", "composition_g_per_100g": {"sucrose": 100}}
_CHICORY = demo_document("chicory-cocoa").model_dump(mode="json")
WHO = ("lead", "prep", "view", "nobody", "stranger")


def _drink(name: str) -> dict[str, Any]:
    """Syrup, coffee and milk in one cup."""
    amounts = (("dose", "honey", "10 g"), ("coffee", "espresso", "30 g"), ("milk", "whole_milk", "120 g"))
    return {
        "name": name, "sizes": [{"id": "short", "name": "Short", "cup_ml": 180, "fill_ml": 166}],
        "components": [{"id": id, "substance": substance, "amounts": {"short": text}} for id, substance, text in amounts],
    }  # fmt: skip


def _benchmark() -> BenchmarkDoc:
    return BenchmarkDoc.model_validate(
        {"name": f"B {uuid4()}", "label": {"kind": "syrup", "figures": {"sugars": "65"}}, "pack": {"size": 750, "price": 6}}
    )


@dataclass
class _Made:
    """What an operation is tried on: a formula, a batch, a benchmark's address, and an ingredient with its number, pack and lot."""

    formula: UUID | None = None
    batch: str = ""
    aim: str = ""
    drink: str = ""
    supplier: int = 1
    #: A place, and what is changed about sales there.
    place: int = 1
    sold: str = "1"
    own: tuple[str, int, int, int] = ("", 0, 0, 0)


class Roles(ShopCase):
    def setUp(self) -> None:
        self.clients: dict[str, Client] = {}
        self.made: dict[str, _Made] = {}
        User.objects.create_user("leaver", site=self.site, role=Role.PREP)

    def test_matrix_covers_every_endpoint(self) -> None:
        operations = {op["operationId"] for path in described()["paths"].values() for op in path.values()}
        self.assertEqual(operations, set(MATRIX))

    def test_every_role_at_every_endpoint(self) -> None:
        cells = wrong = 0
        for operation, expected in MATRIX.items():
            for who, status in (*zip(WHO, expected, strict=True), ("bar", BAR.get(operation, 403))):
                with self.subTest(operation=operation, who=who):
                    response = self._call(operation, who)
                    if response.status_code < 400 and operation_of(operation)[0] != "GET":
                        self.made.pop(operation, None)  # it changed what it was tried on: the next has one of its own
                    cells, wrong = cells + 1, wrong + (response.status_code != status)
                    self.assertEqual(response.status_code, status, getattr(response, "content", b"")[:300])
                    self.assertEqual(not_as_described(*operation_of(operation), response), "")
                    if status >= 400:
                        self.assert_problem(response, status)
        noted({"cells of role and endpoint": cells, "cells of role and endpoint, answered otherwise than they should": wrong})

    def _own(self) -> tuple[str, int, int, int]:
        """An ingredient of the site's own with a pack and a lot: its address, its number, theirs."""
        lead = self.people["lead"]
        row = pantry.save_ingredient(actor=lead, key=None, number=0, document=SubstanceDoc.model_validate({**_OWN, "title": f"Own {uuid4()}"}))
        pantry.add_pack(actor=lead, key=row.key, pack=PackIn(name="Bag", mass_g=1000, price=2))
        lot = pantry.save_lot(actor=lead, key=row.key, lot_id=None, lot=LotIn(code="A"))
        return f"/api/v1/substances/{row.key}", row.number, row.packs.get().pk, lot.pk

    def _formula(self, *, kept: bool) -> UUID:
        """A formula of the cell's own, kept as version 1 or not."""
        formula = start_formula(actor=self.people["lead"], document=self.document.model_copy(update={"name": f"F {uuid4()}"}))
        if kept:
            save_version(actor=self.people["lead"], id=formula.id, draft=1, note="Kept.")
        return formula.id

    def _client(self, operation: str, who: str) -> Client:
        """Signed in as somebody, once; what begins, ends or hands over a session has one of its own."""
        person = {"nobody": None, "stranger": self.stranger}.get(who, who)
        if operation.startswith("session"):
            return self.signed_in(person)
        if who not in self.clients:
            self.clients[who] = self.signed_in(person)
        return self.clients[who]

    def _make(self, operation: str) -> _Made:
        made, lead = _Made(), self.people["lead"]
        if operation.startswith(("formulas", "versions", "batches", "benchmarks", "compare", "stock_needs", "stock_start", "money", "drinks_using")):
            kept = operation in (
                "versions_get",
                "versions_make_draft",
                "versions_ready",
                "compare",
                "stock_needs",
                "stock_start",
            ) or operation.startswith("batches")
            made.formula = self._formula(kept=kept)
        if operation.startswith("batches") and made.formula:
            made.batch = str(start_batch(actor=lead, formula_id=made.formula, version=1).id)
        if operation.startswith(("benchmarks", "money")):
            made.aim = f"/api/v1/benchmarks/{save_benchmark(actor=lead, id=None, number=0, document=_benchmark()).id}"
        if operation.startswith(("drinks_", "drink_versions")):
            drink = start_drink(actor=lead, document=load_drink(_drink(f"D {uuid4()}")))
            made.drink = str(drink.id)
            if operation in ("drink_versions_get", "drink_versions_make_draft", "drink_versions_ready", "drinks_dose_card", "drinks_sheet"):
                save_drink_version(actor=lead, id=drink.id, draft=1, note="Kept.")
            if operation in ("drinks_dose_card", "drinks_sheet"):
                say_drink_ready(actor=lead, id=drink.id, number=1, ready=True, reason="Known.")
        if operation.startswith(("sales", "tills", "forecast")):
            self._sold(operation, made)
        if operation.startswith(("substances", "packs", "lots")):
            made.own = self._own()
        if operation.startswith("suppliers") and lead.site:
            row = supplier_called(lead.site, f"S {uuid4()}")
            made.supplier = row.pk if row else 0
        return made

    def _sold(self, operation: str, made: _Made) -> None:
        """A place, a drink that is sold there, and whatever of its sales is changed."""
        lead = self.people["lead"]
        name, today = f"P {uuid4()}", timezone.localdate()
        made.place = next(each.id for each in save_place(actor=lead, id=None, place=PlaceIn(name=name)) if each.name == name)
        made.drink = str(start_drink(actor=lead, document=load_drink(_drink(f"D {uuid4()}"))).id)
        if operation == "sales_undo_import":
            made.sold = str(sales_imports.import_sales(actor=lead, file=SalesImportIn.model_validate(self._file(made))).id)
        if operation.startswith("sales_calendar"):
            entry = CalendarIn(kind="event", name=name, first=today, last=today)
            made.sold = str(next(each.id for each in sales.save_calendar(actor=lead, id=None, entry=entry) if each.name == name))
        if operation == "sales_forget_name":
            SoldName.objects.create(site=lead.site, key=name, left_out=True)
            made.sold = name
        if operation.startswith("tills"):
            till = TillIn(name=name, address="http://127.0.0.1:9/sold.csv")
            made.sold = str(next(each.id for each in sales.save_till(actor=lead, id=None, till=till) if each.name == name))
        if operation == "forecast_undo_override":
            planning.override(actor=lead, told=OverrideIn(first=today, last=today, times=2, reason=name))
            made.sold = str(ForecastOverride.objects.get(reason=name).pk)
        if operation == "forecast_stop_like":
            other = start_drink(actor=lead, document=load_drink(_drink(f"D {uuid4()}"))).id
            planning.take_like(actor=lead, told=LikeIn(drink=UUID(made.drink), like=other, share=0.5))

    def _another_drink(self, operation: str) -> str:
        """A second drink, where the operation needs one."""
        if operation != "forecast_like":
            return ""
        return str(start_drink(actor=self.people["lead"], document=load_drink(_drink(f"D {uuid4()}"))).id)

    @staticmethod
    def _file(made: _Made) -> dict[str, Any]:
        """A file of one sale."""
        on = (timezone.localdate() - timedelta(days=1)).isoformat()
        return {
            "name": "sold.csv", "base64": base64.b64encode(f"Day,Item,Sold\n{on},Latte,3\n".encode()).decode(),
            "columns": {"day": "Day", "drink": "Item", "count": "Sold", "place_id": str(made.place)},
            "items": [{"key": "latte|", "drink": made.drink, "size": "short"}],
        }  # fmt: skip

    def _call(self, operation: str, who: str) -> HttpResponse:
        if operation not in self.made:
            self.made[operation] = self._make(operation)
        made = self.made[operation]
        formula, batch, aim, drink, (own, kept, pack, lot) = made.formula, made.batch, made.aim, made.drink, made.own
        if operation == "kitchen_equipment_cleaned":
            site = self.people["lead"].site
            assert site is not None
            piece = {"id": "green", "name": "Green", "kind": "blender"}
            kitchen_services.save_kitchen(
                actor=self.people["lead"], number=kitchen_services.kitchen_of(site).number, kitchen=Kitchen.model_validate({"equipment": [piece]})
            )
        client = self._client(operation, who)
        today = timezone.localdate().isoformat()
        raw = self.raw(name=f"N {uuid4()}")
        kitchen = json.loads(client.get("/api/v1/kitchen").content) if operation == "kitchen_save" else {}
        business = json.loads(client.get("/api/v1/business").content) if operation == "business_save" else {}
        paths = {
            "session_get": ("GET", "/api/v1/session", None),
            "session_begin": ("POST", "/api/v1/session", {"username": f"u{uuid4()}", "password": "wrong"}),
            "session_end": ("DELETE", "/api/v1/session", None),
            "session_people": ("GET", "/api/v1/session/people", None),
            "session_switch": ("POST", "/api/v1/session/switch", {"username": f"u{uuid4()}", "pin": "2580"}),
            "session_set_pin": ("PUT", "/api/v1/session/pin", {"password": PASSWORD, "pin": "2580"}),
            "people_list": ("GET", "/api/v1/people", None),
            "people_clear_pin": ("DELETE", "/api/v1/people/prep/pin", None),
            "people_unlock_pin": ("POST", "/api/v1/people/prep/unlock-pin", None),
            "people_deactivate": ("POST", "/api/v1/people/leaver/deactivate", None),
            "people_reactivate": ("POST", "/api/v1/people/leaver/reactivate", None),
            "session_here": ("POST", "/api/v1/session/here", None),
            "sessions_list": ("GET", "/api/v1/session/all", None),
            "sessions_end": ("DELETE", "/api/v1/session/all/0123456789abcdef01234567", None),
            "changes_list": ("GET", "/api/v1/changes", None),
            "kitchen_get": ("GET", "/api/v1/kitchen", None),
            "kitchen_equipment_cleaned": ("POST", "/api/v1/kitchen/equipment/green/cleaned", None),
            "business_get": ("GET", "/api/v1/business", None),
            "business_save": ("PUT", "/api/v1/business", {"number": business.get("number", 0), "business": business.get("business", {})}),
            "kitchen_save": ("PUT", "/api/v1/kitchen", {"number": kitchen.get("number", 0), "kitchen": kitchen.get("kitchen", {})}),
            "substances_find": ("GET", "/api/v1/substances?q=su", None),
            "substances_typed": ("GET", "/api/v1/substances/typed?text=2 g sugar", None),
            "substances_titles": ("GET", "/api/v1/substances/titles?ids=water,none", None),
            "substances_get": ("GET", own, None),
            "substances_new": ("POST", "/api/v1/substances", {"document": {**_OWN, "title": f"New {uuid4()}"}}),
            "substances_save": ("PUT", own, {"number": kept, "document": {**_OWN, "note": "Changed."}}),
            "substances_put_away": ("DELETE", own, None),
            "label_read": ("POST", "/api/v1/substances/label", {"kind": "syrup", "figures": {"sugars": "65"}}),
            "packs_add": ("POST", f"{own}/packs", {"name": "Bag", "mass_g": 1000, "price": 2}),
            "packs_remove": ("DELETE", f"{own}/packs/{pack}", None),
            "lots_add": ("POST", f"{own}/lots", {"code": f"L {uuid4()}"}),
            "lots_save": ("PUT", f"{own}/lots/{lot}", {"code": f"L {uuid4()}"}),
            "suppliers_list": ("GET", "/api/v1/suppliers", None),
            "suppliers_save": ("PUT", f"/api/v1/suppliers/{made.supplier}", {"name": f"S {uuid4()}"}),
            "suppliers_archive": ("DELETE", f"/api/v1/suppliers/{made.supplier}", None),
            "calculators_list": ("GET", "/api/v1/calculators", None),
            "calculators_work": ("POST", "/api/v1/calculators/ratio", {"values": {"brix": 60}, "typed": "brix"}),
            "walk": ("POST", "/api/v1/walk", raw),
            "solve": ("POST", "/api/v1/solve", {"document": raw, "ask": {"targets": [{"reading": "yield_g", "at_least": 10}]}}),
            "suggestions": ("POST", "/api/v1/suggestions", {"document": raw, "reading": "yield_g", "value": 900}),
            "substitute": ("POST", "/api/v1/substitute", {"document": raw, "ask": {"line": "sugar", "parts": {"honey": 1}}}),
            "drink": ("POST", "/api/v1/drink", {"document": raw, "ask": {"dose": "20 g", "base": [{"substance": "whole_milk", "amount": "200 g"}]}}),
            "cost": ("POST", "/api/v1/cost", {"document": raw, "dose_g": 20}),
            "export": ("POST", "/api/v1/export", {"document": raw, "form": "recipe"}),
            "allergens_met_by_equipment": ("GET", "/api/v1/equipment", None),
            "import_read": ("POST", "/api/v1/import/read", {"text": "900 g water\n100 g white sugar"}),
            "import_rows": ("POST", "/api/v1/import/rows", {"name": "N", "rows": []}),
            "holds": ("POST", "/api/v1/holds", {"document": _CHICORY, "stage": "hold"}),
            "overshot": ("POST", "/api/v1/overshot", {"document": raw, "ask": {"line": "water", "poured_g": 5000}}),
            "scale": ("POST", "/api/v1/scale", {"document": raw, "ask": {"by": "factor", "value": 2}}),
            "formulas_list": ("GET", "/api/v1/formulas", None),
            "formulas_starters": ("GET", "/api/v1/formulas/starters", None),
            "formulas_start": ("POST", "/api/v1/formulas", {"document": raw}),
            "formulas_get": ("GET", f"/api/v1/formulas/{formula}", None),
            "formulas_save_draft": ("PUT", f"/api/v1/formulas/{formula}/draft", {"draft": 1, "document": raw}),
            "formulas_archive": ("DELETE", f"/api/v1/formulas/{formula}", None),
            "formulas_bring_back": ("POST", f"/api/v1/formulas/{formula}/bring-back", None),
            "formulas_used_in": ("GET", f"/api/v1/formulas/{formula}/used-in", None),
            "versions_list": ("GET", f"/api/v1/formulas/{formula}/versions", None),
            "versions_save": ("POST", f"/api/v1/formulas/{formula}/versions", {"draft": 1, "note": "Kept."}),
            "versions_get": ("GET", f"/api/v1/formulas/{formula}/versions/1", None),
            "versions_ready": ("POST", f"/api/v1/formulas/{formula}/versions/1/ready", {"ready": False}),
            "versions_make_draft": ("POST", f"/api/v1/formulas/{formula}/versions/1/draft", {"draft": 1}),
            "prices_list": ("GET", "/api/v1/money/prices", None),
            "prices_save": ("PUT", "/api/v1/money/prices", {"rows": [{"substance": "honey", "name": "Tub", "mass_g": 1000, "price": 9}]}),
            "prices_csv": ("GET", "/api/v1/money/prices.csv", None),
            "money_changes": ("GET", "/api/v1/money/changes", None),
            "money_side_by_side": (
                "POST",
                "/api/v1/money/side-by-side",
                {"choices": [{"kind": "formula", "id": str(formula), "dose": 20}, {"kind": "benchmark", "id": aim.rpartition("/")[2], "dose": 15}]},
            ),
            "money_make_or_buy": (
                "POST",
                "/api/v1/money/make-or-buy",
                {"formula": str(formula), "dose_g": 20, "benchmark": aim.rpartition("/")[2], "dose": 15},
            ),
            "money_packs": ("POST", "/api/v1/money/packs", {"document": raw}),
            "drinks_list": ("GET", "/api/v1/drinks", None),
            "drinks_start": ("POST", "/api/v1/drinks", {"document": _drink(f"D {uuid4()}")}),
            "drinks_doses": ("GET", "/api/v1/drinks/doses", None),
            "drinks_dose_card": ("GET", "/api/v1/drinks/doses.pdf?paper=A6", None),
            "drinks_sheet": ("GET", "/api/v1/drinks/sheet.pdf", None),
            "drinks_build_card": ("GET", f"/api/v1/drinks/{drink}/build.pdf", None),
            "drinks_using": ("GET", f"/api/v1/drinks/using/{formula}", None),
            "drinks_sizes": ("POST", "/api/v1/drinks/sizes", _drink("D")),
            "drinks_even_out": ("POST", "/api/v1/drinks/even-out", {"document": _drink("D"), "ask": {"component": "dose"}}),
            "drinks_ways": ("POST", "/api/v1/drinks/ways", {"document": _drink("D"), "ask": {"size": "short", "reading": "energy", "value": 120}}),
            "drinks_swaps": ("POST", "/api/v1/drinks/swaps", {"document": _drink("D"), "ask": {"component": "milk"}}),
            "drinks_get": ("GET", f"/api/v1/drinks/{drink}", None),
            "drinks_save_draft": ("PUT", f"/api/v1/drinks/{drink}/draft", {"draft": 1, "document": _drink(f"D {uuid4()}")}),
            "drinks_archive": ("DELETE", f"/api/v1/drinks/{drink}", None),
            "drinks_bring_back": ("POST", f"/api/v1/drinks/{drink}/bring-back", None),
            "drink_versions_list": ("GET", f"/api/v1/drinks/{drink}/versions", None),
            "drink_versions_save": ("POST", f"/api/v1/drinks/{drink}/versions", {"draft": 1, "note": "Kept."}),
            "drink_versions_get": ("GET", f"/api/v1/drinks/{drink}/versions/1", None),
            "drink_versions_make_draft": ("POST", f"/api/v1/drinks/{drink}/versions/1/draft", {"draft": 1}),
            "drink_versions_ready": ("POST", f"/api/v1/drinks/{drink}/versions/1/ready", {"ready": False}),
            "sales": ("GET", "/api/v1/sales", None),
            "sales_read": ("POST", "/api/v1/sales/read", self._file(made)),
            "sales_import": ("POST", "/api/v1/sales/import", self._file(made)),
            "sales_undo_import": ("POST", f"/api/v1/sales/imports/{made.sold if made.sold != '1' else uuid4()}/undo", None),
            "sales_day": ("GET", f"/api/v1/sales/day?on={today}&place={made.place}", None),
            "sales_corrections": ("GET", "/api/v1/sales/corrections", None),
            "sales_correct": (
                "POST",
                "/api/v1/sales/corrections",
                {"on": today, "place": made.place, "drink": drink or str(uuid4()), "size": "short", "count": 3, "reason": "Counted."},
            ),
            "sales_calendar_add": ("POST", "/api/v1/sales/calendar", {"kind": "closed", "first": today, "last": today, "place": made.place}),
            "sales_calendar_save": ("PUT", f"/api/v1/sales/calendar/{made.sold}", {"kind": "event", "name": "Fair", "first": today, "last": today}),
            "sales_calendar_delete": ("DELETE", f"/api/v1/sales/calendar/{made.sold}", None),
            "sales_names": ("GET", "/api/v1/sales/names", None),
            "sales_forget_name": ("DELETE", f"/api/v1/sales/names?key={made.sold}", None),
            "tills_list": ("GET", "/api/v1/sales/tills", None),
            "tills_add": ("POST", "/api/v1/sales/tills", {"name": f"T {uuid4()}", "address": "http://127.0.0.1:9/sold.csv"}),
            "tills_save": ("PUT", f"/api/v1/sales/tills/{made.sold}", {"name": f"T {uuid4()}", "address": "http://127.0.0.1:9/sold.csv"}),
            "tills_archive": ("DELETE", f"/api/v1/sales/tills/{made.sold}", None),
            "tills_fetch": ("POST", f"/api/v1/sales/tills/{made.sold}/fetch", None),
            "forecast": ("GET", "/api/v1/plan/forecast", None),
            "forecast_override": (
                "POST",
                "/api/v1/plan/overrides",
                {"first": today, "last": today, "place": made.place, "times": 2, "reason": "Party."},
            ),
            "forecast_undo_override": ("DELETE", f"/api/v1/plan/overrides/{made.sold}", None),
            "forecast_like": ("PUT", "/api/v1/plan/likes", {"drink": drink or str(uuid4()), "like": self._another_drink(operation), "share": 0.5}),
            "forecast_stop_like": ("DELETE", f"/api/v1/plan/likes/{drink or uuid4()}", None),
            "needs": ("GET", "/api/v1/plan/needs", None),
            "over_pours": ("GET", "/api/v1/plan/over-pours", None),
            "plan_week": ("POST", "/api/v1/plan/week", {"pins": []}),
            "plan_save_settings": ("PUT", "/api/v1/plan/settings", {"hands_min": [60] * 7, "burner_min": 60, "lost": 0.3, "fixed_weekdays": [0, 3]}),
            "stock": ("GET", "/api/v1/stock", None),
            "stock_containers": ("GET", "/api/v1/stock/containers", None),
            "stock_container": ("GET", f"/api/v1/stock/containers/{uuid4()}", None),
            "stock_enter": (
                "POST",
                "/api/v1/stock/entries",
                {
                    "entries": [
                        {"container": str(uuid4()), "movement": {"id": str(uuid4()), "at": "2026-03-02T08:00:00Z", "what": {"kind": "opened"}}}
                    ]
                },
            ),
            "stock_needs": ("GET", f"/api/v1/stock/needs?formula={formula}&version=1", None),
            "stock_csv": ("GET", "/api/v1/stock/containers.csv", None),
            "stock_opened_label": ("GET", f"/api/v1/stock/containers/{uuid4()}/label.pdf", None),
            "places_bars": ("GET", "/api/v1/places/bars", None),
            "places_place_bar": ("PUT", "/api/v1/places/bars/bar", {"place": None}),
            "stock_recall": ("GET", "/api/v1/stock/recall?ingredient=honey&lot=A", None),
            "stock_recall_csv": ("GET", "/api/v1/stock/recall.csv?ingredient=honey&lot=A", None),
            "stock_origin": ("GET", f"/api/v1/stock/containers/{uuid4()}/origin", None),
            "stock_origin_csv": ("GET", f"/api/v1/stock/batches/{uuid4()}/origin.csv", None),
            "stock_open_lots": ("GET", f"/api/v1/stock/batches/{uuid4()}/lots", None),
            "stock_start": ("POST", "/api/v1/stock/batches", {"formula": str(formula), "version": 1, "takes": []}),
            "places_list": ("GET", "/api/v1/places", None),
            "places_new": ("POST", "/api/v1/places", {"name": f"Bar {uuid4().hex[:8]}"}),
            "places_save": ("PUT", "/api/v1/places/4711", {"name": "Bar"}),
            "places_archive": ("DELETE", "/api/v1/places/4711", None),
            "batches_list": ("GET", "/api/v1/batches", None),
            "batches_start": ("POST", "/api/v1/batches", {"formula": str(formula), "version": 1}),
            "batches_get": ("GET", f"/api/v1/batches/{batch}", None),
            "batches_append": ("POST", f"/api/v1/batches/{batch}/entries", {"events": [entry({"kind": "noted", "text": "seen"})]}),
            "batches_entries": ("GET", f"/api/v1/batches/{batch}/entries", None),
            "batches_rescue": ("POST", f"/api/v1/batches/{batch}/rescue", {"about": "yield_g", "value": 900}),
            "batches_table": ("GET", "/api/v1/batches/table.csv?q=none", None),
            "batches_label": ("GET", f"/api/v1/batches/{batch}/label.pdf?dose=20 g", None),
            "batches_run_sheet": ("GET", f"/api/v1/batches/{batch}/run-sheet.pdf", None),
            "batches_log_csv": ("GET", f"/api/v1/batches/{batch}/log.csv", None),
            "batches_json": ("GET", f"/api/v1/batches/{batch}/batch.json", None),
            "benchmarks_list": ("GET", "/api/v1/benchmarks", None),
            "benchmarks_attributes": ("GET", "/api/v1/benchmarks/attributes", None),
            "benchmarks_new": ("POST", "/api/v1/benchmarks", {"document": {"name": f"B {uuid4()}"}}),
            "benchmarks_read": ("POST", "/api/v1/benchmarks/read", {"document": {"name": "B"}, "ours": str(formula)}),
            "benchmarks_get": ("GET", aim, None),
            "benchmarks_save": ("PUT", aim, {"number": 1, "document": {"name": f"B {uuid4()}"}}),
            "benchmarks_put_away": ("DELETE", aim, None),
            "benchmarks_aim": ("POST", f"{aim}/aim", {"document": raw}),
            "stream": ("GET", "/api/v1/stream", None),
            "compare": ("POST", "/api/v1/compare", {"sides": [{"formula": str(formula)}, {"formula": str(formula), "version": 1}]}),
        }
        return self.send(client, *paths[operation])
