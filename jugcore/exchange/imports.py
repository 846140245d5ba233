"""A file from elsewhere, read into formulas: our own documents, schema.org recipes, tables and lists of lines.

Only our own document comes in whole. Of all else there are rows, each an ingredient in words and an amount as written; who
keeps a pantry finds what the words name, and :func:`document_of` makes a method of the rows. What cannot be read is told at
its row or field; nothing is guessed silently.
"""

from __future__ import annotations

import csv
import json
import re
from collections.abc import Iterable, Iterator, Mapping, Sequence
from html import unescape
from io import StringIO
from typing import Annotated, Any, Literal

from pydantic import AfterValidator, BaseModel, Field

from jugcore.errors import BadDocument, DomainError, NotUnderstood, SeveralProblems
from jugcore.exchange.recipe_lines import begins_steps, leading_amount, line_words
from jugcore.fields import MOST_LINES, MOST_STAGES
from jugcore.measures.parsing import Quantity, parse_amount
from jugcore.method.document import MethodDocument
from jugcore.method.document_formats import METHOD
from jugcore.method.load_document import load_document

MOST_CHARACTERS = 2_000_000
MOST_FORMULAS, MOST_ROWS = 60, 300
#: Lines of a file that are looked up one by one, in all its formulas together.
MOST_IN_ALL = 1000
#: A line longer than this is none of a recipe.
_MOST_OF_A_LINE = 4000
#: So many problems of one document are told.
_MOST_PROBLEMS = 50
#: What a file says, no longer than a document takes it: what is cut off of such a text was none of a line, or of a name.
_Line = Annotated[str, AfterValidator(lambda text: text[:_MOST_OF_A_LINE])]
_Name = Annotated[str, AfterValidator(lambda text: text[:200])]
#: Heads of columns, by what they hold. Small letters, first word that fits.
_COLUMNS: dict[str, tuple[str, ...]] = {
    "formula": ("formula", "recipe", "product"), "stage": ("stage", "step"), "id": ("ingredient id", "ingredient_id", "id"),
    "ingredient": ("ingredient", "item", "what", "name"), "amount": ("amount", "quantity", "qty"), "unit": ("unit", "units", "measure"),
    "grams": ("grams", "gram", "g", "weight", "mass", "weight g", "mass g"),
}  # fmt: skip
WORDS = {
    "document": "All of each formula comes in: stages, ties, vessels, what it carries.",
    "recipe": "A recipe holds lines and steps in words: what goes in becomes one stage, its steps become notes. Make stages of them on the bench.",
    "table": "A table holds what goes in and how much: stages become stages that add, all into one vessel. Heat, strain and fill on the bench.",
    "list": "A list holds what goes in and how much: all of it goes into one vessel. Heat, strain and fill on the bench.",
}


class RowProblem(BaseModel):
    """Something that is wrong: where, what, and what to do."""

    field: str
    message: str
    remedy: str


class Row(BaseModel):
    """A line of a file: where it stands, what it says, and what of that is ingredient and amount.

    With an empty ``amount`` the words may hold it: “2 tsp blossom water”.
    """

    number: int = Field(description="The line of the file, or the place in the recipe's list.")
    text: _Line
    stage: _Name = ""
    id: str = Field("", description="The ingredient's id, if the file says one.")
    words: _Line
    amount: _Line = ""


class ReadFormula(BaseModel):
    """One formula of a file: whole, or as rows."""

    name: str
    family: str = ""
    school: str = ""
    notes: str = ""
    document: MethodDocument | None = None
    rows: list[Row] = []
    problems: list[RowProblem] = []


class ReadFile(BaseModel):
    """What a file holds."""

    form: Literal["document", "recipe", "table", "list"]
    words: str
    formulas: list[ReadFormula]


class Placed(BaseModel):
    """A row whose ingredient was found."""

    number: int
    stage: str = Field("", max_length=200)
    substance: str = Field(max_length=64)
    amount: str = Field(max_length=4000)


def read_file(text: str, name: str = "") -> ReadFile:
    """Formulas of a file's text; ``name`` is the file's, for what names nothing itself.

    Raises BadDocument for what is none of the forms, is cut short, or is too long.
    """
    if len(text) > MOST_CHARACTERS:
        raise BadDocument("file", f"The file is too long: {len(text):,} characters.", f"Bring in at most {MOST_CHARACTERS:,} at a time.")
    # Half a surrogate pair can be written nowhere.
    body = text.encode("utf-8", "replace").decode().lstrip("\ufeff \t\r\n")
    stem = re.sub(r"\.[a-z]{1,5}$", "", name.rsplit("/", 1)[-1].rsplit("\\", 1)[-1], flags=re.I)
    if not body.strip():
        raise BadDocument("file", "There is nothing in this file.", "Choose another, or paste lines such as “900 g half-and-half”.")
    if "\x00" in body:
        raise BadDocument("file", "This is not a text file.", "Save it as JSON or CSV, or paste its lines.")
    if body[0] in "{[<":
        try:
            return _of_page(body, stem) if body[0] == "<" else _of_json(_json(body), stem)
        except RecursionError:
            raise BadDocument("file", "This JSON is nested too deeply.", "Save it again where it comes from.") from None
    table = _table(body)
    if table is not None:
        return ReadFile(form="table", words=WORDS["table"], formulas=_few(_of_table(*table, stem)))
    return ReadFile(form="list", words=WORDS["list"], formulas=[_of_list(body, stem)])


