"""What was made here as it is today: pinned in what it is made of, with the prices of now and what was found out since."""

from __future__ import annotations

from collections.abc import Collection, Mapping
from dataclasses import dataclass

from jugcore.matter.substance import EU_ALLERGENS
from jugcore.matter.substance_document import SubstanceDoc


@dataclass(frozen=True)
class Today:
    """An ingredient as a pantry has it now."""

    price_per_kg: float | None
    allergens: Collection[str] = ()


def as_of_today(document: SubstanceDoc, today: Mapping[str, Today]) -> SubstanceDoc:
    """Something made here by today's prices of its ingredients. An allergen they were found to have since counts at once; none is taken away.

    ``today`` is by ingredient; what it does not name stays as it was. What was not made here is given back as it is.
    """
    made = document.made_from
    if made is None:
        return document
    contents, found = [], set(document.allergens)
    for each in made.contents:
        now = today.get(each.substance)
        if now is not None:
            both = _in_order({*each.facts.allergens, *now.allergens})
            found |= set(both)
            facts = each.facts.model_copy(update={"price_per_kg": now.price_per_kg, "allergens": both})
            each = each.model_copy(update={"facts": facts})
        contents.append(each)
    return document.model_copy(
        update={
            "made_from": made.model_copy(update={"contents": tuple(contents)}),
            "allergens": _in_order(found),
            "check_pack_for": tuple(allergen for allergen in document.check_pack_for if allergen not in found),
        }
    )


def _in_order(allergens: Collection[str]) -> tuple[str, ...]:
    return tuple(allergen for allergen in EU_ALLERGENS if allergen in allergens)
