"""A shop with two bars and two drinks that are served, one of them with a syrup of its own, for tests of what is sold and planned."""

from __future__ import annotations

import base64
import json
from datetime import date, timedelta
from typing import Any

from django.utils import timezone

from jugserver.config.tests.shop import ShopCase
from jugserver.formulas.made_here import made_key
from jugserver.stock.models import Place


def drink_of(name: str, dose: str = "honey") -> dict[str, Any]:
    """A latte over two sizes: 10 and 20 g of its dose."""
    return {
        "name": name,
        "sizes": [{"id": "short", "name": "Short", "cup_ml": 180, "fill_ml": 166}, {"id": "long", "name": "Long", "cup_ml": 360, "fill_ml": 346}],
        "components": [
            {"id": "dose", "role": "dose", "substance": dose, "amounts": {"short": "10 g", "long": "20 g"}},
            {"id": "shot", "role": "coffee", "substance": "espresso", "amounts": {"short": "30 g", "long": "60 g"}},
            {"id": "milk", "role": "milk", "substance": "whole_milk", "amounts": {"short": "to the line", "long": "to the line"}},
        ],
    }  # fmt: skip


class SoldCase(ShopCase):
    """``latte`` has 10 and 20 g of ``syrup`` (half sugar, half water); ``mocha`` has honey."""

    def setUp(self) -> None:
        super().setUp()
        self.lead = self.signed_in("lead")
        self.today = timezone.localdate()
        self.kiln = Place.objects.create(site=self.site, name="Kiln Lane")
        self.weir = Place.objects.create(site=self.site, name="Weir Bridge")
        lines = [{"id": "w", "substance": "water", "amount": "500 g"}, {"id": "s", "substance": "white_sugar", "amount": "500 g"}]
        stages = [{"id": "a", "kind": "add", "vessel": "pot", "lines": lines}]
        formula = self.ask("POST", "/api/v1/formulas", {"document": {"name": "Bridge Simple", "stages": stages}})
        self.ask("POST", f"/api/v1/formulas/{formula['id']}/versions", {"draft": 1, "note": "First."})
        self.syrup = formula["id"]
        self.latte, self.mocha = self.served("Ferry Latte", made_key(self.syrup, 1)), self.served("Tannery Mocha")

    def ask(self, method: str, path: str, body: Any = None) -> Any:
        answer = self.send(self.lead, method, path, body)
        self.assertLess(answer.status_code, 300, answer.content[:600])
        return json.loads(answer.content) if answer.content else None

    def refused(self, status: int, method: str, path: str, body: Any = None) -> Any:
        answer = self.send(self.lead, method, path, body)
        return self.assert_problem(answer, status)

    def served(self, name: str, dose: str = "honey") -> str:
        """A drink whose first version may be served."""
        drink = self.ask("POST", "/api/v1/drinks", {"document": drink_of(name, dose)})
        self.ask("POST", f"/api/v1/drinks/{drink['id']}/versions", {"draft": 1, "note": "First."})
        self.ask("POST", f"/api/v1/drinks/{drink['id']}/versions/1/ready", {"ready": True, "reason": "Known."})
        id: str = drink["id"]
        return id

    def day(self, ago: int) -> date:
        return self.today - timedelta(days=ago)

    @staticmethod
    def file(text: str, name: str = "sold.csv", **more: Any) -> dict[str, Any]:
        return {"name": name, "base64": base64.b64encode(text.encode()).decode(), **more}

    def weeks(self, weeks: int = 9, first: int | None = None) -> str:
        """A file of what was sold: on each day 20 long and 10 short lattes and 6 long mochas at Kiln Lane, half of that at Weir Bridge; more at the end
        of the week."""
        rows = ["Day,Place,Item,Size,Sold"]
        for ago in range(7 * weeks if first is None else first, 0, -1):
            on = self.day(ago)
            more = 1.5 if on.weekday() >= 4 else 1.0
            for place, share in (("Kiln Lane", 1.0), ("Weir Bridge", 0.5)):
                rows += [f"{on},{place},{item},{size},{round(count * share * more)}" for item, size, count in (
                    ("Ferry Latte", "Long", 20), ("Ferry Latte", "Short", 10), ("Tannery Mocha", "Long", 6))]  # fmt: skip
        return "\n".join(rows) + "\n"
