"""What changed, what to choose, what to buy: asked of the core with what a site pays and has written down. Nothing here is kept."""

from __future__ import annotations

from collections.abc import Sequence

from jugcore.drinks.document import load_drink
from jugcore.drinks.drink_money import counted_in
from jugcore.drinks.money_schema import InDrinkOut, in_drink_out, price_changes_report
from jugcore.errors import BadDocument
from jugcore.matter.substance_document import SubstanceDoc
from jugcore.method.document import MethodDocument
from jugcore.method.label_document import label_report
from jugcore.method.load_document import load_document
from jugcore.money.make_or_buy import Pack as BoughtPack
from jugcore.money.packs import PackOf
from jugcore.money.schema import PurchasesReport, choices_out, make_or_buy_report, purchases_report
from jugcore.money.side_by_side import Choice, choice_bought, choice_made, scored
from jugcore.reading.equipment.pots import in_its_pots
from jugcore.tasting.sheet import BenchmarkDoc
from jugserver.accounts import policies
from jugserver.accounts.models import Site, User
from jugserver.computing.pool import work_out
from jugserver.drinks.pouring import in_pantry
from jugserver.drinks.served import served_versions
from jugserver.drinks.services import drink_of
from jugserver.formulas.compiling import compiled
from jugserver.formulas.models import Formula, Version
from jugserver.formulas.services import formula_of
from jugserver.money.schemas import ChoiceIn, MakeOrBuyIn, PacksIn, SideBySideIn, SideBySideOut
from jugserver.pantry.models import Pack
from jugserver.pantry.pantry_overlay import today_of
from jugserver.stock.rates import made_in, rates_of
from jugserver.tastings.models import Benchmark
from jugserver.tastings.services import benchmark_of


def _site_of(actor: User, what: str) -> Site:
    policies.require(actor, what)
    assert actor.site is not None  # the policies refuse people without one
    return actor.site


def changes_of(*, actor: User) -> str:
    """What prices have changed since versions were kept: of drinks that are served, and of the newest version of every formula."""
    site = _site_of(actor, "read")
    drinks = [(each, load_drink(each.document)) for each in served_versions(site)]
    formulas = [(each, load_document(each.document)) for each in _newest_versions(site)]
    keys = {key for _, document in drinks for key in _bought_in(document.substances)}
    keys |= {key for _, kept in formulas for key in _bought_in(kept.substances)}
    today = today_of(site, keys)
    rates = rates_of(site, {formula for _, document in drinks for formula in made_in(document.substances)})
    return work_out(
        actor.pk, price_changes_report,
        [(each.drink_id, each.drink.name, each.number, document) for each, document in drinks],
        [(each.formula_id, each.formula.name, each.number, kept) for each, kept in formulas], today, rates,
    )  # fmt: skip


def _newest_versions(site: Site) -> Sequence[Version]:
    """The newest version of every formula of a site that has one."""
    rows = Version.objects.filter(formula__in=Formula.objects.of_site(site)).order_by("formula_id", "-number").distinct("formula_id")
    return list(rows.select_related("formula"))


def _bought_in(substances: dict[str, SubstanceDoc]) -> set[str]:
    """Ids of what is bought in what a version carries, through what was made here."""
    found = {document.of or id for id, document in substances.items() if document.made_from is None}
    return found | {each.substance for document in substances.values() if document.made_from for each in document.made_from.contents}


def side_by_side(*, actor: User, asked: SideBySideIn) -> SideBySideOut:
    """Formulas and bought packs side by side, and what a drink costs with each in the place of one component."""
    site = _site_of(actor, "walk")
    scores = _scores(site)
    choices = [_choice(site, each, scores, number) for number, each in enumerate(asked.choices)]
    in_drink: list[InDrinkOut] = []
    missing: list[str] = []
    sizes, words = [], ""
    if asked.drink is not None:
        drink = in_pantry([drink_of(site, asked.drink.id).document], site)[0]
        ours = [str(each.id) if each.kind == "formula" else None for each in asked.choices]
        reference = counted_in(drink, asked.drink.component, ours)
        doses = [(each.id, each.per_dose[1] if each.per_dose else None) for each in choices]
        in_drink, missing = in_drink_out(drink, asked.drink.component, asked.choices[reference].dose, doses)
        sizes = [size.name for size in drink.sizes]
        of = choices[reference]
        words = f"In the drink {asked.choices[reference].dose:g} {of.dose_unit} of {of.title} are one dose; what stands in its place takes as many."
    return SideBySideOut(choices=choices_out(choices), sizes=sizes, in_drink=in_drink, drink_words=words, drink_missing=missing)


