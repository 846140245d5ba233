"""The API's description as it truly answers: problems, files and streams by their own media types, and what any request may get."""

from __future__ import annotations

from typing import Any

from ninja import NinjaAPI

from jugserver.http.media import MEDIA
from jugserver.repeats.once import HEADER, MOST_LONG

PROBLEM_JSON = "application/problem+json"
#: What any request may be answered with, whatever its operation says itself.
_ANY = {
    "400": "It could not be read, or the page is stale.",
    "403": "Not allowed.",
    "413": "It is larger than this takes.",
    "422": "Something in it does not add up.",
    "503": "The app or its database is busy or away for a moment.",
}


class DescribedApi(NinjaAPI):
    """Ninja's own, with a description that names every answer."""

    def get_openapi_schema(self, **how: Any) -> Any:
        found = super().get_openapi_schema(**how)
        problem = {"$ref": "#/components/schemas/Problem"}
        for methods in found["paths"].values():
            for method, operation in methods.items():
                answers: dict[str, Any] = {str(status): answer for status, answer in operation["responses"].items()}
                handed_out = operation.pop(MEDIA, None)
                for answer in answers.values():
                    content = answer.get("content", {})
                    if handed_out and "application/json" in content and not _is_problem(content):
                        answer["content"] = {handed_out: {"schema": {"type": "string", **({"format": "binary"} if "pdf" in handed_out else {})}}}
                    elif _is_problem(content):
                        answer["content"] = {PROBLEM_JSON: {"schema": problem}}
                for status, words in _ANY.items():
                    answers.setdefault(status, {"description": words, "content": {PROBLEM_JSON: {"schema": problem}}})
                operation["responses"] = dict(sorted(answers.items()))
                if method == "post" and "201" in answers:
                    operation.setdefault("parameters", []).append(_REPEAT)
        return found


#: A parameter of whatever makes something.
_REPEAT = {
    "in": "header", "name": HEADER, "required": False, "schema": {"type": "string", "maxLength": MOST_LONG, "minLength": 1},
    "description": "Made by who sends it, another for every thing to be made: what is sent again with it is made once, "
    "and answered as it was then. It holds for a day.",
}  # fmt: skip


def _is_problem(content: dict[str, Any]) -> bool:
    schema = content.get("application/json", {}).get("schema", {})
    return str(schema.get("$ref", "")).endswith("/Problem")
