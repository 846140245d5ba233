"""What lists show of a formula and what its equipment meets: worked out when it is saved, and anew once what it rests on is another."""

from __future__ import annotations

from collections.abc import Sequence
from functools import partial
from typing import Any
from uuid import UUID

from django.db import connection, transaction
from django.db.models import OuterRef, Subquery

from jugcore import __version__
from jugcore.errors import DomainError
from jugcore.method.document import MethodDocument
from jugcore.method.kitchen import Kitchen
from jugcore.method.load_document import load_document
from jugcore.reading.equipment.cross_contact import equipment_touched
from jugcore.reading.equipment.pots import in_its_pots
from jugcore.reading.report import report
from jugcore.reading.schema import WalkReport
from jugserver.accounts.models import Site
from jugserver.formulas.compiling import in_kitchen
from jugserver.formulas.models import DraftSave, Formula, FormulaState
from jugserver.formulas.schemas import JugMark
from jugserver.kitchen.services import kitchen_of
from jugserver.pantry.pantry_overlay import keys_in, with_pantry
from jugserver.process.by_and_by import by_and_by
from jugserver.process.words import searched

#: So many stale ones are worked out by who asks; of more what was worked out last is shown until they are, by and by.
MOST_AT_ONCE = 64
#: Worked out in one go by and by.
_AT_A_TIME = 20


#: Name, gear and time of a formula that nothing is known of yet.
_NOTHING: tuple[str, dict[str, Any], int | None] = ("", {}, None)


def keep_states(site: Site, formulas: Sequence[Any]) -> None:
    """Work out some formulas, each with its newest draft as ``document``, and keep what comes of them."""
    if not formulas:
        return
    with transaction.atomic():
        _hold(site)
        # First: what changes while they are worked out waits, and makes them stale again after it.
        FormulaState.objects.filter(pk__in=[formula.pk for formula in formulas]).update(stale=False)
        _work_out(site, formulas)


#: Any number that no other lock of this kind has.
_LOCK = 4217


def _hold(site: Site) -> None:
    """Until this transaction ends nobody else writes what is worked out of this site's formulas: two in different orders would wait for
    each other for ever."""
    with connection.cursor() as cursor:
        cursor.execute("select pg_advisory_xact_lock(%s, %s)", [_LOCK, site.pk])


def _work_out(site: Site, formulas: Sequence[Any]) -> None:
    kitchen = kitchen_of(site).kitchen
    documents = [load_document(formula.document) for formula in formulas]
    made = [_state(formula, bare, full, kitchen) for formula, bare, full in zip(formulas, documents, with_pantry(documents, site), strict=True)]
    rows = FormulaState.objects.filter(pk__in=[state.pk for state in made]).values_list("pk", "name", "gear", "gear_at")
    before = {pk: (name, gear, at) for pk, name, gear, at in rows}
    fresh = [state for state in made if (state.name, state.gear) != before.get(state.pk, _NOTHING)[:2]]
    for state in made:
        state.gear_at = before.get(state.pk, _NOTHING)[2]
    if fresh:
        now = moved(site)
        for state in fresh:
            state.gear_at = now
    columns = [field.name for field in FormulaState._meta.fields if not field.primary_key]
    FormulaState.objects.bulk_create(made, update_conflicts=True, unique_fields=["formula"], update_fields=columns)


