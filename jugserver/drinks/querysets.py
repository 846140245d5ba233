"""Chainable selections of drinks."""

from __future__ import annotations

from django.db import models

from jugserver.accounts.models import Site


class DrinkQuerySet(models.QuerySet):
    def of_site(self, site: Site) -> DrinkQuerySet:
        """What people of a site may see; anything else does not exist for them."""
        return self.filter(site=site, archived_at__isnull=True)
