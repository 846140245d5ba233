"""What a cup, a spoon and an ounce hold in each measure system. [ml]

Sources: NIST Handbook 44 (US), UK Weights and Measures Act (imperial), the
Australian and metric kitchen standards. All are definitions, exact.
"""

from __future__ import annotations

US_GALLON_ML = 3785.411784
IMPERIAL_GALLON_ML = 4546.09
OUNCE_G = 28.349523125
POUND_G = 453.59237

#: Grams in one unit of mass; the same in every system.
MASS_G: dict[str, float] = {"mg": 0.001, "g": 1.0, "kg": 1000.0, "oz": OUNCE_G, "lb": POUND_G}

_LITRES: dict[str, float] = {"ml": 1.0, "cl": 10.0, "dl": 100.0, "l": 1000.0}

#: Millilitres in one unit of volume, by measure system.
VOLUME_ML: dict[str, dict[str, float]] = {
    "metric": {**_LITRES, "tsp": 5.0, "tbsp": 15.0, "cup": 250.0, "floz": US_GALLON_ML / 128, "pint": 500.0, "quart": 1000.0},
    "us": {
        **_LITRES,
        "tsp": US_GALLON_ML / 768,
        "tbsp": US_GALLON_ML / 256,
        "cup": US_GALLON_ML / 16,
        "floz": US_GALLON_ML / 128,
        "pint": US_GALLON_ML / 8,
        "quart": US_GALLON_ML / 4,
    },
    "imperial": {
        **_LITRES,
        "tsp": IMPERIAL_GALLON_ML / 768,
        "tbsp": IMPERIAL_GALLON_ML / 256,
        "cup": IMPERIAL_GALLON_ML / 16,
        "floz": IMPERIAL_GALLON_ML / 160,
        "pint": IMPERIAL_GALLON_ML / 8,
        "quart": IMPERIAL_GALLON_ML / 4,
    },
    "australian": {**_LITRES, "tsp": 5.0, "tbsp": 20.0, "cup": 250.0, "floz": 30.0, "pint": 570.0, "quart": 1140.0},
}
SYSTEMS: tuple[str, ...] = tuple(VOLUME_ML)

#: How far a filled measure misses its nominal volume, relative, ±: common practice, no source.
FILLING_SPREAD: dict[str, float] = {"tsp": 0.08, "tbsp": 0.06, "cup": 0.04}

#: Words for each unit, as people write them.
WORDS: dict[str, tuple[str, ...]] = {
    "mg": ("mg", "milligram", "milligrams"),
    "g": ("g", "gr", "gram", "grams", "gramme", "grammes"),
    "kg": ("kg", "kgs", "kilo", "kilos", "kilogram", "kilograms"),
    "oz": ("oz", "ounce", "ounces"),
    "lb": ("lb", "lbs", "pound", "pounds"),
    "ml": ("ml", "millilitre", "millilitres", "milliliter", "milliliters"),
    "cl": ("cl", "centilitre", "centilitres"),
    "dl": ("dl", "decilitre", "decilitres"),
    "l": ("l", "litre", "litres", "liter", "liters"),
    "tsp": ("tsp", "tsps", "teaspoon", "teaspoons"),
    "tbsp": ("tbsp", "tbsps", "tbs", "tablespoon", "tablespoons"),
    "cup": ("cup", "cups"),
    "floz": ("floz", "fluid ounce", "fluid ounces"),
    "pint": ("pt", "pint", "pints"),
    "quart": ("qt", "quart", "quarts"),
}
UNIT_OF_WORD: dict[str, str] = {word: unit for unit, words in WORDS.items() for word in words}
#: How the text twin names a unit.
SHOWN: dict[str, str] = {"floz": "fl oz"}
