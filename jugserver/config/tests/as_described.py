"""Whether an answer is one that the API's description allows: its status, its type, its body."""

from __future__ import annotations

import json
from functools import cache
from typing import Any

import jsonschema_rs
from django.http import HttpResponse

from jugserver.config.tests.shop import described


def not_as_described(method: str, path: str, response: HttpResponse) -> str:
    """What of an answer the description does not know, in words; nothing if it is as described. ``path`` has its parameters named."""
    answers = described()["paths"][path][method.lower()]["responses"]
    declared = answers.get(str(response.status_code))
    if declared is None:
        return f"{response.status_code} is not declared"
    content: dict[str, Any] = declared.get("content", {})
    if not content:
        return "" if getattr(response, "streaming", False) or not response.content else "a body is not declared"
    type = response["Content-Type"].split(";")[0]
    if type not in content:
        return f"{type} is not declared of {response.status_code}"
    if not type.endswith("json"):
        return ""
    complaint = next(iter(_checks(method.lower(), path, response.status_code, type).iter_errors(json.loads(response.content))), None)
    return "" if complaint is None else f"{complaint.message} at {list(complaint.instance_path)}"


def operation_of(id: str) -> tuple[str, str]:
    """Method and path of an operation."""
    return next((method, path) for path, methods in described()["paths"].items() for method, each in methods.items() if each["operationId"] == id)


@cache
def _checks(method: str, path: str, status: int, type: str) -> Any:
    whole = described()
    schema = whole["paths"][path][method]["responses"][str(status)]["content"][type]["schema"]
    return jsonschema_rs.validator_for({**schema, "components": whole["components"]})
