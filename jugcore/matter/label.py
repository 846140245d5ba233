"""What a pack says, reconciled into a composition with its range.

A figure on a label is a window, as wide as it was rounded: “5” is 4.5 to 5.5, “5.2” is 5.15 to 5.25,
“<0.5” is 0 to 0.5; United States labels round fat to halves and energy to fives and tens. All windows
together, masses that add up and volumes that add up are linear, so the least and the most
of every component are found by a linear program, and the composition is the one that lies nearest the middles of the windows.
"""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from jugcore import components as c
from jugcore.errors import BadDocument
from jugcore.figures import Floats, shown

#: What a label may state, in the words of a label, with its unit.
FIGURES: dict[str, str] = {
    "energy_kcal": "kcal", "energy_kj": "kJ", "fat": "g", "carbohydrate": "g", "sugars": "g", "added_sugars": "g", "starch": "g",
    "fibre": "g", "protein": "g", "salt": "g", "sodium_mg": "mg", "alcohol_vol": "% vol", "caffeine_mg": "mg", "water": "g",
}  # fmt: skip
_TITLES = {
    "energy_kcal": "energy", "energy_kj": "energy", "added_sugars": "added sugars", "sodium_mg": "sodium", "alcohol_vol": "alcohol",
    "caffeine_mg": "caffeine",
}  # fmt: skip
#: kcal per gram (Regulation (EU) 1169/2011, Annex XIV), and how far labels stray from it, relative.
_KCAL = {"fat": 9.0, "carbohydrate": 4.0, "protein": 4.0, "fibre": 2.0, "ethanol": 7.0, "sorbitol": 2.4}
_ENERGY_SPREAD = 0.08
_KJ_PER_KCAL = 4.184
_SODIUM_PER_SALT = 0.3934
#: Grams of lactose and of ash that come with a gram of milk protein, milk to cream: USDA SR Legacy, from memory.
_LACTOSE_PER_PROTEIN = (1.0, 1.65)
_ASH_PER_PROTEIN = (0.15, 0.26)
_MIDDLE_LACTOSE, _MIDDLE_ASH = 1.45, 0.21
#: Ash where nothing says how much: a third of a gram, more or less (estimate). [g/100 g]
_ASH = (0.0, 1.0)
#: The sugars of a kind where the pack does not say which. Estimates.
_SUGARS_OF: dict[str, dict[str, float]] = {
    "juice": {"sucrose": 0.3, "glucose": 0.3, "fructose": 0.4}, "fruit": {"sucrose": 0.3, "glucose": 0.3, "fructose": 0.4},
    "plant": {"sucrose": 0.5, "maltose": 0.5},
}  # fmt: skip
_FAT_OF = {"dairy": "milk_fat", "cocoa": "cocoa_butter"}
_SPECIFIC_VOLUME_ML_G = 1000.0 / c.DENSITY


@dataclass(frozen=True)
class Window:
    """A figure as stated: its middle, and the least and the most that round to it."""

    text: str
    middle: float
    low: float
    high: float


def window(text: str, coarsest: float = 0.0) -> Window:
    """What a figure on a pack may be before it was rounded, to its last digit or to steps of ``coarsest`` if those are larger.

    Raises BadDocument for what is no figure. “0” may be anything that rounds to nothing: up to half a step, and a trace up to half a unit.

    >>> window("5.2")
    Window(text='5.2', middle=5.2, low=5.15, high=5.25)
    """
    cleaned = re.sub(r"\s*(?:mg|g|kcal|kj)$", "", text.strip().lower().replace(",", "."))
    below = re.fullmatch(r"(?:<|less than|under)\s*(\d+(?:\.\d+)?)", cleaned)
    if below or cleaned in ("trace", "traces"):
        most = float(below.group(1)) if below else 0.5
        return Window(text, most / 2 if below else 0.0, 0.0, most)
    if not re.fullmatch(r"\d{1,7}(?:\.\d{1,4})?", cleaned):
        raise BadDocument("label", f"“{text.strip()[:40]}” is not a figure of a label.", "Write it as the pack does: 5, 5.2, <0.5.")
    decimals = len(cleaned.partition(".")[2])
    half = 0.5 * max(10.0**-decimals, coarsest)
    value = float(cleaned)
    return Window(text, value, max(value - half, 0.0), value + half)


