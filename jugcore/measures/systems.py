"""What a cup, a spoon and an ounce hold in each measure system. [ml]

Sources: NIST Handbook 44 (US), UK Weights and Measures Act (imperial), the
Australian and metric kitchen standards. All are definitions, exact, but for the
pinch, dash, smidgen and drop, which are kitchen convention.
"""

from __future__ import annotations

US_GALLON_ML = 3785.411784
IMPERIAL_GALLON_ML = 4546.09
OUNCE_G = 28.349523125
POUND_G = 453.59237

#: Grams in one unit of mass; the same in every system.
MASS_G: dict[str, float] = {"mg": 0.001, "g": 1.0, "kg": 1000.0, "oz": OUNCE_G, "oz_weight": OUNCE_G, "lb": POUND_G}

LITRES: dict[str, float] = {"ml": 1.0, "cl": 10.0, "dl": 100.0, "l": 1000.0}
_US_TSP = US_GALLON_ML / 768
#: A pinch is a sixteenth of a US teaspoon; the drop is common practice, no source.
_SMALL: dict[str, float] = {"dash": _US_TSP / 8, "pinch": _US_TSP / 16, "smidgen": _US_TSP / 32, "drop": 0.05}
_LITRES = {**LITRES, **_SMALL}

#: Millilitres in one unit of volume, by measure system.
VOLUME_ML: dict[str, dict[str, float]] = {
    "metric": {**_LITRES, "tsp": 5.0, "tbsp": 15.0, "cup": 250.0, "floz": US_GALLON_ML / 128, "pint": 500.0, "quart": 1000.0, "gallon": 4000.0},
    "us": {
        **_LITRES,
        "tsp": US_GALLON_ML / 768,
        "tbsp": US_GALLON_ML / 256,
        "cup": US_GALLON_ML / 16,
        "floz": US_GALLON_ML / 128,
        "pint": US_GALLON_ML / 8,
        "quart": US_GALLON_ML / 4,
        "gallon": US_GALLON_ML,
    },
    "imperial": {
        **_LITRES,
        # British spoons are metric; the old ones of 5.9 and 17.8 ml are in no drawer any more.
        "tsp": 5.0,
        "tbsp": 15.0,
        "cup": IMPERIAL_GALLON_ML / 16,
        "floz": IMPERIAL_GALLON_ML / 160,
        "pint": IMPERIAL_GALLON_ML / 8,
        "quart": IMPERIAL_GALLON_ML / 4,
        "gallon": IMPERIAL_GALLON_ML,
    },
    "australian": {**_LITRES, "tsp": 5.0, "tbsp": 20.0, "cup": 250.0, "floz": 30.0, "pint": 570.0, "quart": 1140.0, "gallon": 4560.0},
}
SYSTEMS: tuple[str, ...] = tuple(VOLUME_ML)
#: What people call each system.
SYSTEM_NAMES: dict[str, str] = {"metric": "metric", "us": "US", "imperial": "imperial", "australian": "Australian"}
SYSTEM_OF_WORD: dict[str, str] = {
    "metric": "metric", "us": "us", "american": "us", "imperial": "imperial", "british": "imperial", "uk": "imperial", "australian": "australian",
}  # fmt: skip
#: Measures that are of two countries and of no metric kitchen: which is meant is asked.
ASK_WHICH = frozenset({"pint"})

#: How far a filled measure misses its nominal volume, relative, ±: common practice, no source.
FILLING_SPREAD: dict[str, float] = {"tsp": 0.08, "tbsp": 0.06, "cup": 0.04, "pump": 0.03, "pinch": 0.5, "dash": 0.4, "smidgen": 0.5, "drop": 0.3}
#: How much more a measure holds than a level one, filled this way, and how far that goes, relative, ±: common practice, no source.
SHAPES: dict[str, tuple[float, float]] = {
    "level": (1.0, 0.0), "rounded": (1.35, 0.15), "heaped": (1.7, 0.25), "scant": (0.92, 0.04), "generous": (1.1, 0.05),
}  # fmt: skip
#: “About” adds this much doubt, relative, ±: common practice, no source.
ABOUT_SPREAD = 0.05

#: Words for each unit, as people write them.
WORDS: dict[str, tuple[str, ...]] = {
    "oz_weight": ("oz by weight", "ounce by weight", "ounces by weight", "oz wt", "oz weight"),
    "mg": ("mg", "milligram", "milligrams"),
    "g": ("g", "gr", "gram", "grams", "gramme", "grammes"),
    "kg": ("kg", "kgs", "kilo", "kilos", "kilogram", "kilograms"),
    "oz": ("oz", "ounce", "ounces"),
    "lb": ("lb", "lbs", "pound", "pounds"),
    "ml": ("ml", "cc", "millilitre", "millilitres", "milliliter", "milliliters"),
    "cl": ("cl", "centilitre", "centilitres"),
    "dl": ("dl", "decilitre", "decilitres"),
    "l": ("l", "litre", "litres", "liter", "liters"),
    "tsp": ("tsp", "tsps", "teaspoon", "teaspoons"),
    "tbsp": ("tbsp", "tbsps", "tbs", "tblsp", "tablespoon", "tablespoons"),
    "cup": ("cup", "cups", "c"),
    "floz": ("fl oz", "floz", "fluid ounce", "fluid ounces", "fluid oz"),
    "pint": ("pt", "pint", "pints"),
    "quart": ("qt", "quart", "quarts"),
    "gallon": ("gal", "gallon", "gallons"),
    "pump": ("pump", "pumps", "stroke", "strokes"),
}
UNIT_OF_WORD: dict[str, str] = {word: unit for unit, words in WORDS.items() for word in words}
#: How the text twin names a unit.
SHOWN: dict[str, str] = {"floz": "fl oz", "oz_weight": "oz by weight"}
