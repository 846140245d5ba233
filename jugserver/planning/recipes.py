"""Which version of each product is made, and what a gram of it takes."""

from __future__ import annotations

from collections.abc import Iterable
from uuid import UUID

from django.db.models import OuterRef, Subquery

from jugcore import __version__
from jugcore.method.load_document import load_document
from jugcore.planning.needs.of_versions import RecipesReport, recipes_of
from jugcore.planning.needs.report import RecipeDoc
from jugserver.accounts.models import Site, User
from jugserver.computing.pool import work_out
from jugserver.formulas.models import Formula, Readiness, Version
from jugserver.planning.models import VersionRecipe

#: Products within products.
_DEEPEST = 12


def made_now(site: Site, formulas: Iterable[UUID]) -> dict[UUID, Version]:
    """The version of each formula that is made now: the newest that is ready for service, else the newest. Documents are left out."""
    said = Readiness.objects.filter(version=OuterRef("pk")).order_by("-id")
    rows = Version.objects.filter(formula__in=Formula.objects.of_site(site).filter(pk__in=list(formulas)))
    rows = rows.annotate(may_be_served=Subquery(said.values("ready")[:1])).defer("document").select_related("formula").order_by("number")
    found: dict[UUID, tuple[bool, Version]] = {}
    for row in rows:
        ready = bool(row.may_be_served)
        if row.formula_id not in found or ready >= found[row.formula_id][0]:
            found[row.formula_id] = ready, row
    return {formula: version for formula, (_, version) in found.items()}


def recipes_for(actor: User, site: Site, formulas: Iterable[UUID]) -> tuple[dict[UUID, Version], list[RecipeDoc], dict[str, str]]:
    """(versions, recipes, titles of what is bought) of formulas and of all that goes into them."""
    versions: dict[UUID, Version] = {}
    recipes: dict[UUID, RecipeDoc] = {}
    titles: dict[str, str] = {}
    wanted = set(formulas)
    for _ in range(_DEEPEST):
        if not wanted:
            break
        new = made_now(site, wanted)
        versions |= new
        for formula, row in _recipes(actor, new).items():
            titles |= row.titles
            if row.recipe is not None:
                recipes[formula] = RecipeDoc.model_validate(row.recipe)
        inner = {UUID(id) for recipe in recipes.values() for id in recipe.products}
        wanted = inner - set(versions)
    return versions, list(recipes.values()), titles


def _recipes(actor: User, versions: dict[UUID, Version]) -> dict[UUID, VersionRecipe]:
    """Recipes of versions, those that this release has not read worked out and kept."""
    there = {row.version_id: row for row in VersionRecipe.objects.filter(version__in=versions.values(), core_version=__version__)}
    missing = [version for version in versions.values() if version.pk not in there]
    if missing:
        documents = dict(Version.objects.filter(pk__in=[version.pk for version in missing]).values_list("pk", "document"))
        asked = [(str(version.formula_id), load_document(documents[version.pk])) for version in missing]
        report = RecipesReport.model_validate_json(work_out(actor.pk, recipes_of, asked))
        found = {each.product: each for each in report.recipes}
        for version in missing:
            recipe = found.get(str(version.formula_id))
            titles = {id: report.titles[id] for id in recipe.bought} if recipe is not None else {}
            kept = {"core_version": __version__, "recipe": None if recipe is None else recipe.model_dump(mode="json"), "titles": titles}
            there[version.pk], _ = VersionRecipe.objects.update_or_create(version=version, defaults=kept)
    return {formula: there[version.pk] for formula, version in versions.items()}