def us_step(name: str, value: float) -> float:
    """To what a United States label rounds a figure (21 CFR 101.9, from memory)."""
    match name:
        case "energy_kcal":
            return 5.0 if value <= 50 else 10.0
        case "fat":
            return 0.5 if value < 5 else 1.0
        case "sodium_mg":
            return 5.0 if value <= 140 else 10.0
        case "carbohydrate" | "sugars" | "added_sugars" | "fibre" | "protein":
            return 1.0
        case _:
            return 0.0


@dataclass(frozen=True)
class Label:
    """A pack's figures as typed, and what they are stated for.

    ``per``: 100 g, 100 ml, or a serving of ``serving_g`` or ``serving_ml``. ``rules``: “as typed”, or “us”, whose
    labels round in steps and count fibre as carbohydrate.
    ``sugars_are`` splits what sugars there are (component → share); ``with_milk`` where milk is in it.
    """

    figures: Mapping[str, str]
    per: str = "100 g"
    serving_g: float | None = None
    serving_ml: float | None = None
    density_g_ml: float | None = None
    kind: str = "other"
    with_milk: bool = False
    sugars_are: Mapping[str, float] | None = None
    rules: str = "as typed"


@dataclass(frozen=True)
class Reading:
    """What a label comes to.

    ``composition_g_per_100g`` is the nearest to the middles; ``ranges`` the least and the most of each component and
    ``totals`` of what people ask for (sugars, fat, added sugars …), in grams per 100 g; both are hard bounds under the assumptions.
    """

    composition_g_per_100g: dict[str, float]
    ranges: dict[str, tuple[float, float]]
    totals: dict[str, tuple[float, float, float]]
    free_sugars_g_per_100g: float
    density_g_ml: tuple[float, float, float]
    assumptions: tuple[str, ...]
    says_little: tuple[str, ...]


@dataclass(frozen=True)
class _Row:
    """low·t ≤ a·y ≤ high·t, and a·y near middle·t."""

    name: str
    a: Floats
    low: float
    middle: float
    high: float
    assumed: bool = False


def read_label(label: Label) -> Reading:
    """Reconcile a label.

    Returns the composition, its ranges and what was assumed. Raises BadDocument for figures that
    are none, a basis without its size, and figures that cannot all be right, naming them.

    Range: foods that are water, sugars, fat, protein, fibre, salts, alcohol; acids are not on labels and count as other
    carbohydrate. Source: Regulation (EU) 1169/2011 for energy factors; milk's proportions USDA SR Legacy, from memory.
    """
    return Allowed(label).reading()


def _one(grams: float) -> str:
    """Grams as a sentence says them: one decimal below ten."""
    return f"{grams:.1f}" if grams < 10 else f"{grams:.0f}"


