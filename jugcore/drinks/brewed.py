"""Coffee and tea as they run into the cup, by what was put into the brewer, and how far that can be off."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from jugcore import components as c
from jugcore.drinks.document import BrewDoc, ComponentDoc
from jugcore.errors import BadDocument
from jugcore.figures import Floats
from jugcore.matter.substance import Substance

#: Caffeine of a cup against what the tables say of its kind: beans, leaves and brewers differ. Estimate.
CAFFEINE_OFF = 0.3
#: Of what is dry, the share of its caffeine that comes out: least, likely, most. Estimates from brewing texts, from memory.
_CAFFEINE_OUT = (0.75, 0.9, 1.0)
#: Of what is dry, the share of it that dissolves in a brew: least, likely, most (common practice, no source: 18 to 22 % for coffee).
_EXTRACTED = {"coffee": (0.17, 0.20, 0.23), "tea": (0.20, 0.27, 0.34)}
_DRY_BELOW = 0.2
#: What runs into the cup; the rest stays in the filter.
_RUNS = np.array([name not in ("insoluble", "starch") for name in c.NAMES])


@dataclass(frozen=True)
class Doubt:
    """Figures of a substance that go together: component → least, likely, most [g/100 g]."""

    why: str
    figures: dict[str, tuple[float, float, float]]


def is_dry(book: Substance) -> bool:
    """Whether coffee or tea is as bought, and not yet in water."""
    return book.kind in ("coffee", "tea") and float(book.mass_fraction[c.WATER]) < _DRY_BELOW


def brewed(component: ComponentDoc, book: Substance, key: str) -> tuple[Substance, Doubt | None]:
    """What pours of a component, and what about it is a range; the substance itself where nothing of it is.

    Parameters: the component; its substance; the id of what pours. Formula: of what is dry, dissolved solids as given, else the share
    that brewing usually takes out ÷ grams out per gram in; caffeine = its content × share that comes out ÷ grams out per gram in.
    Range: coffee and tea. Source: mass balance; shares are estimates. Accuracy: the range it states.
    Raises BadDocument where coffee or tea is dry and nobody said how much pours for a gram, or it would be more than it is made of.
    """
    brew = component.brew
    where = f"components.{component.id}.brew"
    if brew is None:
        if is_dry(book) and component.role in ("coffee", "tea"):
            raise BadDocument(
                where, f"{book.title} is dry: how much pours for a gram of it is not said.", "Say grams out per gram in, 2 for espresso."
            )
        return book, _usual(book)
    solids, caffeine = (_of_dry if is_dry(book) else _of_brewed)(book, brew)
    if solids[2] > 100 or caffeine[0] > solids[0] + 1e-9:
        raise BadDocument(f"{where}.dissolved", f"{solids[2]:g} % cannot be dissolved in it.", "Espresso has 8 to 12 %, filter coffee 1.1 to 1.5 %.")
    rest = tuple(max(s - f, 0.0) for s, f in zip(solids, caffeine, strict=True))
    profile = np.where(_RUNS, book.mass_fraction, 0.0)
    profile[c.WATER] = profile[_CAFFEINE] = 0.0
    profile = profile / profile.sum() if profile.sum() > 0 else _plain()
    fraction = profile * rest[1] / 100
    fraction[_CAFFEINE] = caffeine[1] / 100
    fraction[c.WATER] = 1.0 - fraction.sum()
    figures = {name: tuple(100 * float(profile[c.INDEX[name]]) * each / 100 for each in rest) for name in c.NAMES if profile[c.INDEX[name]] > 0}
    figures["caffeine"] = caffeine
    price = None if book.price_per_kg is None else book.price_per_kg / (brew.out_per_in if is_dry(book) else 1.0)
    poured = replace(
        book, id=key, mass_fraction=fraction, density_g_ml=1.0, density_spread=0.02, is_ground=False, other_form="", pieces={}, strength=None,
        price_per_kg=price, contributions=replace(book.contributions, sweetness=None), basis="estimate", of=book.of or book.id,
    )  # fmt: skip
    return poured, Doubt(f"how strong {book.title.lower()} comes out", {name: (a, b, d) for name, (a, b, d) in figures.items()})


_CAFFEINE = c.INDEX["caffeine"]


def _plain() -> Floats:
    found = np.zeros(c.COUNT)
    found[c.INDEX["other_soluble_carbohydrate"]] = 1.0
    return found


def _usual(book: Substance) -> Doubt | None:
    """Of what is bought as it pours, or made here, only the caffeine is a range."""
    likely = 100 * float(book.mass_fraction[_CAFFEINE])
    if likely <= 0:
        return None
    return Doubt("its caffeine", {"caffeine": ((1 - CAFFEINE_OFF) * likely, likely, (1 + CAFFEINE_OFF) * likely)})


def _of_dry(book: Substance, brew: BrewDoc) -> tuple[tuple[float, float, float], tuple[float, float, float]]:
    """Dissolved solids and caffeine of what pours, least, likely, most [g/100 g]."""
    out = brew.out_per_in
    shares = _EXTRACTED.get(book.kind, _EXTRACTED["coffee"])
    low, likely, high = (100 * share / out for share in shares)
    solids = (low, likely, high) if brew.dissolved is None else (brew.dissolved.low, brew.dissolved.likely, brew.dissolved.high)
    holds = 100 * float(book.mass_fraction[_CAFFEINE])
    if brew.caffeine_mg_g is not None:
        said = brew.caffeine_mg_g
        return solids, (said.low / 10 / out, said.likely / 10 / out, said.high / 10 / out)
    a, b, d = (holds * share / out for share in _CAFFEINE_OUT)
    return solids, ((1 - CAFFEINE_OFF) * a, b, (1 + CAFFEINE_OFF) * d)


def _of_brewed(book: Substance, brew: BrewDoc) -> tuple[tuple[float, float, float], tuple[float, float, float]]:
    holds = 100 * float(book.mass_fraction[_CAFFEINE])
    known = 100 * (1.0 - float(book.mass_fraction[c.WATER]))
    solids = (known, known, known) if brew.dissolved is None else (brew.dissolved.low, brew.dissolved.likely, brew.dissolved.high)
    if brew.caffeine_mg_g is not None:
        said = brew.caffeine_mg_g
        return solids, (said.low / 10 / brew.out_per_in, said.likely / 10 / brew.out_per_in, said.high / 10 / brew.out_per_in)
    a, b, d = (holds * each / known if known > 0 else holds for each in solids)
    return solids, ((1 - CAFFEINE_OFF) * a, b, (1 + CAFFEINE_OFF) * d)