def document_of(
    name: str, family: str, school: str, notes: str, rows: Sequence[Placed], measures: Literal["metric", "us", "imperial", "australian"] | None = None
) -> MethodDocument:
    """A method that puts rows into one vessel, a stage for each stage they name; lines are called ``line-<number>``.

    Raises BadDocument where there is no row.
    """
    if not rows:
        raise BadDocument("rows", "No line is understood yet.", "Say which ingredient each line means, or leave it out.")
    if len(rows) > MOST_LINES:
        message = f"That is one formula of {len(rows)} ingredients; at most {MOST_LINES} are worked out together."
        raise BadDocument("rows", message, "Leave lines out, or bring it in as several formulas, a table with a column “formula”.")
    stages: list[dict[str, Any]] = []
    for row in rows:
        line = {"id": f"line-{row.number}", "substance": row.substance, "amount": row.amount}
        if stages and stages[-1]["name"] == row.stage:
            stages[-1]["lines"].append(line)
        else:
            stages.append({"id": f"in-{len(stages) + 1}", "kind": "add", "vessel": "bowl", "name": row.stage, "lines": [line]})
    if len(stages) > MOST_STAGES:
        raise BadDocument("rows", f"That is one formula of {len(stages)} steps; at most {MOST_STAGES} are worked out together.", "Name fewer steps.")
    named = [{**stage, "name": stage["name"] or ("All together" if len(stages) == 1 else f"In, {place}")} for place, stage in enumerate(stages, 1)]
    return load_document({
        "format": METHOD.tag, "name": name[:200], "family": family[:200], "school": school[:200], "notes": notes[:4000], "measures": measures,
        "vessels": [{"id": "bowl", "name": "Bowl"}], "stages": named,
    })  # fmt: skip


def as_problems(error: DomainError) -> list[RowProblem]:
    """A refusal as what is shown at the rows and fields it is about."""
    each = error.problems if isinstance(error, SeveralProblems) else [error]
    return [RowProblem(field=e.field, message=e.message, remedy=e.remedy) for e in each]


def lacks(words: str, substance: str, amount: str) -> RowProblem | None:
    """What a row still lacks to be a line; nothing where it names an ingredient and says how much."""
    if not substance:
        return RowProblem(field="substance", message=f"The pantry knows nothing in “{words[:60]}”.", remedy="Say what it is, or leave the line out.")
    if not amount:
        return RowProblem(field="amount", message="How much of it is missing.", remedy="Write it: 900 g, 2 tsp.")
    return None


# JSON -------------------------------------------------------------------------


def _json(body: str) -> Any:
    try:
        return json.loads(body)
    except json.JSONDecodeError as error:
        raise BadDocument(
            "file", f"This JSON stops making sense in line {error.lineno}, at character {error.colno}: {error.msg.lower()}.",
            "It may be cut short: save it again where it comes from.",
        ) from None  # fmt: skip


def _of_json(raw: Any, stem: str) -> ReadFile:
    documents = list(_documents(raw))
    if documents:
        return ReadFile(form="document", words=WORDS["document"], formulas=_few([_of_document(each) for each in documents]))
    recipes = list(_recipes(raw))
    if recipes:
        return ReadFile(form="recipe", words=WORDS["recipe"], formulas=_few([_of_recipe(each, stem) for each in recipes]))
    raise BadDocument("file", "This JSON holds no formula and no recipe.", f"Bring in a document of the format {METHOD.tag}, or a schema.org Recipe.")


def _documents(raw: Any) -> Iterator[Mapping[str, Any]]:
    """Documents in a JSON value: itself, a list of them, or what keeps one (a version, a batch)."""
    if isinstance(raw, list):
        for each in raw:
            yield from _documents(each)
    elif isinstance(raw, dict):
        if str(raw.get("format", "")).startswith("oakenjug.method") or isinstance(raw.get("stages"), list):
            yield raw
            return
        for key in ("document", "formulas", "versions"):
            if isinstance(raw.get(key), dict | list):
                yield from _documents(raw[key])


