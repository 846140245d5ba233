"""What is made of amounts as people write them, and what is wrong with documents."""

from __future__ import annotations

from typing import Any

from jugcore.errors import DomainError, NotUnderstood, SeveralProblems
from jugcore.method.compile import parse_document
from jugcore.method.walk import walk
from jugcore.reading.report import report
from jugcore.tests.recorded.documents import Doc, dust, pears, with_, without

AMOUNTS = (
    "430 g", "1 1/2 cups", "1½ cups", "¾ tsp", "⅔ cup", "heaped tbsp", "2 heaped tsp", "1 level tbsp", "scant cup", "rounded tsp", "generous tbsp",
    "a pinch", "2 dashes", "a smidgen", "3 drops", "half a cup", "a quarter of a cup", "third of a cup", "two cups", "three tsp", "four tbsp", "five g",
    "six g", "seven g", "eight g", "nine g", "ten g", "eleven g", "twelve g", "a dozen g", "one kg", "1 lb 4 oz", "2 lb", "10 oz", "10 fl oz", "1 pint",
    "1 quart", "1 gallon", "3 pumps", "1 cl", "2 dl", "1.5 l", "250 ml", "1,250 g", "1.250,5 g", "2 to 3 tbsp", "2-3 tsp", "about 200 g", "200 g plus 1 tbsp",
    "2 tins", "half a pod", "1 bag", "", "cup", "g", "-3 g", "0 g", "1/0 cup", "1 cusp", "lots", "12 grms", "3 heaped g", "1e9 kg", "5 parts", "30 %", "all",
    "up to 100 g", "as the water", "twice the water", "half the water", "a third of the water", "a quarter of the water", "1.5 x the water", "22 g per kg",
    "22 g per kg started", "22 g per kg finished", "5 g per kg after add", "as both", "as all three", "as all so far", "as nothing here", "as the line itself",
    "10 % of the water", "30 g per kg of the water and sugar", "5 g per kg after boiling",
)  # fmt: skip
SYSTEMS = ("metric", "us", "imperial", "australian")


def amounts() -> Any:
    """What is made of each text, of something that pours and of something that does not, by every system of measures."""
    found: Doc = {}
    for substance in ("white_sugar", "whole_milk", "condensed_milk", "vanilla_pod", "xanthan"):
        for text in AMOUNTS:
            lines = [
                {"id": "w", "substance": "water", "amount": "500 g"},
                {"id": "s", "substance": "caster_sugar", "name": "Sugar", "amount": "300 g"},
                {"id": "x", "substance": substance, "name": "The line itself", "amount": text},
            ]
            document = {"kitchen": {"measures": "metric"}, "stages": [{"id": "add", "kind": "add", "vessel": "pot", "lines": lines}]}
            found[f"{substance}: {text}"] = _read(document)
    for system in SYSTEMS:
        for text in ("1 cup", "1 tbsp", "1 tsp", "1 pint", "1 fl oz", "1 gallon", "1 dsp", "a pump"):
            line = {"id": "x", "substance": "water", "amount": text}
            found[f"{system}: {text}"] = _read(
                {"kitchen": {"measures": system, "pump_ml": 8}, "stages": [{"id": "a", "kind": "add", "vessel": "p", "lines": [line]}]}
            )
    return found


def _read(document: Doc) -> Any:
    try:
        method = parse_document(document)
        line = next(line for line in report(walk(method)).lines if line.id == "x")
    except NotUnderstood as refused:
        return [refused.message, refused.remedy, refused.at, list(refused.choices)]
    except DomainError as refused:
        return [refused.field, refused.message, refused.remedy]
    return [line.mass_g, line.low_g, line.high_g, line.text, line.understood, line.tied]


