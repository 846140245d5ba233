"""Chainable selections of formulas."""

from __future__ import annotations

from django.db import models

from jugserver.accounts.models import Site


class FormulaQuerySet(models.QuerySet):
    def of_site(self, site: Site) -> FormulaQuerySet:
        """What people of a site may see; anything else does not exist for them."""
        return self.filter(site=site, archived_at__isnull=True)
