"""``python -m jugcore walk|solve|ways|scale < doc.json``, ``sheet|rescue < batch.json``, ``forecast``, ``plan``, ``read``: the engine by shell."""

from __future__ import annotations

import argparse
import json
import signal
import sys
from datetime import UTC, datetime
from time import perf_counter
from typing import Any, Literal, TypeVar

from pydantic import BaseModel, ValidationError

from jugcore import __version__
from jugcore.batch.requests import BatchDocument, RescueReport, rescue_report
from jugcore.batch.sheet.schema import SheetReport
from jugcore.drinks.cup import cup_of
from jugcore.drinks.document import DrinkDocument, load_drink
from jugcore.drinks.report import drink_sizes_report, even_out_report
from jugcore.drinks.schema import DrinkSizesReport, EvenOutRequest
from jugcore.errors import BadDocument, DomainError, NotUnderstood, SeveralProblems
from jugcore.exchange.imports import read_file
from jugcore.method.compile import parse_document
from jugcore.method.document import MethodDocument
from jugcore.method.method import Method
from jugcore.method.schema_messages import explain
from jugcore.method.walk import walk
from jugcore.planning.forecast.report import ForecastReport, forecast
from jugcore.planning.forecast.request import ForecastAsk
from jugcore.planning.lots.plan import LotsPlan
from jugcore.planning.lots.problem import LotsProblem
from jugcore.planning.lots.solve import solve as solve_lots
from jugcore.reading.equipment.pots import in_its_pots
from jugcore.reading.report import report
from jugcore.reading.schema import WalkReport
from jugcore.scaling.schema import ScaleReport, ScaleRequest, scale_report
from jugcore.solving.schema import SolveReport, SolveRequest, solve_report, target_from_text
from jugcore.suggesting.schema import SuggestionsReport, suggestions_report
from jugcore.tasting.aim import AimDocument
from jugcore.tasting.sheet import BenchmarkDoc

_Ask = TypeVar("_Ask", bound=BaseModel)
#: What a schema is printed of.
_SCHEMAS: dict[str, type[BaseModel]] = {
    "document": MethodDocument, "report": WalkReport, "solve-request": SolveRequest, "solve": SolveReport, "suggestions": SuggestionsReport,
    "scale-request": ScaleRequest, "scale": ScaleReport, "batch": BatchDocument, "sheet": SheetReport, "rescue": RescueReport,
    "benchmark": BenchmarkDoc, "aim": AimDocument, "drink": DrinkDocument, "sizes": DrinkSizesReport,
    "forecast-request": ForecastAsk, "forecast": ForecastReport, "plan-request": LotsProblem, "plan": LotsPlan,
}  # fmt: skip


def problems(error: DomainError) -> dict[str, Any]:
    """The JSON shape of a refusal, the same one the API answers with."""
    each = error.problems if isinstance(error, SeveralProblems) else [error]
    found = []
    for e in each:
        item: dict[str, Any] = {"code": e.code, "field": e.field, "message": e.message, "remedy": e.remedy}
        if isinstance(e, NotUnderstood):
            item |= {"at": e.at, "choices": e.choices}
        found.append(item)
    return {"problems": found}


def _given(pairs: list[str]) -> dict[str, float]:
    """What --given says; the walk itself refuses paths that name nothing."""
    found: dict[str, float] = {}
    for pair in pairs:
        path, _, number = pair.partition("=")
        try:
            found[path.strip()] = float(number)
        except ValueError:
            raise BadDocument(f"given.{path}", f"“{pair}” is not PATH=NUMBER.", "Write, for example, lines.juice.grams=430.") from None
    return found


def _solve_ask(chosen: argparse.Namespace) -> SolveRequest:
    """What the flags of ``solve`` ask for."""
    remedy = "Write, for example, --target brix=64 --target yield_l>=2 --bound water=100..400 --price sugar=1.1."
    try:
        bounds = {}
        for text in chosen.bound:
            line, _, window = text.partition("=")
            low, two, high = window.partition("..")
            if not two:
                raise ValueError(f"“{text}” is not a bound.")
            bounds[line] = {"low": low.strip() or None, "high": high.strip() or None}
        prices = {line: price for line, _, price in (text.partition("=") for text in chosen.price)}
        targets = [target_from_text(text) for text in chosen.target]
        change: Literal["few", "spread"] = "spread" if chosen.spread else "few"
        asked = {"targets": targets, "locks": chosen.lock, "untie": chosen.untie, "free": chosen.free, "bounds": bounds, "prices": prices}
        return _checked(SolveRequest, {**asked, "change": change})
    except ValidationError as error:
        refused = explain(error.errors(include_url=False)[0], {})
        raise BadDocument("ask", refused.message, remedy) from None
    except ValueError as error:
        raise BadDocument("ask", str(error), remedy) from None


