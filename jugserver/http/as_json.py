"""Answers written as they are: a report is its own schema already, and to be checked against it again would double the time."""

from __future__ import annotations

from django.http import HttpResponse
from pydantic import BaseModel


def as_json(found: BaseModel | str) -> HttpResponse:
    """A report, or the JSON of one, as the answer."""
    return HttpResponse(found if isinstance(found, str) else found.model_dump_json(), content_type="application/json")