class Allowed:
    """Every composition that a label allows: y are mass fractions, t is one over the mass the label is stated for."""

    def __init__(self, label: Label) -> None:
        self.label = label
        self.assumptions: list[str] = []
        unknown = next((name for name in label.figures if name not in FIGURES), None)
        if unknown is not None:
            raise BadDocument(f"label.{unknown}", f"“{unknown}” is nothing a label states here.", f"Use: {', '.join(FIGURES)}.")
        if label.rules not in ("as typed", "us"):
            raise BadDocument("label.rules", f"“{label.rules}” are not rules known here.", "Use “as typed” or “us”.")
        self.windows = {name: self._window(name, text) for name, text in label.figures.items() if text.strip()}
        if not self.windows:
            raise BadDocument("label", "No figure was typed yet.", "Type what the pack says: sugars and fat at least.")
        self.by_volume = label.per == "100 ml" or (label.per == "serving" and label.serving_g is None)
        self.size = self._size()
        self.sugars = self._sugars()
        self.open = self._open_components()
        self.rows = [*self._stated(), *self._assumed()]

    def _window(self, name: str, text: str) -> Window:
        try:
            found = window(text)
        except BadDocument as error:
            raise BadDocument(f"label.{name}", error.message, error.remedy) from None
        return window(text, us_step(name, found.middle)) if self.label.rules == "us" and "<" not in text else found

    def _size(self) -> float:
        """Grams or millilitres the figures are for."""
        label = self.label
        if label.per in ("100 g", "100 ml"):
            return 100.0
        if label.per != "serving":
            raise BadDocument("label.per", f"“{label.per}” is not a basis.", "Use 100 g, 100 ml or serving.")
        size = label.serving_g or label.serving_ml
        if size is None or not 0 < size <= 5000:
            raise BadDocument("label.serving", "How large a serving is is missing.", "Give its grams or its millilitres, as the pack does.")
        return size

    def _sugars(self) -> dict[str, float]:
        given = self.label.sugars_are
        if given:
            bad = next((name for name, share in given.items() if name not in c.INDEX or not c.SUGARS[c.INDEX[name]] or share < 0), None)
            if bad is not None or sum(given.values()) <= 0:
                raise BadDocument("label.sugars_are", f"“{bad}” is not a sugar, or nothing is left.", "Name sugars with their shares.")
            return {name: share / sum(given.values()) for name, share in given.items() if share > 0}
        found = _SUGARS_OF.get(self.label.kind, {"sucrose": 1.0})
        if "sugars" in self.windows or "carbohydrate" in self.windows:
            named = " and ".join(f"{100 * share:.0f} % {name}" if len(found) > 1 else name for name, share in found.items())
            milk = " beside milk's lactose" if self.milk else ""
            self.assumptions.append(f"The sugars{milk} are taken for {named}: the pack does not say.")
        return found

    @cached_property
    def milk(self) -> bool:
        return self.label.with_milk or self.label.kind == "dairy"

    @property
    def fat(self) -> str:
        return _FAT_OF.get(self.label.kind, "milk_fat" if self.milk and self.label.kind == "other" else "other_fat")

    def _open_components(self) -> list[int]:
        names = {"water", self.fat, "protein", "salt", "other_ash", "insoluble", *self.sugars}
        names.add("starch" if "starch" in self.windows or self.label.kind in ("cocoa", "thickener") else "dextrin")
        if self.milk:
            names.add("lactose")
        if "alcohol_vol" in self.windows:
            names.add("ethanol")
        if "caffeine_mg" in self.windows:
            names.add("caffeine")
        return [i for i, name in enumerate(c.NAMES) if name in names]

    def _of(self, *names: str) -> Floats:
        a = np.zeros(c.COUNT)
        a[[c.INDEX[name] for name in names]] = 1.0
        return a

    def _stated(self) -> list[_Row]:
        """A row for every figure, in grams for the size the label is for."""
        sugars = c.SUGARS
        carbohydrate = sugars + self._of("dextrin", "starch", "other_soluble_carbohydrate")
        fibre = self._of("insoluble", "pectin_and_gums")
        if self.label.rules == "us":
            carbohydrate = carbohydrate + fibre
        energy = (
            _KCAL["fat"] * c.FAT + _KCAL["carbohydrate"] * (sugars + self._of("dextrin", "starch", "other_soluble_carbohydrate"))
            + _KCAL["protein"] * self._of("protein") + _KCAL["fibre"] * fibre + _KCAL["ethanol"] * self._of("ethanol")
            + _KCAL["sorbitol"] * self._of("sorbitol")
        )  # fmt: skip
        of: dict[str, tuple[Floats, float]] = {
            "fat": (c.FAT, 1.0), "carbohydrate": (carbohydrate, 1.0), "sugars": (sugars, 1.0), "added_sugars": (sugars - self._of("lactose"), 1.0),
            "starch": (self._of("starch"), 1.0), "fibre": (fibre, 1.0), "protein": (self._of("protein"), 1.0), "water": (self._of("water"), 1.0),
            "salt": (self._of("salt"), 1.0), "sodium_mg": (self._of("salt"), 1e-3 / _SODIUM_PER_SALT), "caffeine_mg": (self._of("caffeine"), 1e-3),
            "alcohol_vol": (self._of("ethanol"), 0.789 * self.size / 100), "energy_kcal": (energy, 1.0), "energy_kj": (energy, 1 / _KJ_PER_KCAL),
        }  # fmt: skip
        rows = []
        for name, stated in self.windows.items():
            a, factor = of[name]
            loose = 1 + _ENERGY_SPREAD if name.startswith("energy") else 1.0
            rows.append(_Row(name, a, stated.low * factor / loose, stated.middle * factor, stated.high * factor * loose))
        return rows

    def _assumed(self) -> list[_Row]:
        """What stands in for what a label leaves out."""
        rows: list[_Row] = []
        nothing = "the pack does not state it"
        protein, ash = self._of("protein"), self._of("other_ash")
        inf = float("inf")
        for name, figure, words in (
            (self.fat, "fat", "fat"), ("protein", "protein", "protein"), ("insoluble", "fibre", "fibre"),
        ):  # fmt: skip
            if figure not in self.windows:
                rows.append(_Row(figure, self._of(name), 0.0, 0.0, 0.005 * self.size, assumed=True))
                self.assumptions.append(f"No {words} to speak of: {nothing}.")
        if "salt" not in self.windows and "sodium_mg" not in self.windows:
            rows.append(_Row("salt", self._of("salt"), 0.0, 0.0, 0.002 * self.size, assumed=True))
        if self.milk:
            low, high = _LACTOSE_PER_PROTEIN
            rows.append(_Row("lactose", self._of("lactose") - low * protein, 0.0, 0.0, inf, assumed=True))
            rows.append(_Row("lactose", high * protein - self._of("lactose"), 0.0, 0.0, inf, assumed=True))
            rows.append(_Row("milk", self._of("lactose") - _MIDDLE_LACTOSE * protein, -inf, 0.0, inf, assumed=True))
            rows.append(_Row("ash", ash - _ASH_PER_PROTEIN[0] * protein, 0.0, 0.0, inf, assumed=True))
            rows.append(_Row("ash", _ASH_PER_PROTEIN[1] * protein - ash, 0.0, 0.0, inf, assumed=True))
            rows.append(_Row("milk", ash - _MIDDLE_ASH * protein, -inf, 0.0, inf, assumed=True))
            self.assumptions.append(
                f"All protein is milk's, with {_LACTOSE_PER_PROTEIN[0]:g} to {_LACTOSE_PER_PROTEIN[1]:g} g of lactose a gram; "
                "what other sugars there are was added."
            )
        else:
            rows.append(_Row("ash", ash, _ASH[0] / 100 * self.size, 0.3 / 100 * self.size, _ASH[1] / 100 * self.size, assumed=True))
        if "sugars" in self.windows and "carbohydrate" not in self.windows and "starch" not in self.windows:
            rows.append(_Row("other", self._of("dextrin"), 0.0, 0.0, 0.02 * self.size, assumed=True))
            self.assumptions.append(f"Carbohydrate that is not sugar: none to speak of, {nothing}.")
        if "sugars" not in self.windows:
            self.assumptions.append("Sugars are not stated: anything up to all of the carbohydrate.")
        first, *others = self.sugars
        for other in others:  # the sugars keep their shares
            a = self.sugars[first] * self._of(other) - self.sugars[other] * self._of(first)
            rows.append(_Row("sugars_are", a, 0.0, 0.0, 0.0, assumed=True))
        if self.by_volume:
            ml = _SPECIFIC_VOLUME_ML_G.copy()
            rows.append(_Row("volume", ml, self.size * 0.995, self.size, self.size * 1.005, assumed=True))
            if self.label.density_g_ml is not None:
                grams = self.size * self.label.density_g_ml
                rows.append(_Row("density", np.ones(c.COUNT), grams * 0.995, grams, grams * 1.005))
            else:
                self.assumptions.append("Grams per millilitre follow from what is in it: volumes add up, within half a percent.")
        return rows

    # -- the program -----------------------------------------------------------------------------------------------

    def _program(self, objective: Floats, rows: Sequence[_Row], *, near: bool = False) -> tuple[Floats, float] | None:
        """Least of objective·y over what the rows allow, or with ``near`` the y nearest their middles. None where nothing fits."""
        from scipy.optimize import linprog  # half a second of importing, for who solves nothing

        n = len(self.open)
        slack = len(rows) if near else 0
        upper, limits = [], []
        for index, row in enumerate(rows):
            a = row.a[self.open]
            pad = np.zeros(slack)
            for sign, bound in ((1.0, row.high), (-1.0, row.low)):
                if np.isfinite(bound):
                    upper.append(np.concatenate([sign * a, [-sign * bound], pad]))
                    limits.append(0.0)
            if near:
                weight = 1 / max((row.high - row.low) / 2 if np.isfinite(row.high - row.low) else 0.02 * self.size, 1e-3 * self.size)
                scaled = a * weight * (0.1 if row.assumed else 1.0)
                middle = row.middle * weight * (0.1 if row.assumed else 1.0)
                miss = pad.copy()
                miss[index] = -1.0
                for sign in (1.0, -1.0):
                    upper.append(np.concatenate([sign * scaled, [-sign * middle], miss]))
                    limits.append(0.0)
        equal = [np.concatenate([np.ones(n), [0.0], np.zeros(slack)])]
        exactly = [1.0]
        if not self.by_volume:
            equal.append(np.concatenate([np.zeros(n), [1.0], np.zeros(slack)]))
            exactly.append(1 / self.size)
        cost = np.concatenate([np.zeros(n + 1), np.ones(slack)]) if near else np.concatenate([objective[self.open], [0.0]])
        found = linprog(cost, A_ub=np.array(upper), b_ub=np.array(limits), A_eq=np.array(equal), b_eq=np.array(exactly), bounds=(0, None))
        if found.status != 0:
            return None
        y = np.zeros(c.COUNT)
        y[self.open] = found.x[:n]
        return y, float(found.x[n])

    def _range(self, a: Floats) -> tuple[float, float]:
        ends = []
        for sign in (1.0, -1.0):
            found = self._program(sign * a, self.rows)
            assert found is not None  # what is nearest exists, so the ends do
            ends.append(100 * float(a @ found[0]))
        return ends[0], ends[1]

    @cached_property
    def nearest(self) -> Floats:
        """The composition nearest the middles, mass fractions (C,). Raises BadDocument where the figures cannot all be right."""
        found = self._program(np.zeros(c.COUNT), self.rows, near=True)
        if found is None:
            raise self._contradiction()
        return np.asarray(found[0] / found[0].sum())

    def farthest(self, direction: Floats) -> Floats:
        """The allowed composition that lies farthest in a direction (C,)."""
        found = self._program(-direction, self.rows)
        return self.nearest if found is None else np.asarray(found[0] / found[0].sum())

    def reading(self) -> Reading:
        y = self.nearest
        ranges = {c.NAMES[i]: self._range(self._of(c.NAMES[i])) for i in self.open}
        asked: dict[str, Floats] = {"sugars": c.SUGARS, "added_sugars": c.SUGARS - self._of("lactose"), "fat": c.FAT, "water": self._of("water")}
        totals = {name: (self._range(a)[0], 100 * float(a @ y), self._range(a)[1]) for name, a in asked.items()}
        return Reading(
            composition_g_per_100g={c.NAMES[i]: round(100 * float(y[i]), 4) for i in self.open if y[i] > 1e-7},
            ranges={name: (max(low, 0.0), high) for name, (low, high) in ranges.items() if high > 1e-6},
            totals=totals,
            free_sugars_g_per_100g=round(totals["added_sugars"][1], 4),
            density_g_ml=self._density(y),
            assumptions=tuple(self.assumptions),
            says_little=tuple(self._says_little(totals)),
        )

    def _density(self, y: Floats) -> tuple[float, float, float]:
        """Grams a millilitre: least, most likely, most."""
        ml = _SPECIFIC_VOLUME_ML_G
        volumes = [found[0] @ ml for sign in (1.0, -1.0) if (found := self._program(sign * ml, self.rows)) is not None]
        return 1 / float(max(volumes)), 1 / float(ml @ y), 1 / float(min(volumes))

    def _says_little(self, totals: Mapping[str, tuple[float, float, float]]) -> list[str]:
        """How little some figures say: where rounding leaves more than a tenth open."""
        found = []
        for name in ("sugars", "fat"):
            low, middle, high = totals[name]
            if name in self.windows and middle > 1 and high - low > 0.1 * middle:
                stated = self.windows[name]
                size = f"{shown(self.size)} {'ml' if self.by_volume else 'g'}"
                found.append(
                    f"“{stated.text.strip()} g” of {name} in {size} is anything from {shown(round(stated.low, 2))} to {shown(round(stated.high, 2))} "
                    f"g: {_one(low)} to {_one(high)} g in 100 g. A pack that states 100 g, or a larger serving, says more."
                )
        return found

    def _contradiction(self) -> BadDocument:
        """Which figures cannot all be right: those without any one of which the rest fit."""
        guilty = [
            row.name for row in self.rows
            if not row.assumed and self._program(np.zeros(c.COUNT), [other for other in self.rows if other is not row], near=True) is not None
        ]  # fmt: skip
        titles = list(dict.fromkeys(_TITLES.get(name, name) for name in guilty))
        if not titles:
            return BadDocument(
                "label", "These figures cannot all be right, and more than one is to blame.", "Check them against the pack, one by one."
            )
        listed = titles[0] if len(titles) == 1 else f"{', '.join(titles[:-1])} and {titles[-1]}"
        return BadDocument(
            f"label.{guilty[0]}", f"These figures cannot all be right: without any one of {listed} the rest would fit." if len(titles) > 1
            else f"The figure for {listed} does not fit the rest.", "Check it against the pack, and what the figures are stated for.",
        )  # fmt: skip