def refusals() -> Any:
    """What is wrong with documents that cannot be walked, and where it goes wrong in those that can."""
    whole = pears()
    wrong: dict[str, Doc] = {
        "no stages": with_(whole, [], "stages"), "a stage without id": without(whole, "stages", 0, "id"), "an unknown kind": with_(whole, "fry", "stages", 0, "kind"),
        "an id twice": with_(whole, "trim", "stages", 0, "id"), "a line twice": with_(whole, "water", "stages", 3, "lines", 1, "id"),
        "vessels twice": with_(whole, "bowl", "vessels", 1, "id"), "all vessels alike": with_(with_(whole, "bowl", "vessels", 1, "id"), "bowl", "vessels", 2, "id"),
        "into itself": with_(whole, "jug", "stages", 6, "vessel"), "into a cake": with_(whole, "cake:press", "stages", 6, "into"),
        "finished nowhere": with_(whole, "moon", "finished"), "an unknown substance": with_(whole, "gold", "stages", 3, "lines", 0, "substance"),
        "an unknown line": with_(whole, "as the rum", "stages", 3, "lines", 0, "amount"), "a circle": with_(whole, "as the sugar", "stages", 3, "lines", 0, "amount"),
        "all of an ingredient": with_(whole, "all", "stages", 3, "lines", 0, "amount"), "parts of nothing": with_(whole, "3 parts", "stages", 3, "lines", 0, "amount"),
        "a total and no parts": with_(whole, "300 g", "stages", 3, "total"), "a total of the future": with_(dust(), "2 g per kg finished", "stages", 0, "total"),
        "a yield outside its range": with_(whole, 0.9, "stages", 1, "yield_fraction"), "a yield above one": with_(whole, 1.5, "stages", 1, "yield_fraction"),
        "two ends of a boil": with_(whole, {"brix": 60, "minutes": 3}, "stages", 5, "until"), "no end of a boil": with_(whole, {}, "stages", 5, "until"),
        "an allergen nobody lists": with_(whole, {"x": {"title": "X", "composition_g_per_100g": {"water": 100}, "allergens": ["dust"]}}, "substances"),
        "components that do not add up": with_(whole, {"x": {"title": "X", "composition_g_per_100g": {"water": 80, "gold": 3}}}, "substances"),
        "more juice than there is": with_(without(whole, "stages", 2, "yield_low"), 0.99, "stages", 2, "yield_fraction"),
        "cooler than it is": with_(whole, 20, "stages", 4, "to_c"), "warmer by cooling": with_(whole, 99, "stages", 7, "to_c"),
        "colder than the fridge": with_(with_(whole, "fridge", "stages", 7, "how"), 1, "stages", 7, "to_c"),
        "heated past the boil": with_(whole, 130, "stages", 4, "to_c"), "boiled beyond all water": with_(whole, {"off_g": 9000}, "stages", 5, "until"),
        "boiled to less than it is": with_(whole, {"brix": 20}, "stages", 5, "until"), "boiled to more than it weighs": with_(whole, {"mass_g": 9000}, "stages", 5, "until"),
        "a boil that needs no heat": with_(whole, {"temperature_c": 60}, "stages", 5, "until"), "a bottle larger than the batch": pears(size_ml=100_000) | {"finished": "bottles"},
        "an unknown sieve": with_(whole, "net", "stages", 6, "sieve"), "an unknown burner": with_(whole, "sun", "stages", 4, "burner"),
        "an unknown pot": with_(whole, "moon", "vessels", 1, "pot"), "strained dry": with_(with_(whole, 20, "stages", 6, "uptake_g_per_g"), 1, "stages", 6, "retained"),
    }  # fmt: skip
    return {name: _problems(document) for name, document in wrong.items()}


def _problems(document: Doc) -> Any:
    try:
        found = report(walk(parse_document(document)))
    except SeveralProblems as several:
        return [[each.field, each.message, each.remedy] for each in several.problems]
    except DomainError as refused:
        return [[refused.field, refused.message, refused.remedy]]
    return {
        "faults": [[f.code, f.field, f.message, f.remedy] for f in found.faults],
        "yield": found.product.mass_g,
        "says": [x.text for x in found.consequences],
    }
