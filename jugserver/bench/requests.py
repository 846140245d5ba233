"""What may be asked of a document without keeping anything: a walk, a solve, ways, a scaling, a spoon too many."""

from __future__ import annotations

import json
from time import perf_counter
from uuid import UUID

from jugcore.dosing.schema import DrinkRequest, cup_document, drink_report
from jugcore.exchange.exports import LINES_LOSE, RECIPE_LOSES, lines_table, recipe
from jugcore.method.document import MethodDocument
from jugcore.method.method import Method
from jugcore.money.schema import CostReport, cost_report
from jugcore.reading.equipment.pots import in_its_pots
from jugcore.reading.flow_trials import flow_expected
from jugcore.reading.report import report
from jugcore.reading.schema import WalkReport
from jugcore.scaling.schema import ScaleRequest, scale_report
from jugcore.solving.schema import SolveRequest, solve_report
from jugcore.suggesting.hold_plans import hold_plans
from jugcore.suggesting.schema import OvershotRequest, SubstituteRequest, overshot_report, substitute_report, suggestions_report
from jugserver.accounts import policies
from jugserver.accounts.models import User
from jugserver.batches.states import flow_trials
from jugserver.computing.pool import work_out
from jugserver.exchange.tables import csv_text
from jugserver.formulas.compiling import compiled
from jugserver.formulas.cross_contact import cross_contact_of
from jugserver.formulas.made_here import with_newest
from jugserver.formulas.schemas import ExportOut
from jugserver.pantry.pantry_overlay import own_substances, with_pantry
from jugserver.stock.rates import made_in, rates_of


def _method(actor: User, document: MethodDocument) -> Method:
    """The document ready to walk in the site's kitchen, or in its own if it carries one."""
    policies.require(actor, "walk")
    site = actor.site
    assert site is not None  # the policy refuses people without one
    return compiled(document, site)


def walk_document(*, actor: User, document: MethodDocument) -> WalkReport:
    """Everything read off the document's walk, and how it will flow tomorrow by the site's own trials."""
    walked = in_its_pots(_method(actor, document))
    found = report(walked)
    assert actor.site is not None  # the policy refuses people without one
    with_newest(actor.site, found.made_here)
    found.cross_contact = cross_contact_of(actor.site, walked, document.name)
    if any(reading.id == "cooked_starch" for reading in found.readings):
        found.flow = flow_expected(walked, flow_trials(actor.site))
    return found


def solve_document(*, actor: User, document: MethodDocument, ask: SolveRequest) -> str:
    """What to change in a document so that targets hold."""
    return work_out(actor.pk, solve_report, _method(actor, document), ask, document, perf_counter)


def ways_of_document(*, actor: User, document: MethodDocument, reading: str, value: float, hold: list[str]) -> str:
    """Ways to make a reading come to a value."""
    return work_out(actor.pk, suggestions_report, _method(actor, document), reading, value, document, hold)


def scale_document(*, actor: User, document: MethodDocument, ask: ScaleRequest) -> str:
    """A document scaled and split into cooks."""
    return work_out(actor.pk, scale_report, _method(actor, document), ask, document)


def swap_in_document(*, actor: User, document: MethodDocument, ask: SubstituteRequest) -> str:
    """One ingredient of a document for another, of the library or of the site's own."""
    policies.require(actor, "walk")
    site = actor.site
    assert site is not None
    # What comes in is put beside what the document carries, so that it can be found under its id.
    with_new = document.model_copy(update={"substances": {**own_substances(site, ask.parts), **document.substances}})
    return work_out(actor.pk, substitute_report, compiled(with_new, site), ask, document)


def drink_of_document(*, actor: User, document: MethodDocument, ask: DrinkRequest) -> str:
    """A dose of a document's product in a drink of this kitchen."""
    policies.require(actor, "walk")
    site = actor.site
    assert site is not None
    return work_out(actor.pk, drink_report, compiled(document, site), ask, with_pantry([cup_document(ask)], site)[0])


def cost_of_document(*, actor: User, document: MethodDocument, formula: UUID | None, dose_g: float | None) -> CostReport:
    """What a batch of a document costs, by what the site pays and by what its log says is poured away of the formula."""
    walked = in_its_pots(_method(actor, document))
    site = actor.site
    assert site is not None
    return cost_report(
        walked, rates_of(site, {*made_in(walked.method.document.substances), str(formula)}), dose_g, "" if formula is None else str(formula)
    )


def hold_plans_of_document(*, actor: User, document: MethodDocument, stage: str) -> str:
    """A hold of a document in every place it could be kept."""
    return work_out(actor.pk, hold_plans, _method(actor, document), stage)


def export_document(*, actor: User, document: MethodDocument, form: str) -> ExportOut:
    """A document as a recipe for other programs or as a table, with what is lost on the way."""
    walked = in_its_pots(_method(actor, document))
    if form == "recipe":
        text = json.dumps(recipe(walked), ensure_ascii=False, indent=2)
        return ExportOut(text=text, media="application/ld+json", ending=".recipe.json", loses=RECIPE_LOSES)
    head, rows = lines_table(walked)
    return ExportOut(text=csv_text(head, rows), media="text/csv", ending="-lines.csv", loses=LINES_LOSE)


def overshot_in_document(*, actor: User, document: MethodDocument, ask: OvershotRequest) -> str:
    """What can be done when more of a line went into a blend than was asked for."""
    return work_out(actor.pk, overshot_report, _method(actor, document), ask)
