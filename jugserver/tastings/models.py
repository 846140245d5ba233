"""Benchmarks: things known to aim for."""

from __future__ import annotations

import uuid

from django.conf import settings
from django.db import models
from django.db.models import Q

from jugserver.accounts.models import Site
from jugserver.tastings.querysets import BenchmarkQuerySet


class Benchmark(models.Model):
    """Something to aim for, as it was written down: its label, its pack, what was tasted. ``number`` rises with every change."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    site = models.ForeignKey(Site, on_delete=models.PROTECT, related_name="benchmarks")
    name = models.CharField(max_length=200)
    document = models.JSONField()
    number = models.PositiveIntegerField(default=1)
    archived_at = models.DateTimeField(null=True, blank=True)
    changed_at = models.DateTimeField(auto_now=True)
    changed_by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")

    objects = BenchmarkQuerySet.as_manager()

    class Meta:
        ordering = ["name"]
        constraints = [
            models.CheckConstraint(condition=~Q(name=""), name="benchmark_has_a_name"),
            models.UniqueConstraint(fields=["site", "name"], condition=Q(archived_at__isnull=True), name="benchmark_name_once_a_site"),
        ]

    def __str__(self) -> str:
        return str(self.name)