def _state(formula: Any, bare: MethodDocument, full: MethodDocument, kitchen: Kitchen) -> FormulaState:
    state = FormulaState(
        formula_id=formula.pk, site_id=formula.site_id, name=formula.name, touched_at=formula.touched_at, archived=formula.archived_at is not None,
        draft=formula.draft, core_version=__version__, uses=sorted(keys_in(bare)),
        search=searched(f"{formula.name} {formula.family} {formula.school}"),
    )  # fmt: skip
    try:
        walked = in_its_pots(in_kitchen(full, kitchen))
        found = report(walked)
        touched = equipment_touched(walked)
    except DomainError as error:  # a draft that does not walk says so on its own bench
        state.trouble = error.message
        return state
    cold = found.cold_product
    whole = cold.volume_ml or cold.mass_g
    bands = {b.band: ((b.volume_ml or 0.0) if cold.volume_ml else b.mass_g) / whole for b in cold.bands} if whole else {}
    # What is made here is made of what the pantry has: a change there is one here.
    state.uses = sorted({*state.uses, *(each.substance for _, each in walked.method.all_contents)} - bare.substances.keys())
    state.mark = JugMark(bands=bands, mass_g=cold.mass_g, volume_ml=cold.volume_ml, brix=cold.brix, cost_kg=_cost_kg(found)).model_dump()
    state.trouble = found.faults[0].message if found.faults else None
    # What the document carries itself, and what was made here of what: the pantry of today does not speak for it.
    of_pantry = {line.substance for line in walked.method.lines.values() if walked.method.substances[line.substance].made is None}
    of_pantry -= bare.substances.keys()
    state.gear = {
        gear: {
            "keys": sorted(met.keys() - bare.substances.keys()),
            "carried": sorted({allergen for key, book in met.items() if key not in of_pantry for allergen in book.allergens}),
        }
        for gear, met in touched.items()
    }
    return state


def _cost_kg(found: WalkReport) -> float | None:
    return next((reading.value for reading in found.readings if reading.id == "cost_kg"), None)


def with_draft(formulas: Any) -> Any:
    """Formulas with their newest document, who saved it and when, in the one query."""
    newest = DraftSave.objects.filter(formula=OuterRef("pk"), number=OuterRef("draft"))
    return formulas.annotate(document=Subquery(newest.values("document")[:1]), saved_by_name=Subquery(newest.values("saved_by__display_name")[:1]))


def bring_up_to_date(site: Site) -> None:
    """Work out what is stale of a site's formulas, where that is not much; else it is done by and by."""
    stale = list(FormulaState.objects.filter(site=site, stale=True).values_list("pk", flat=True)[: MOST_AT_ONCE + 1])
    if 0 < len(stale) <= MOST_AT_ONCE:
        keep_states(site, list(with_draft(Formula.objects.filter(site=site, pk__in=stale))))


def work_out_by_and_by(site: Site) -> None:
    """Have what is stale of a site's formulas worked out beside the requests."""
    by_and_by(("formulas", site.pk), partial(_some, site))


def _some(site: Site) -> None:
    found = list(with_draft(Formula.objects.filter(site=site, state__stale=True).order_by("-touched_at"))[:_AT_A_TIME])
    keep_states(site, found)
    if len(found) == _AT_A_TIME:
        work_out_by_and_by(site)


def catch_up() -> None:
    """Have every formula worked out anew that another release worked out."""
    FormulaState.objects.exclude(core_version=__version__).update(stale=True)
    for site in Site.objects.filter(pk__in=FormulaState.objects.filter(stale=True).values("site")):
        work_out_by_and_by(site)


def kitchen_changed(sender: object, site: Site, **_: object) -> None:
    """The kitchen is another: every formula of the site may walk otherwise."""
    _hold(site)
    FormulaState.objects.filter(site=site).update(stale=True)
    work_out_by_and_by(site)


def ingredient_changed(sender: object, site: Site, key: str, allergens: bool, **_: object) -> None:
    """An ingredient is another: so is what is made with it, and what its allergens met counts at once."""
    _hold(site)
    FormulaState.objects.filter(site=site, uses__contains=[key]).update(stale=True)
    if allergens:
        moved(site)
    work_out_by_and_by(site)


def archived(site: Site, id: UUID, put_away: bool) -> None:
    """A formula was put away, or brought back: it counts no more, or again, at once."""
    _hold(site)
    FormulaState.objects.filter(pk=id).update(archived=put_away, gear_at=moved(site))


def moved(site: Site) -> int:
    """What this site's formulas put into its equipment is another: processes that keep it read what is new. When that was [µs]."""
    with connection.cursor() as cursor:
        # Its row stays locked until this transaction is kept: nobody's time hides another's.
        now = "(extract(epoch from clock_timestamp()) * 1000000)::bigint"
        cursor.execute(
            f"insert into formulas_formulasmoved (site_id, at) values (%s, {now}) on conflict (site_id) do update set at = {now} returning at",
            [site.pk],
        )
        at: int = cursor.fetchone()[0]
    return at
