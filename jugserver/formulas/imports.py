"""Files from elsewhere: what each line means in this pantry, shown before anything is kept."""

from __future__ import annotations

import base64
from collections.abc import Sequence
from functools import cache

from jugcore.errors import BadDocument, DomainError
from jugcore.exchange.imports import Placed, ReadFormula, Row, RowProblem, as_problems, document_of, lacks, read_file
from jugcore.exchange.name_match import NOTHING, match_name
from jugcore.exchange.recipe_lines import measured, piece_amount, piece_of
from jugcore.matter.library import library
from jugcore.method.document import MethodDocument
from jugcore.method.method import Method
from jugserver.accounts import policies
from jugserver.accounts.models import Site, User
from jugserver.formulas.compiling import compiled
from jugserver.formulas.import_schemas import ImportFormula, ImportIn, ImportOut, ImportRow, MeantRow, Measures, RowsIn
from jugserver.formulas.models import Formula
from jugserver.pantry.pantry_overlay import keys_in, titles_of
from jugserver.pantry.search import SiteShelf, asked_once, row_of, search

#: Others that a line may mean, shown beside the likeliest.
_OTHERS = 6


def read_import(*, actor: User, asked: ImportIn) -> ImportOut:
    """A file's formulas, each line with what it is taken for. Nothing is kept."""
    policies.require(actor, "edit_formulas")
    site = actor.site
    assert site is not None
    found = read_file(_text(asked), asked.name)
    names = {formula.name for formula in found.formulas}
    taken = set(Formula.objects.of_site(site).filter(name__in=names).values_list("name", flat=True))
    with asked_once(site):
        formulas = [_shown(formula, site, formula.name in taken, asked.measures) for formula in found.formulas]
    return ImportOut(form=found.form, words=found.words, formulas=formulas)


def read_rows(*, actor: User, asked: RowsIn) -> ImportFormula:
    """A formula's rows again, as somebody says they are meant."""
    policies.require(actor, "edit_formulas")
    site = actor.site
    assert site is not None
    formula = ReadFormula(name=asked.name, family=asked.family, school=asked.school, notes=asked.notes)
    taken = Formula.objects.of_site(site).filter(name=asked.name).exists()
    with asked_once(site):
        return _of_rows(formula, [_meant(row, site) for row in asked.rows], site, taken, asked.measures)


def _text(asked: ImportIn) -> str:
    """The file's text: as sent, or out of its bytes in whichever of the usual ways they spell letters."""
    if asked.text is not None:
        return asked.text
    try:
        raw = base64.b64decode(asked.base64 or "", validate=True)
    except ValueError:  # other letters than those of base64, or not whole
        raise BadDocument("file", "The file did not arrive whole.", "Choose it again.") from None
    if raw.startswith((b"\xff\xfe", b"\xfe\xff")):
        return raw.decode("utf-16", "replace")
    try:
        return raw.decode("utf-8-sig")
    except UnicodeDecodeError:
        return raw.decode("cp1252", "replace")


def _shown(formula: ReadFormula, site: Site, taken: bool, measures: Measures) -> ImportFormula:
    if formula.document is not None:
        return _whole(formula, formula.document, site, taken)
    return _of_rows(formula, [_guessed(row, site) for row in formula.rows], site, taken, measures)


def _whole(formula: ReadFormula, document: MethodDocument, site: Site, taken: bool) -> ImportFormula:
    """Our own document: its lines as they are, and what keeps it from being walked here."""
    method, problems = _tried(document, site)
    titles = titles_of(site, keys_in(document)) | {id: own.title for id, own in document.substances.items()}
    rows = []
    for number, (stage, line) in enumerate([(s, line) for s in document.stages for line in getattr(s, "lines", ())], 1):
        wrong = next((each for each in problems if each.field.startswith(f"lines.{line.id}.")), None)
        rows.append(ImportRow(
            number=number, text="", stage=stage.name or stage.title, words=line.name or "", substance=line.substance,
            title=line.name or titles.get(line.substance, line.substance), sure=True, others=[],
            amount=line.amount if isinstance(line.amount, str) else (method.amount_texts.get(line.id, "") if method else ""),
            grams=_grams(method, line.id), problem=wrong,
        ))  # fmt: skip
    return ImportFormula(
        name=formula.name, family=formula.family, school=formula.school, notes=formula.notes, taken=taken, document=document, rows=rows,
        problems=[*formula.problems, *problems], carries_kitchen=document.kitchen is not None, carries=len(document.substances),
    )  # fmt: skip