def _checked(model: type[_Ask], asked: dict[str, Any]) -> _Ask:
    """What flags ask for, or why it cannot be asked."""
    try:
        return model.model_validate(asked)
    except ValidationError as error:
        raise explain(error.errors(include_url=False)[0], asked) from None


def _answer(chosen: argparse.Namespace, method: Method) -> BaseModel:
    """What a command prints about a document."""
    if chosen.command == "solve":
        return solve_report(method, _solve_ask(chosen), clock=perf_counter)
    if chosen.command == "scale":
        return scale_report(method, _checked(ScaleRequest, {"by": chosen.by, "value": chosen.value, "size_ml": chosen.size_ml, "line": chosen.line}))
    if chosen.command == "ways":
        return suggestions_report(method, chosen.reading, chosen.value, hold=chosen.hold)
    given = _given(chosen.given)
    return report(walk(method, given=given) if given else in_its_pots(method))


def _of_batch(chosen: argparse.Namespace, raw: dict[str, Any]) -> BaseModel:
    """What a command prints about a batch."""
    batch = _checked(BatchDocument, raw)
    if chosen.command == "rescue":
        return rescue_report(batch.actual_batch(), chosen.about, chosen.value)
    log = batch.logged()
    if chosen.now is None and not log:
        raise BadDocument("now", "The log is empty, and no time was given.", "Give --now, or a log with an entry.")
    try:
        now = datetime.fromisoformat(chosen.now) if chosen.now else max(entry.event.at for entry in log)
    except ValueError:
        raise BadDocument("now", f"“{chosen.now}” is not a time.", "Write, for example, 2026-03-02T06:40:00+00:00.") from None
    return batch.sheet(now if now.tzinfo else now.replace(tzinfo=UTC))


def _asked(chosen: argparse.Namespace, raw: dict[str, Any]) -> BaseModel:
    """What a command prints about what it was sent."""
    if chosen.command in ("sheet", "rescue"):
        return _of_batch(chosen, raw)
    if chosen.command == "aim":
        return _checked(AimDocument, raw).report()
    if chosen.command == "forecast":
        return forecast(_checked(ForecastAsk, raw))
    if chosen.command == "plan":
        return solve_lots(_checked(LotsProblem, raw), chosen.seconds, perf_counter)
    if chosen.command == "drink":
        cup = cup_of(load_drink(raw))
        return drink_sizes_report(cup) if chosen.even_out is None else even_out_report(cup, EvenOutRequest(component=chosen.even_out), cup.drink)
    return _answer(chosen, parse_document(raw))


