"""The components every substance is resolved into, and what each counts as.

The names are published identifiers: documents, exports and tests use them.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np


@dataclass(frozen=True)
class Component:
    """One chemical kind of matter.

    ``group`` decides heat capacity and how a picture bands it; ``density_kg_m3``
    is the density of the pure component where volumes are added up (the sugars
    and other dissolved solids go through the sucrose-solution density instead).
    """

    name: str
    group: str
    title: str
    density_kg_m3: float


# Densities: fat and protein and ash as in the dairy rule of additive volumes;
# insolubles and starch as Choi and Okos 1986 carbohydrate and fibre at 20 °C;
# salt as it counts in water (1,000 over its apparent volume), not as a crystal.
COMPONENTS: tuple[Component, ...] = (
    Component("water", "water", "water", 998.2),
    Component("sucrose", "sugars", "sucrose", 1587.0),
    Component("glucose", "sugars", "glucose", 1587.0),
    Component("fructose", "sugars", "fructose", 1587.0),
    Component("lactose", "sugars", "lactose", 1780.0),
    Component("galactose", "sugars", "galactose", 1587.0),
    Component("maltose", "sugars", "maltose", 1587.0),
    Component("dextrin", "soluble", "dextrin", 1587.0),
    Component("sorbitol", "soluble", "sorbitol", 1490.0),
    Component("other_soluble_carbohydrate", "soluble", "other soluble carbohydrate", 1587.0),
    Component("starch", "starch", "starch", 1593.0),
    Component("insoluble", "insoluble", "fibre and other insolubles", 1306.0),
    Component("pectin_and_gums", "gums", "pectin and gums", 1587.0),
    Component("milk_fat", "fat", "milk fat", 918.0),
    Component("cocoa_butter", "fat", "cocoa butter", 918.0),
    Component("other_fat", "fat", "other fat", 918.0),
    Component("protein", "protein", "protein", 1400.0),
    Component("salt", "minerals", "salt", 2800.0),
    Component("other_ash", "minerals", "other ash", 1850.0),
    Component("citric", "acids", "citric acid", 1587.0),
    Component("malic", "acids", "malic acid", 1587.0),
    Component("tartaric", "acids", "tartaric acid", 1587.0),
    Component("lactic", "acids", "lactic acid", 1250.0),
    Component("acetic", "acids", "acetic acid", 1050.0),
    Component("ethanol", "alcohol", "ethanol", 789.0),
    Component("caffeine", "soluble", "caffeine", 1230.0),
    Component("theobromine", "soluble", "theobromine", 1520.0),
    Component("dissolved_gas", "gas", "dissolved gas", 1000.0),
)
NAMES: tuple[str, ...] = tuple(component.name for component in COMPONENTS)
INDEX: dict[str, int] = {name: index for index, name in enumerate(NAMES)}
COUNT = len(COMPONENTS)

WATER = INDEX["water"]
SUCROSE = INDEX["sucrose"]
STARCH = INDEX["starch"]
SALT = INDEX["salt"]
OTHER_ASH = INDEX["other_ash"]

_DISSOLVED_GROUPS = {"sugars", "soluble", "gums", "acids", "minerals"}


def _mask(groups: set[str]) -> np.ndarray[tuple[int], np.dtype[np.float64]]:
    return np.array([1.0 if component.group in groups else 0.0 for component in COMPONENTS])


#: 1 for what counts as dissolved solids, the numerator of °Brix of the liquid.
DISSOLVED = _mask(_DISSOLVED_GROUPS)
#: Dissolved solids whose volume goes by the sucrose-solution density; minerals take far less.
SUGAR_LIKE = _mask(_DISSOLVED_GROUPS - {"minerals"})
SUGARS = _mask({"sugars"})
FAT = _mask({"fat"})
ACIDS = _mask({"acids"})
#: What a sieve or a press can hold back: nothing here dissolves.
INSOLUBLE = _mask({"insoluble", "starch"})
#: Everything that runs through a cloth.
LIQUID = 1.0 - INSOLUBLE
DENSITY = np.array([component.density_kg_m3 for component in COMPONENTS])

#: Bands of the jug and the stage ribbon, bottom to top, in reading order.
BANDS: tuple[tuple[str, str, np.ndarray[tuple[int], np.dtype[np.float64]]], ...] = (
    ("sugars", "sugars", SUGARS),
    ("fat", "fat", FAT),
    ("other_solids", "other dissolved solids", _mask({"soluble", "gums", "acids", "minerals", "protein", "alcohol", "gas"})),
    ("insoluble", "solids that do not dissolve", INSOLUBLE),
    ("water", "water", _mask({"water"})),
)

_ALIASES = {
    "fibre": "insoluble", "fiber": "insoluble", "insolubles": "insoluble", "ash": "other_ash", "alcohol": "ethanol",
    "sodium_chloride": "salt", "nacl": "salt", "dextrose": "glucose", "pectin": "pectin_and_gums", "gums": "pectin_and_gums",
}  # fmt: skip


def canonical(name: str) -> str | None:
    """The published identifier for a name as written, or None.

    Spaces and capitals do not matter and an acid may carry the word “acid”.

    >>> canonical("Citric acid")
    'citric'
    """
    key = name.strip().lower().replace(" ", "_").replace("-", "_").removesuffix("_acid")
    key = _ALIASES.get(key, key)
    return key if key in INDEX else None