def _of_rows(formula: ReadFormula, rows: Sequence[ImportRow], site: Site, taken: bool, measures: Measures) -> ImportFormula:
    """Rows made into a method, those left out that are not understood; each with what is wrong at it."""
    placed = [Placed(number=row.number, stage=row.stage, substance=row.substance, amount=row.amount) for row in rows if row.substance and row.amount]
    document: MethodDocument | None = None
    method: Method | None = None
    problems: list[RowProblem] = []
    if placed:
        document, method, problems = _made(formula, placed, site, measures)
        good = [row for row in placed if not any(_is_of(each, row.number) for each in problems)]
        if good and len(good) < len(placed):  # so that what is understood shows its grams beside what is not
            document, method, _ = _made(formula, good, site, measures)
    shown = [_with_problem(row, method, problems) for row in rows]
    elsewhere = [each for each in problems if not any(_is_of(each, row.number) for row in rows)]
    return ImportFormula(
        name=formula.name, family=formula.family, school=formula.school, notes=formula.notes, taken=taken, document=document, rows=shown,
        problems=[*formula.problems, *elsewhere], carries_kitchen=False, carries=0,
    )  # fmt: skip


def _made(
    formula: ReadFormula, placed: Sequence[Placed], site: Site, measures: Measures
) -> tuple[MethodDocument | None, Method | None, list[RowProblem]]:
    try:
        document = document_of(formula.name, formula.family, formula.school, formula.notes, placed, measures)
    except DomainError as error:
        return None, None, as_problems(error)
    return document, *_tried(document, site)


def _is_of(problem: RowProblem, number: int) -> bool:
    """Whether a problem is one of a row's."""
    return problem.field.startswith(f"lines.line-{number}.")


def _with_problem(row: ImportRow, method: Method | None, problems: Sequence[RowProblem]) -> ImportRow:
    """A row with its grams, or with what is wrong at it."""
    wrong = lacks(row.words, row.substance, row.amount) or next((each for each in problems if _is_of(each, row.number)), None)
    return row.model_copy(update={"problem": wrong, "grams": None if wrong else _grams(method, f"line-{row.number}")})


def _grams(method: Method | None, line: str) -> float | None:
    weighed = method.weighed.get(line) if method else None
    return None if weighed is None else weighed.grams


def _tried(document: MethodDocument, site: Site) -> tuple[Method | None, list[RowProblem]]:
    try:
        return compiled(document, site), []
    except DomainError as error:
        return None, as_problems(error)


def _guessed(row: Row, site: Site) -> ImportRow:
    """A row with the ingredient its words or its id name."""
    if row.amount:
        amount, words = row.amount, row.words
    else:
        amount, words = measured(row.words, _pieces())
    found = (
        match_name(SiteShelf(site), words, counted_in=_counts(amount, words)) if any(letter.isalpha() for letter in words) else NOTHING
    )  # figures alone name nothing
    first = row_of(site, key=row.id) if row.id else None
    sure = first is not None or found.sure
    first = first or found.meant
    if first is None and piece_of(amount) == "":
        amount = ""  # a number of nobody knows what is no grams
    elif first is not None and not row.amount:
        amount = piece_amount(amount, words, tuple(first.pieces), alone=sure)
    return ImportRow(
        number=row.number, text=row.text, stage=row.stage, words=words, amount=amount, substance=first.key if first else "",
        title=first.title if first else "", sure=sure,
        others=[MeantRow(substance=hit.key, title=hit.title) for hit in found.others if first is None or hit.key != first.key][:_OTHERS],
        grams=None, problem=None,
    )  # fmt: skip


@cache
def _pieces() -> frozenset[str]:
    """What the library's things are counted in."""
    return frozenset(piece for book in library().values() for piece in book.pieces)


def _counts(amount: str, words: str) -> str:
    """Words that may say in what pieces a thing is counted: “stick” of 2 sticks, all of what a bare number counts; else none."""
    piece = piece_of(amount)
    return words if piece == "" else piece or ""


def _meant(row: ImportRow, site: Site) -> ImportRow:
    """A row as somebody says it is meant: its title from the pantry, its words looked at again where nothing was chosen."""
    if row.substance:
        titles = titles_of(site, [row.substance])
        if row.substance in titles:
            return row.model_copy(update={"title": titles[row.substance], "problem": None})
        return row.model_copy(update={"substance": "", "title": ""})
    hits = search(site, row.words, most=_OTHERS) if row.words else []
    return row.model_copy(update={"others": [MeantRow(substance=hit.key, title=hit.title) for hit in hits]})
