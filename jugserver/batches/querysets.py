"""Chainable selections of batches."""

from __future__ import annotations

from django.db import models

from jugserver.accounts.models import Site


class BatchQuerySet(models.QuerySet):
    def of_site(self, site: Site) -> BatchQuerySet:
        """What people of a site may see; anything else does not exist for them."""
        return self.filter(site=site)

    def real(self) -> BatchQuerySet:
        """Those that were cooked: what was practised counts nowhere."""
        return self.filter(kind="real")

    def in_full(self) -> BatchQuerySet:
        """With who started it, from which version, and its state, in the one query."""
        return self.select_related("started_by", "version", "state", "site")

    def behind(self) -> BatchQuerySet:
        """Those whose state does not know the newest entry."""
        return self.filter(behind=True)
