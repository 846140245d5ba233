"""What a site pays besides ingredients, and what of each formula its log says is poured away."""

from __future__ import annotations

from datetime import timedelta

from django.db.models import Sum
from django.utils import timezone

from jugcore.money.rates import Rates
from jugcore.money.waste import LOOKS_BACK_DAYS, waste_share
from jugserver.accounts.models import Site
from jugserver.kitchen.business import business_of
from jugserver.stock.models import Container


def rates_of(site: Site) -> Rates:
    """What a site pays now, and how much of what it filled lately was poured away, formula by formula. Two queries."""
    paid = business_of(site).business
    return Rates(
        energy_kwh=paid.energy_price_kwh,
        wage_h=paid.wage_h,
        container=paid.container_price,
        label=paid.label_price,
        least_margin=paid.least_margin,
        waste=_poured_away(site),
    )


def _poured_away(site: Site) -> dict[str, float]:
    """The share of what was filled of each formula lately that was poured away since; those are left out of which too little was filled to say."""
    since = timezone.localdate() - timedelta(days=LOOKS_BACK_DAYS)
    rows = Container.objects.filter(site=site, voided_at__isnull=True, made_on__gte=since).values("formula")
    found = {}
    for row in rows.annotate(filled=Sum("filled_g"), poured=Sum("poured_g")).order_by("formula"):
        share = waste_share(row["filled"], row["poured"])
        if share is not None:
            found[str(row["formula"])] = share
    return found
