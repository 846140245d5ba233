"""Chainable selections of formulas."""

from __future__ import annotations

from typing import TYPE_CHECKING

from django.db import models
from django.db.models import OuterRef, Subquery

if TYPE_CHECKING:
    from jugserver.accounts.models import Site


class FormulaQuerySet(models.QuerySet):
    def of_site(self, site: Site) -> FormulaQuerySet:
        """What people of a site may see; anything else does not exist for them."""
        return self.filter(site=site, archived_at__isnull=True)

    def with_draft(self) -> FormulaQuerySet:
        """With the newest document, who saved it and when, in the one query."""
        from jugserver.formulas.models import DraftSave

        newest = DraftSave.objects.filter(formula=OuterRef("pk"), number=OuterRef("draft"))
        return self.annotate(
            document=Subquery(newest.values("document")[:1]),
            saved_by_name=Subquery(newest.values("saved_by__display_name")[:1]),
        )