def _choice(site: Site, asked: ChoiceIn, scores: dict[str, list[float]], number: int) -> Choice:
    id = str(asked.id)
    if asked.kind == "formula":
        formula = formula_of(site, asked.id)
        walked = in_its_pots(compiled(formula.document, site))
        rates = rates_of(site, {*made_in(walked.method.document.substances), id})
        made = choice_made(id, formula.name, walked, rates, asked.dose, id)
        return scored(made, scores.get(id, []))
    document = benchmark_of(site, asked.id).document
    if document.pack is None:
        raise BadDocument(f"choices.{number}.id", f"Nobody wrote down in what pack {document.name} is bought.", "Enter it with the benchmark.")
    label = label_report(document.label) if document.label is not None and document.label.figures else None
    density = sugars = None
    if label is not None:
        density = label.density_g_ml.low, label.density_g_ml.likely, label.density_g_ml.high
        known = label.totals["sugars"]
        sugars = known.low, known.likely, known.high
    bought = choice_bought(
        id, document.name, size=document.pack.size, unit=document.pack.unit, price=document.pack.price, dose=asked.dose, density_g_ml=density,
        sugars_100g=sugars,
    )  # fmt: skip
    return scored(bought, [sheet.score for sheet in document.sheets if sheet.score is not None])


def _scores(site: Site) -> dict[str, list[float]]:
    """What tasters gave our own, by formula: of what was written down as a version of it."""
    found: dict[str, list[float]] = {}
    for raw in Benchmark.objects.of_site(site).values_list("document", flat=True):
        document = BenchmarkDoc.model_validate(raw)
        if document.version is not None:
            found.setdefault(document.version.formula.lower(), []).extend(sheet.score for sheet in document.sheets if sheet.score is not None)
    return found


def make_or_buy(*, actor: User, asked: MakeOrBuyIn) -> str:
    """A formula against a bought pack, over the size of the batch."""
    site = _site_of(actor, "walk")
    document = benchmark_of(site, asked.benchmark).document
    if document.pack is None or document.pack.price is None:
        raise BadDocument("benchmark", f"Nobody wrote down what {document.name} costs.", "Enter its pack and the price with the benchmark.")
    pack = BoughtPack(document.pack.size, document.pack.unit, document.pack.price, asked.dose)
    method = compiled(formula_of(site, asked.formula).document, site)
    rates = rates_of(site, {*made_in(method.document.substances), str(asked.formula)})
    return work_out(actor.pk, make_or_buy_report, method, rates, asked.dose_g, pack, str(asked.formula))


def packs_for(*, actor: User, asked: PacksIn) -> PurchasesReport:
    """What to buy for a document in whole packs."""
    site = _site_of(actor, "walk")
    walked = in_its_pots(compiled(asked.document, site))
    return purchases_report(walked, packs_of(site, asked.document), asked.again_in_days)


def packs_of(site: Site, document: MethodDocument) -> dict[str, list[PackOf]]:
    """Packs that the ingredients of a document are bought in, the newest price of each."""
    keys = {line.substance for stage in document.stages for line in stage.ingredients}
    keys |= {carried.of for carried in document.substances.values() if carried.of is not None}
    found: dict[str, dict[tuple[str, int | None, float], PackOf]] = {}
    for pack in Pack.objects.filter(ingredient__site=site, ingredient__key__in=sorted(keys)).select_related("ingredient").order_by("since", "id"):
        kind = pack.name.casefold(), pack.supplier_id, float(pack.mass_g)
        found.setdefault(pack.ingredient.key, {})[kind] = PackOf(pack.name, float(pack.mass_g), float(pack.price))
    return {key: list(kinds.values()) for key, kinds in found.items()}
