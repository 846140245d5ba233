"""Verbs on benchmarks: write one down, read it, aim a formula at it."""

from __future__ import annotations

from collections.abc import Sequence
from functools import partial
from uuid import UUID

from django.db import IntegrityError, transaction
from django.http import Http404
from django.utils import timezone

from jugcore.errors import BadDocument
from jugcore.method.compile import compile_document
from jugcore.method.document import MethodDocument
from jugcore.method.load_document import load_document
from jugcore.method.method import Method
from jugcore.tasting.aim import aim_report
from jugcore.tasting.benchmark import Known, benchmark_report
from jugcore.tasting.sheet import BenchmarkDoc, OfOurs
from jugserver.accounts import policies
from jugserver.accounts.models import Site, User
from jugserver.computing.pool import work_out
from jugserver.formulas.compiling import compiled
from jugserver.formulas.models import Version
from jugserver.formulas.services import formula_of
from jugserver.http.paging import cursor_at, cursor_of
from jugserver.http.problems import Conflict
from jugserver.kitchen.services import kitchen_of
from jugserver.tastings.models import Benchmark
from jugserver.tastings.schemas import BenchmarkCard, BenchmarkOut, BenchmarksOut

#: On a page.
PAGE = 50


def page_of(site: Site, words: str = "", cursor: str = "") -> BenchmarksOut:
    """A page of a site's benchmarks by name, those whose name has every word."""
    after = cursor_at(cursor, tuple[str])
    found = Benchmark.objects.of_site(site)
    for word in words.split():
        found = found.filter(name__icontains=word)
    if after is not None:
        found = found.filter(name__gt=after[0])
    rows = list(found.order_by("name")[: PAGE + 1])
    return BenchmarksOut(items=[_card(row) for row in rows[:PAGE]], next=cursor_of(rows[PAGE - 1].name) if len(rows) > PAGE else None)


def _card(row: Benchmark) -> BenchmarkCard:
    document = BenchmarkDoc.model_validate(row.document)
    return BenchmarkCard(
        id=row.id, name=row.name, what=document.what, has_label=document.label is not None and bool(document.label.figures),
        sheets=len(document.sheets), pack=document.pack, changed_at=row.changed_at, changed_by=str(row.changed_by),
    )  # fmt: skip


def benchmark_of(site: Site, id: UUID) -> BenchmarkOut:
    """One benchmark. Raises Http404 for another site's."""
    return _out(_row(site, id))


def _row(site: Site, id: UUID) -> Benchmark:
    row = Benchmark.objects.of_site(site).filter(pk=id).first()
    if row is None:
        raise Http404
    return row


def _out(row: Benchmark) -> BenchmarkOut:
    return BenchmarkOut(
        id=row.id, number=row.number, changed_at=row.changed_at, changed_by=str(row.changed_by), document=BenchmarkDoc.model_validate(row.document)
    )


@transaction.atomic
def save_benchmark(*, actor: User, id: UUID | None, number: int, document: BenchmarkDoc) -> BenchmarkOut:
    """Write a benchmark down, new or changed.

    Raises Conflict if somebody changed it since, and BadDocument for one without a name, with a name that is taken, or
    that names a version which is not there.
    """
    policies.require(actor, "taste")
    site = actor.site
    assert site is not None
    name = document.name.strip()
    if not name:
        raise BadDocument("name", "The benchmark has no name yet.", "Type what it is called.")
    _known(site, document)
    if id is None:
        row = Benchmark(site=site)
    else:
        # Locked, so that two saves based on the same state cannot both succeed.
        found = Benchmark.objects.of_site(site).select_for_update(of=("self",)).filter(pk=id).first()
        if found is None:
            raise Http404
        row = found
        if row.number != number:
            raise Conflict(
                "number", f"{row.changed_by} changed this benchmark while you were at it.", "Look at theirs, then save yours again.",
                theirs=_out(row).model_dump(mode="json"),
            )  # fmt: skip
        row.number += 1
    row.name, row.changed_by = name, actor
    row.document = document.model_dump(mode="json", exclude_none=True)
    try:
        with transaction.atomic():
            row.save()
    except IntegrityError:
        raise BadDocument("name", f"There is already a benchmark called {name}.", "Choose another name.") from None
    return _out(row)


@transaction.atomic
def put_benchmark_away(*, actor: User, id: UUID) -> None:
    """Take a benchmark out of the list; its row stays."""
    policies.require(actor, "taste")
    site = actor.site
    assert site is not None
    if not Benchmark.objects.filter(site=site, pk=id, archived_at__isnull=True).update(archived_at=timezone.now()):
        raise Http404


def read_benchmark(*, actor: User, document: BenchmarkDoc, ours: UUID | None) -> str:
    """What a benchmark comes to, kept or not, and how one of ours stands against it."""
    policies.require(actor, "walk")
    site = actor.site
    assert site is not None
    method = compiled(formula_of(site, ours).document, site) if ours is not None else None
    return work_out(actor.pk, benchmark_report, document, _known(site, document), kitchen_of(site).kitchen, method)


def aim_at_benchmark(*, actor: User, id: UUID, document: MethodDocument, chosen: Sequence[str] | None, same_size: bool) -> str:
    """A formula as it would be to come near a benchmark. Nothing is kept."""
    policies.require(actor, "walk")
    site = actor.site
    assert site is not None
    benchmark = benchmark_of(site, id).document
    aiming = partial(aim_report, chosen=chosen, same_size=same_size)
    return work_out(actor.pk, aiming, benchmark, _known(site, benchmark), compiled(document, site), document)


def _known(site: Site, document: BenchmarkDoc) -> Known:
    """The versions a benchmark names, frozen as they are."""
    return Known(itself=_version(site, document.version, "version"), beside=_version(site, document.beside, "beside"))


def _version(site: Site, named: OfOurs | None, field: str) -> Method | None:
    if named is None:
        return None
    try:
        formula = UUID(named.formula)
    except ValueError:
        formula = UUID(int=0)
    row = Version.objects.filter(formula__site=site, formula=formula, number=named.version).first()
    if row is None:
        raise BadDocument(field, "That version of ours is not there.", "Choose a formula that has a version; save one on the bench if it has none.")
    return compile_document(load_document(row.document))
