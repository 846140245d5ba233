"""Chainable selections of batches."""

from __future__ import annotations

import re
from dataclasses import dataclass
from datetime import date
from typing import TYPE_CHECKING

from django.db import models
from django.db.models import F, Q

if TYPE_CHECKING:
    from jugserver.accounts.models import Site


#: What a list shows of a batch, by a number that moves with it: states kept for a list of before are made anew.
SUMMARY_SHAPE = 7


@dataclass(frozen=True)
class Wanted:
    """Which batches are asked for; nothing asks for all."""

    words: str = ""
    status: str = ""
    off_plan: bool = False
    since: date | None = None
    until: date | None = None
    cooling: bool = False


class BatchQuerySet(models.QuerySet):
    def of_site(self, site: Site) -> BatchQuerySet:
        """What people of a site may see; anything else does not exist for them."""
        return self.filter(site=site)

    def in_full(self) -> BatchQuerySet:
        """With who started it, from which version, and its state, in the one query."""
        return self.select_related("started_by", "version", "state", "site")

    def behind(self) -> BatchQuerySet:
        """Those whose state does not know the newest entry, or was made when a list showed other things."""
        # “Contains” answers of a summary without a shape too; comparing its shape would answer neither yes nor no.
        return self.filter(Q(state__isnull=True) | ~Q(state__seq=F("last_seq")) | ~Q(state__summary__contains={"shape": SUMMARY_SHAPE}))

    def tried_in_a_funnel(self) -> BatchQuerySet:
        """Those that were timed through a funnel the day after."""
        return self.filter(state__summary__flow__0__isnull=False)

    def wanted(self, wanted: Wanted) -> BatchQuerySet:
        """Those asked for: every word in the name, the number, who started it, the notes or the reasons."""
        found = self
        for word in wanted.words.split():
            fits = Q(name__icontains=word) | Q(started_by__display_name__icontains=word) | Q(state__summary__words__icontains=word)
            if re.fullmatch(r"\d{1,9}", word):
                fits |= Q(number=int(word))
            found = found.filter(fits)
        if wanted.status:
            found = found.filter(state__status=wanted.status)
        if wanted.off_plan:
            found = found.filter(state__summary__off_plan__gt=0)
        if wanted.cooling:
            found = found.filter(state__summary__cooling__by__isnull=False)
        if wanted.since is not None:
            found = found.filter(started_at__date__gte=wanted.since)
        if wanted.until is not None:
            found = found.filter(started_at__date__lte=wanted.until)
        return found