def _of_document(raw: Mapping[str, Any]) -> ReadFormula:
    name = str(raw.get("name") or "")[:200]
    try:
        document = load_document(raw)
    except DomainError as error:
        return ReadFormula(name=name, problems=as_problems(error)[:_MOST_PROBLEMS])
    if document.keeping is not None and document.keeping.rests_on is None:
        # Nobody can tell what they were answers to: the file may have been changed since.
        document = document.model_copy(update={"keeping": None})
    return ReadFormula(name=document.name, family=document.family, school=document.school, notes=document.notes, document=document)


def _few(formulas: list[ReadFormula]) -> list[ReadFormula]:
    lines = sum(len(formula.rows) for formula in formulas)
    if lines > MOST_IN_ALL:
        raise BadDocument("file", f"The file holds {lines:,} lines.", f"Bring in at most {MOST_IN_ALL:,} at a time.")
    if len(formulas) > MOST_FORMULAS:
        raise BadDocument("file", f"The file holds {len(formulas)} formulas.", f"Bring in at most {MOST_FORMULAS} at a time.")
    return formulas


# recipes ----------------------------------------------------------------------


def _recipes(raw: Any) -> Iterator[Mapping[str, Any]]:
    """schema.org recipes in a JSON-LD value, whatever they stand in."""
    if isinstance(raw, list):
        for each in raw:
            yield from _recipes(each)
    elif isinstance(raw, dict):
        kinds = raw.get("@type")
        if any(str(kind).rsplit("/", 1)[-1] == "Recipe" for kind in (kinds if isinstance(kinds, list) else [kinds])):
            yield raw
        elif "@graph" in raw:
            yield from _recipes(raw["@graph"])


def _of_recipe(raw: Mapping[str, Any], stem: str) -> ReadFormula:
    lines = raw.get("recipeIngredient", raw.get("ingredients")) or []
    texts = [_plain(each) for each in (lines if isinstance(lines, list) else str(lines).splitlines())]
    steps = list(_steps(raw.get("recipeInstructions")))
    notes = [_plain(raw.get("description"))] + [f"{place}. {step}" for place, step in enumerate(steps, 1)]
    makes = _plain(raw.get("recipeYield"))
    if makes:
        notes.insert(0, f"Makes {makes}.")
    rows, said, _ = _rows(enumerate(texts, 1))
    notes += said
    problems = (
        [] if any(texts) else [RowProblem(field="recipeIngredient", message="The recipe lists nothing that goes in.", remedy="Add its lines below.")]
    )
    return ReadFormula(
        name=_plain(raw.get("name")) or stem, family=_plain(raw.get("recipeCategory")), notes="\n".join(note for note in notes if note)[:4000],
        rows=rows[:MOST_ROWS], problems=problems,
    )  # fmt: skip


def _steps(raw: Any) -> Iterator[str]:
    """Steps in words: a text, a list of texts, HowToSteps, HowToSections."""
    if isinstance(raw, str):
        yield from (line for each in raw.splitlines() if (line := _plain(each)))
    elif isinstance(raw, list):
        for each in raw:
            yield from _steps(each)
    elif isinstance(raw, dict):
        if "itemListElement" in raw:
            yield from _steps(raw["itemListElement"])
        elif text := _plain(raw.get("text")) or _plain(raw.get("name")):
            yield text


def _plain(raw: Any) -> str:
    """Text of a JSON-LD value: the first of several, without marks of a page."""
    if isinstance(raw, list):
        return _plain(raw[0]) if raw else ""
    if isinstance(raw, dict):
        return _plain(raw.get("@value") or raw.get("name"))
    return " ".join(unescape(re.sub(r"<[^>]{0,500}>", " ", str(raw))).split()) if raw is not None else ""


_SCRIPT = re.compile(r"<script[^>]*application/ld\+json[^>]*>(.*?)</script>", re.I | re.S)


def _of_page(body: str, stem: str) -> ReadFile:
    """A saved page: the recipes that it carries for other programs."""
    found: list[ReadFormula] = []
    for script in _SCRIPT.findall(body):
        found += [_of_recipe(each, stem) for each in _recipes(_json(script.strip()))]
    if not found:
        raise BadDocument("file", "This page carries no recipe for other programs.", "Paste its lines instead, one ingredient a line.")
    return ReadFile(form="recipe", words=WORDS["recipe"], formulas=_few(found))


# tables and lists -------------------------------------------------------------


def _table(body: str) -> tuple[dict[str, int], list[tuple[int, list[str]]]] | None:
    """Columns by what they hold, and the rows with their line numbers; None where the first line names no ingredient column."""
    first = body.splitlines()[0]
    for mark in ("\t", ";", ","):
        if mark not in first:
            continue
        columns = _columns(next(csv.reader([first], delimiter=mark)))
        if "ingredient" in columns or "id" in columns:
            reader = csv.reader(StringIO(body), delimiter=mark)
            rows = []
            try:
                next(reader)
                for cells in reader:
                    rows.append((reader.line_num, [_cell(each) for each in cells]))
            except csv.Error as error:
                raise BadDocument("file", f"Line {reader.line_num} of the table cannot be read: {error}.", "Save it as CSV again.") from None
            return columns, rows
    return None


