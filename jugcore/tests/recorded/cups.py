"""Doses in drinks."""

from __future__ import annotations

from functools import partial
from typing import Any

from jugcore.dosing.schema import DrinkReport, DrinkRequest, drink_report
from jugcore.method.method import Method
from jugcore.tests.recorded.answers import asked
from jugcore.tests.recorded.documents import Doc, example

_LATTE = [{"substance": "whole_milk", "amount": "200 g"}, {"substance": "espresso", "amount": "30 g"}]
_LEMONADE = [{"substance": "lemon_juice", "amount": "20 g"}, {"substance": "whole_milk", "amount": "80 ml"}]
ASKS: tuple[tuple[str, Doc], ...] = (
    ("ferrymans-spice", {"dose": "20 g", "base": _LATTE, "at_c": 60}),
    ("weir-simple", {"dose": "3 pumps", "base": _LATTE, "ice_g": 120, "cup_ml": 350}),
    ("weir-simple", {"dose": "2 tbsp", "base": _LATTE, "ice_g": 60, "cup_ml": 200}),
    ("malic-citric-six", {"dose": "10 g", "base": _LEMONADE}),
    ("fennel-sweet-cream", {"dose": "40 g", "base": [{"substance": "brewed_coffee", "amount": "250 ml"}], "cup_ml": 300}),
    ("ferrymans-spice", {"dose": "15 g"}),
    ("weir-simple", {"dose": "15 g", "base": [{"substance": "espresso", "amount": "110 g"}], "cup_ml": 60}),
    ("tin-sweet-half", {"dose": "60 g", "base": [{"substance": "espresso", "amount": "200 g"}], "ice_g": 80}),
)


def _in_the_cup(ask: Doc, method: Method) -> DrinkReport:
    return drink_report(method, DrinkRequest.model_validate(ask))


def cups() -> Any:
    return [asked(partial(_in_the_cup, ask), example(name)) for name, ask in ASKS]
