"""``python -m jugcore walk < doc.json``: the engine from a shell."""

from __future__ import annotations

import argparse
import json
import sys
from typing import Any

from jugcore import __version__
from jugcore.errors import BadDocument, DomainError, NotUnderstood, SeveralProblems
from jugcore.formula.report import report
from jugcore.formula.shapes import WalkReport
from jugcore.method.document import MethodDocument, parse_document
from jugcore.method.walk import walk


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


def main(arguments: list[str] | None = None) -> int:
    parser = argparse.ArgumentParser(prog="jug core", description="Walk a method document; JSON in, JSON out.")
    commands = parser.add_subparsers(dest="command", required=True)
    walking = commands.add_parser("walk", help="read a document from standard input, print the report of its walk")
    walking.add_argument(
        "--given", action="append", default=[], metavar="PATH=NUMBER",
        help="replace a figure of the document, e.g. lines.juice.grams=430, stages.boil.brix=62, kitchen.altitude_m=640; may be repeated",
    )  # fmt: skip
    schema = commands.add_parser("schema", help="print a JSON Schema")
    schema.add_argument("what", choices=("document", "report"), nargs="?", default="document")
    commands.add_parser("version", help="print the version")
    chosen = parser.parse_args(arguments)
    if chosen.command == "version":
        print(__version__)
        return 0
    if chosen.command == "schema":
        model = MethodDocument if chosen.what == "document" else WalkReport
        print(json.dumps(model.model_json_schema(), indent=2, ensure_ascii=False))
        return 0
    try:
        raw = json.load(sys.stdin)
        if not isinstance(raw, dict):
            raise DomainError("document", "The document is not a JSON object.", "Start it with { and a format.")
        print(report(walk(parse_document(raw), given=_given(chosen.given))).model_dump_json(indent=2))
    except json.JSONDecodeError as error:
        print(json.dumps({"problems": [{"code": "not_json", "field": "document", "message": f"Line {error.lineno}: {error.msg}.",
                                        "remedy": "Send one JSON document."}]}), file=sys.stderr)  # fmt: skip
        return 2
    except DomainError as error:
        print(json.dumps(problems(error), ensure_ascii=False), file=sys.stderr)
        return 2
    return 0


if __name__ == "__main__":
    sys.exit(main())