def main(arguments: list[str] | None = None) -> int:
    """Run a command of the shell: read what is asked, print its report as JSON, return the exit code."""
    parser = argparse.ArgumentParser(prog="jug core", description="Walk a method document; JSON in, JSON out.")
    commands = parser.add_subparsers(dest="command", required=True)
    walking = commands.add_parser("walk", help="read a document from standard input, print the report of its walk")
    walking.add_argument(
        "--given", action="append", default=[], metavar="PATH=NUMBER",
        help="replace a figure of the document, e.g. lines.juice.grams=430, stages.boil.brix=62, kitchen.altitude_m=640; may be repeated",
    )  # fmt: skip
    solving = commands.add_parser("solve", help="read a document, print the one nearest to it that meets the targets")
    solving.add_argument(
        "--target", action="append", required=True, metavar="READING=VALUE", help="e.g. brix=64, yield_l>=2, cold_margin=0..5; may be repeated"
    )
    solving.add_argument("--lock", action="append", default=[], metavar="LINE", help="a line whose grams must not change; may be repeated")
    solving.add_argument("--untie", action="append", default=[], metavar="LINE", help="a line that need no longer follow others; may be repeated")
    solving.add_argument("--free", action="append", metavar="PATH", help="a figure that may change, e.g. lines.sugar.grams; else all that can")
    solving.add_argument("--bound", action="append", default=[], metavar="LINE=LOW..HIGH", help="the least and the most a line may weigh")
    solving.add_argument("--price", action="append", default=[], metavar="LINE=NUMBER", help="a price a kilogram: least cost instead of least change")
    solving.add_argument("--spread", action="store_true", help="a little of everything instead of few edits")
    finding = commands.add_parser("ways", help="read a document, print ways to make a reading come to a value")
    finding.add_argument("--reading", required=True, help="e.g. brix")
    finding.add_argument("--value", required=True, type=float)
    finding.add_argument("--hold", action="append", default=[], metavar="READING", help="a reading that must stay as it is; may be repeated")
    scaling = commands.add_parser("scale", help="read a document, print it scaled and split into cooks, with what to weigh")
    scaling.add_argument("--by", choices=("factor", "grams", "litres", "bottles", "line", "pot"), required=True)
    scaling.add_argument("--value", type=float)
    scaling.add_argument("--size-ml", type=float)
    scaling.add_argument("--line")
    sheeting = commands.add_parser("sheet", help="read a batch (its document and its log), print its run sheet")
    sheeting.add_argument("--now", help="the time to say when it is ready from, e.g. 2026-03-02T06:40:00+00:00; else that of its last entry")
    rescuing = commands.add_parser("rescue", help="read a batch, print what can be done about something that is off plan")
    rescuing.add_argument("--about", required=True, help="a reading, e.g. brix, or line:juice")
    rescuing.add_argument("--value", type=float, help="what the reading should be; else what was planned")
    drinking = commands.add_parser("drink", help="read a drink, print everything about it over its sizes")
    drinking.add_argument("--even-out", metavar="COMPONENT", help="the doses of a component that bring its sugars to one value in every size")
    commands.add_parser("aim", help="read a benchmark and a document, print the document aimed at it, both on common axes")
    commands.add_parser("forecast", help="read what was sold, print what days to come will bring, and how wrong each method was")
    planning = commands.add_parser("plan", help="read products, needs, stock and what days have room for, print what to make when")
    planning.add_argument("--seconds", type=float, default=10.0, help="how long it may take")
    reading = commands.add_parser("read", help="read a file from elsewhere (a document, a schema.org recipe, a table, lines), print its rows")
    reading.add_argument("--name", default="", help="what the file is called")
    schema = commands.add_parser("schema", help="print a JSON Schema")
    schema.add_argument("what", choices=tuple(_SCHEMAS), nargs="*", default="document", help="of several, one object with each by its name")
    commands.add_parser("version", help="print the version")
    chosen = parser.parse_args(arguments)
    if chosen.command == "version":
        print(__version__)
        return 0
    if chosen.command == "schema":
        found = {what: _SCHEMAS[what].model_json_schema() for what in ([chosen.what] if isinstance(chosen.what, str) else chosen.what)}
        print(json.dumps(found if len(found) > 1 else next(iter(found.values())), indent=2, ensure_ascii=False))
        return 0
    try:
        if chosen.command == "read":
            print(read_file(sys.stdin.read(), chosen.name).model_dump_json(indent=2))
            return 0
        raw = json.load(sys.stdin)
        if not isinstance(raw, dict):
            raise DomainError("document", "The document is not a JSON object.", "Start it with { and a format.")
        answer = _asked(chosen, raw)
        print(answer.model_dump_json(indent=2))
    except json.JSONDecodeError as error:
        print(json.dumps({"problems": [{"code": "not_json", "field": "document", "message": f"Line {error.lineno}: {error.msg}.",
                                        "remedy": "Send one JSON document."}]}), file=sys.stderr)  # fmt: skip
        return 2
    except DomainError as error:
        print(json.dumps(problems(error), ensure_ascii=False), file=sys.stderr)
        return 2
    return 0


if __name__ == "__main__":
    # Whoever reads no further, as “head” does, ends this without a word.
    signal.signal(signal.SIGPIPE, signal.SIG_DFL)
    sys.exit(main())