def _columns(heads: Sequence[str]) -> dict[str, int]:
    found: dict[str, int] = {}
    for place, head in enumerate(heads):
        said = re.sub(r"[^a-z ]+", " ", head.lower().replace("_", " ")).strip()
        what = next((what for what, words in _COLUMNS.items() if " ".join(said.split()) in words), None)
        if what is not None:
            found.setdefault(what, place)
    return found


def _cell(text: str) -> str:
    """A cell without the apostrophe that keeps a spreadsheet from running it."""
    text = " ".join(text.split())
    return text[1:] if text.startswith("'") else text


def _of_table(columns: Mapping[str, int], rows: Sequence[tuple[int, list[str]]], stem: str) -> list[ReadFormula]:
    found: dict[str, ReadFormula] = {}
    for number, cells in rows:
        said = {what: cells[place] if place < len(cells) else "" for what, place in columns.items()}
        if not any(cells):
            continue
        name = said.get("formula") or stem
        formula = found.setdefault(name, ReadFormula(name=name))
        if len(formula.rows) < MOST_ROWS:
            formula.rows.append(_table_row(number, said, cells))
        elif len(formula.problems) == 0:
            formula.problems.append(
                RowProblem(field="file", message=f"More than {MOST_ROWS} lines; the rest is left out.", remedy="Split the table.")
            )
    if not found:
        raise BadDocument("file", "The table has a head and no line under it.", "Add a line for each ingredient.")
    return list(found.values())


def _table_row(number: int, said: Mapping[str, str], cells: Sequence[str]) -> Row:
    """A row's amount: as written, with its unit; its grams where what is written follows something that is not in the table."""
    amount = f"{said.get('amount', '')} {said.get('unit', '')}".strip()
    grams = _grams(said.get("grams", ""))
    if grams is not None and (not amount or not _stands_alone(amount)):
        amount = f"{grams:g} g"
    elif not amount:
        amount = said.get("grams", "")  # no number: whoever reads the amount says so
    line = line_words(said.get("ingredient", "") or said.get("id", ""))
    return Row(
        number=number, text=", ".join(cell for cell in cells if cell), stage=said.get("stage", ""), id=said.get("id", ""),
        words=line.words, amount=amount or line.amount,
    )  # fmt: skip


def _grams(text: str) -> float | None:
    bare = re.sub(r"\s*(?:g|grams?)$", "", text.strip().lower()).replace(",", ".")
    return float(bare) if re.fullmatch(r"\d+(?:\.\d+)?", bare) else None


def _stands_alone(amount: str) -> bool:
    """Whether an amount says how much by itself, rather than as much as something else."""
    try:
        return isinstance(parse_amount(amount), Quantity)
    except NotUnderstood:
        return False


def _of_list(body: str, stem: str) -> ReadFormula:
    rows, notes, named = _rows(enumerate(body.splitlines(), 1))
    # What stands first and says no amount, above lines that do, is what it is called.
    first = rows[0] if rows else None
    name = named
    if (
        not name
        and first is not None
        and len(rows) > 1
        and not re.search(r"\d|[½⅓⅔¼¾]", first.text)
        and any(leading_amount(row.words) or row.amount for row in rows[1:])
    ):
        name, rows = first.words, rows[1:]
    formula = ReadFormula(name=name or stem, notes="\n".join(notes)[:4000], rows=rows[:MOST_ROWS])
    if len(rows) > MOST_ROWS:
        formula.problems.append(RowProblem(field="file", message=f"More than {MOST_ROWS} lines; the rest is left out.", remedy="Split the list."))
    return formula


def _rows(lines: Iterable[tuple[int, str]]) -> tuple[list[Row], list[str], str]:
    """Lines that are ingredients, each under the title above it, those that are steps, and what it is called."""
    rows: list[Row] = []
    steps: list[str] = []
    stage = name = ""
    within_steps = False
    for number, text in lines:
        if not text.strip():
            continue
        line = line_words(text[:_MOST_OF_A_LINE])
        if line.kind == "name" and not name:
            name = line.words[:200]
        elif line.kind == "title":
            within_steps = begins_steps(line.words)
            stage = stage if within_steps else line.words[:200]
        elif within_steps or line.kind != "line":
            steps.append(line.words if line.kind == "step" else " ".join(text.split()))
        else:
            rows.append(Row(number=number, text=" ".join(text.split())[:_MOST_OF_A_LINE], stage=stage, words=line.words, amount=line.amount))
    return rows, steps, name
