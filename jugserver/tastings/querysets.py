"""Chainable selections of benchmarks."""

from __future__ import annotations

from django.db import models

from jugserver.accounts.models import Site


class BenchmarkQuerySet(models.QuerySet):
    def of_site(self, site: Site) -> BenchmarkQuerySet:
        """What people of a site may see; anything else does not exist for them."""
        return self.filter(site=site, archived_at__isnull=True).select_related("changed_by")
