"""The door for documents, whatever release wrote them."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from pydantic import ValidationError

from jugcore.errors import together
from jugcore.method.document import MethodDocument
from jugcore.method.document_formats import METHOD
from jugcore.method.schema_messages import explain


def load_document(raw: Mapping[str, Any]) -> MethodDocument:
    """A document from plain data: brought to the newest format and checked against its shape.

    Raises SeveralProblems (or the single DomainError) listing everything wrong, each with its field.
    """
    current = METHOD.current(raw)
    try:
        return MethodDocument.model_validate(current)
    except ValidationError as error:
        raise together([explain(each, current) for each in error.errors(include_url=False)]) from None
