"""What changed, over HTTP."""

from __future__ import annotations

from django.http import HttpRequest
from ninja import Router

from jugserver.accounts.signed_in import signed_in
from jugserver.audit import services
from jugserver.audit.schemas import ChangesOut
from jugserver.http.paging import Cursor
from jugserver.http.problems import Problem

router = Router()


@router.get("", response={200: ChangesOut, 401: Problem, 403: Problem, 422: Problem}, operation_id="changes_list")
def list_changes(request: HttpRequest, cursor: Cursor = "") -> ChangesOut:
    """Who changed formulas, kitchen, pantry, lots, people and PINs, from where; twenty at a time, the newest first."""
    user, _ = signed_in(request)
    return services.changes_of(actor=user, cursor=cursor)
