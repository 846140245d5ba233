"""What a gram of a version takes, read off its walk: what is weighed in, not what stays in the product."""

from __future__ import annotations

from collections.abc import Sequence

from pydantic import BaseModel

from jugcore.method.compile import compile_document
from jugcore.method.document import MethodDocument
from jugcore.money.packs import needs_of
from jugcore.planning.needs.report import RecipeDoc
from jugcore.reading.equipment.pots import in_its_pots


class RecipesReport(BaseModel):
    """Recipes by product; ``titles`` of what is bought; products whose walk gives nothing are left out."""

    recipes: list[RecipeDoc]
    titles: dict[str, str]


def recipes_of(versions: Sequence[tuple[str, MethodDocument]]) -> RecipesReport:
    """What a gram of each product takes. ``versions`` are ids of products with frozen documents."""
    found: list[RecipeDoc] = []
    titles: dict[str, str] = {}
    for product, document in versions:
        walked = in_its_pots(compile_document(document))
        total = float(walked.product.total_g[0])
        if not total > 0:
            continue
        bought, made = needs_of(walked)
        titles |= {id: book.title for id, (book, _) in bought.items()}
        inner: dict[str, float] = {}
        for each in made:
            inner[each.formula] = inner.get(each.formula, 0.0) + each.needs_g / total
        found.append(RecipeDoc(product=product, products=inner, bought={id: grams / total for id, (_, grams) in bought.items()}))
    return RecipesReport(recipes=found, titles=titles)
