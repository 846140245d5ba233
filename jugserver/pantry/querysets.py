"""Selecting ingredients and lots."""

from __future__ import annotations

from typing import Any, Self

from django.db import models
from django.db.models import Exists, OuterRef, Q

from jugserver.accounts.models import Site


class IngredientQuerySet(models.QuerySet[Any]):
    """Chainable; every one of them is of a site or of the library."""

    def seen_by(self, site: Site) -> Self:
        """The site's own in use, and what of the library no row of the site stands before."""
        own = self.model._default_manager.filter(site=site, key=OuterRef("key"))
        return self.filter(Q(site=site, archived_at__isnull=True) | Q(Q(site__isnull=True), ~Exists(own)))

    def library(self) -> Self:
        return self.filter(site__isnull=True)

    def of_site(self, site: Site) -> Self:
        return self.filter(site=site)
