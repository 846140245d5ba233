"""The API, put together from the rooms' routers."""

from __future__ import annotations

from collections.abc import Callable
from functools import wraps
from typing import Any

from django.conf import settings
from django.http import HttpRequest, HttpResponse
from ninja.security import SessionAuth

from jugcore import __version__
from jugserver.accounts.api import people_router
from jugserver.accounts.api import router as accounts
from jugserver.audit.api import router as changes
from jugserver.batches.api import router as batches
from jugserver.batches.stream import router as stream
from jugserver.bench.api import router as asks
from jugserver.calculators.api import router as calculators
from jugserver.config.description import DescribedApi
from jugserver.drinks.api import router as drinks
from jugserver.formulas.api import compare_router
from jugserver.formulas.api import router as formulas
from jugserver.http.problems import one_problem, problem_response, register
from jugserver.kitchen.api import business_router
from jugserver.kitchen.api import router as kitchen
from jugserver.money.api import router as money
from jugserver.pantry.api import router as pantry
from jugserver.pantry.api import suppliers_router as suppliers
from jugserver.planning.api import router as planning
from jugserver.sales.api import router as sales
from jugserver.stock.api import places_router
from jugserver.stock.api import router as stock
from jugserver.tastings.api import router as benchmarks

_View = Callable[..., HttpResponse]


def _own_people_only(view: _View) -> _View:
    """The API's description is for who is signed in; in the demo for everybody."""

    @wraps(view)
    def shown(request: HttpRequest, *arguments: Any, **named: Any) -> HttpResponse:
        if not settings.DEMO_MODE and not request.user.is_authenticated:
            return problem_response(401, one_problem("signed_out", "Nobody is signed in.", "Sign in and try again."))
        return view(request, *arguments, **named)

    return shown


api = DescribedApi(
    title="Oaken Jug",
    version=__version__,
    description="Formulas as methods, walked by matter. Units stand in the field names. "
    "Refusals are application/problem+json with field, message and remedy.",
    auth=SessionAuth(),
    urls_namespace="api",
    docs_decorator=_own_people_only,
)
api.add_router("/session", accounts, tags=["session"])
api.add_router("/people", people_router, tags=["session"])
api.add_router("/changes", changes, tags=["session"])
api.add_router("/kitchen", kitchen, tags=["kitchen"])
api.add_router("/business", business_router, tags=["kitchen"])
api.add_router("/substances", pantry, tags=["pantry"])
api.add_router("/suppliers", suppliers, tags=["pantry"])
api.add_router("/calculators", calculators, tags=["calculators"])
api.add_router("/formulas", formulas, tags=["formulas"])
api.add_router("", asks, tags=["walk"])
api.add_router("/compare", compare_router, tags=["formulas"])
api.add_router("/batches", batches, tags=["batches"])
api.add_router("/stock", stock, tags=["stock"])
api.add_router("/money", money, tags=["money"])
api.add_router("/places", places_router, tags=["stock"])
api.add_router("/drinks", drinks, tags=["drinks"])
api.add_router("/sales", sales, tags=["sales"])
api.add_router("/plan", planning, tags=["plan"])
api.add_router("/stream", stream, tags=["batches"])
api.add_router("/benchmarks", benchmarks, tags=["tastings"])
register(api)
