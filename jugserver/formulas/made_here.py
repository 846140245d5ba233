"""Versions of formulas as ingredients of others: kept as such, where they stand, and that none stands in itself."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from uuid import UUID

from django.db.models import Max

from jugcore.errors import BadDocument
from jugcore.matter.substance import MADE, Used
from jugcore.matter.substance_document import MadeDoc, SubstanceDoc, as_document, says_all
from jugcore.method.compile import compile_document
from jugcore.method.load_document import load_document
from jugcore.method.method import Method
from jugcore.method.walk import Walk, walk
from jugcore.reading.carried import carried
from jugcore.reading.schema import MadeHereReport
from jugcore.reading.substance_from_walk import substance_from_walk
from jugserver.accounts.models import Site, User
from jugserver.formulas.models import Formula, FormulaState, Version, VersionPart
from jugserver.formulas.schemas import UsedInOut
from jugserver.pantry.models import Ingredient
from jugserver.pantry.services import add_to_made_here, keep_made_here


def made_key(formula: UUID | str, number: int) -> str:
    """What documents call a version as an ingredient."""
    return f"made-{formula}-{number}"


def keep_as_ingredient(actor: User, version: Version, walked: Walk) -> None:
    """Have a version among the ingredients, as its walk gave it."""
    name = version.formula.name
    key = made_key(version.formula_id, version.number)
    used = Used(str(version.formula_id), version.number, name, version.fingerprint)
    keep_made_here(actor=actor, key=key, document=as_document(substance_from_walk(walked, used, key)))


def keep_parts(version: Version, walked: Walk) -> None:
    """Have it known what of ours stands in a version: a row each."""
    total = float(walked.product.total_g[0])
    weighed = carried(walked).get(walked.method.product, {})
    grams: dict[tuple[str, int], float] = {}
    for line, in_it in weighed.items():
        made = walked.method.substances[walked.method.lines[line].substance].made
        if made is not None:
            used = made.version.formula, made.version.version
            grams[used] = grams.get(used, 0.0) + float(in_it[0]) / total
    found = {(str(each.formula_id), each.number): each for each in _versions(grams, version.formula.site)}
    VersionPart.objects.bulk_create(
        VersionPart(version=version, uses=found[used], grams_per_g=each) for used, each in grams.items() if used in found
    )  # fmt: skip


def _versions(used: Iterable[tuple[str, int]], site: Site) -> Sequence[Version]:
    wanted = set(used)
    rows = Version.objects.filter(formula__site=site, formula__in={UUID(formula) for formula, _ in wanted}).only("id", "formula_id", "number")
    return [row for row in rows if (str(row.formula_id), row.number) in wanted]


def refuse_circle(formula: Formula, method: Method) -> None:
    """Raise BadDocument at the line through which a formula would stand in itself, with the names of all on the way."""
    own = str(formula.pk)
    for id, line in method.lines.items():
        made = method.substances[line.substance].made
        if made is None or all(used.formula != own for used in (made.version, *made.uses)):
            continue
        way = [formula.name, *_way_to(own, made.version)]
        words = f"{made.version.name} goes into itself" if len(way) == 2 else f"{made.version.name} is made with {formula.name} itself"
        raise BadDocument(
            f"lines.{id}.substance", f"{words}: {' from '.join(way)}.",
            "Take something else for this line, or take the other out where it stands.",
        )  # fmt: skip


def _way_to(own: str, used: Used) -> list[str]:
    """Names from something used down to a formula that stands in it."""
    if used.formula == own:
        return [used.name]
    parts = VersionPart.objects.filter(version__formula=UUID(used.formula), version__number=used.version).select_related("uses__formula")
    for part in parts:
        below = _way_to(own, Used(str(part.uses.formula_id), part.uses.number, part.uses.formula.name, ""))
        if below:
            return [used.name, *below]
    return []


def with_newest(site: Site, lines: Sequence[MadeHereReport]) -> None:
    """Say of each line of ours which version is the newest, where it is pinned to another."""
    if not lines:
        return
    formulas = {UUID(line.formula) for line in lines}
    newest: dict[UUID, int] = dict(Version.objects.filter(formula__site=site, formula__in=formulas).values_list("formula").annotate(Max("number")))
    for line in lines:
        number = newest.get(UUID(line.formula))
        if number is not None and number > line.version:
            line.newest, line.newest_substance = number, made_key(line.formula, number)


def used_in(site: Site, formula: UUID) -> list[UsedInOut]:
    """Where any version of a formula stands: in the newest versions of others, and in their drafts."""
    found: dict[tuple[UUID, int | None], UsedInOut] = {}
    parts = VersionPart.objects.filter(uses__formula=formula, version__formula__in=Formula.objects.of_site(site))
    parts = parts.select_related("version__formula", "uses").order_by("version__formula__name", "-version__number")
    for part in parts:
        key = part.version.formula_id, part.version.number
        found[key] = UsedInOut(formula=key[0], name=part.version.formula.name, version=key[1], uses=part.uses.number, grams_per_g=part.grams_per_g)
    numbers = Version.objects.filter(formula=formula).values_list("number", flat=True)
    keys = {made_key(formula, number): number for number in numbers}
    states = FormulaState.objects.filter(site=site, archived=False, uses__overlap=list(keys)).order_by("name").values_list("formula", "name", "uses")
    drafts = [
        UsedInOut(formula=pk, name=name, version=None, uses=max(keys[key] for key in uses if key in keys), grams_per_g=None)
        for pk, name, uses in states
    ]
    return [*drafts, *found.values()]


def catch_up() -> None:
    """Have every version among the ingredients that was saved before versions were, and with each what was not written down of it then."""
    made = Ingredient.objects.filter(kind=MADE)
    there = set(made.values_list("site", "key"))
    whole = {(site, key) for site, key, document in made.values_list("site", "key", "document") if says_all(SubstanceDoc.model_validate(document))}
    for version in Version.objects.select_related("formula__site", "saved_by").order_by("id"):
        key = version.formula.site_id, made_key(version.formula_id, version.number)
        if key in whole:
            continue
        walked = walk(compile_document(load_document(version.document)))
        if not float(walked.product.total_g[0]) > 0:
            continue
        if key in there:
            add_to_made_here(site=version.formula.site, key=key[1], made=_made_of(version, walked))
        else:
            keep_as_ingredient(version.saved_by, version, walked)


def _made_of(version: Version, walked: Walk) -> MadeDoc:
    used = Used(str(version.formula_id), version.number, version.formula.name, version.fingerprint)
    made = as_document(substance_from_walk(walked, used, "as-made")).made_from
    assert made is not None
    return made
