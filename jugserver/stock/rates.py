"""What a site pays besides ingredients, and what of each formula its log says is poured away."""

from __future__ import annotations

import re
from collections.abc import Iterable, Mapping
from datetime import timedelta
from uuid import UUID

from django.db.models import F, Sum
from django.utils import timezone

from jugcore.matter.substance_document import SubstanceDoc
from jugcore.money.rates import Rates
from jugcore.money.waste import LOOKS_BACK_DAYS, waste_share
from jugserver.accounts.models import Site
from jugserver.kitchen.business import business_of
from jugserver.stock.models import Container

#: A formula of this site; a document from elsewhere may name others.
_UUID = re.compile(r"[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}")


def rates_of(site: Site, formulas: Iterable[str]) -> Rates:
    """What a site pays now, and how much of what it filled lately of some formulas was poured away. One query, or two where any is named."""
    paid = business_of(site).business
    return Rates(
        energy_kwh=paid.energy_price_kwh,
        wage_h=paid.wage_h,
        container=paid.container_price,
        label=paid.label_price,
        least_margin=paid.least_margin,
        waste=_poured_away(site, set(formulas)),
    )


def made_in(substances: Mapping[str, SubstanceDoc]) -> set[str]:
    """Ids of the formulas that stand in what a document carries, at any depth."""
    made = [document.made_from for document in substances.values() if document.made_from is not None]
    return {used.formula for each in made for used in (each.version, *each.uses)}


def _poured_away(site: Site, formulas: set[str]) -> dict[str, float]:
    """Of what was made of each formula lately and has left its containers, the share poured away; left out where that is too little to say."""
    known = [UUID(id) for id in formulas if _UUID.fullmatch(id)]
    if not known:
        return {}
    since = timezone.localdate() - timedelta(days=LOOKS_BACK_DAYS)
    rows = Container.objects.filter(site=site, formula__in=known, stage="", voided_at__isnull=True, made_on__gte=since).values("formula")
    found = {}
    for row in rows.annotate(used=Sum(F("filled_g") - F("mass_g")), poured=Sum("poured_g")).order_by("formula"):
        share = waste_share(row["used"], row["poured"])
        if share is not None:
            found[str(row["formula"])] = share
    return found
