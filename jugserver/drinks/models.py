"""Drinks, every save of their drafts, their versions, and whether these may be served."""

from __future__ import annotations

import uuid

from django.conf import settings
from django.db import models
from django.db.models import Q

from jugserver.accounts.models import Site
from jugserver.drinks.querysets import DrinkQuerySet
from jugserver.formulas.models import Version
from jugserver.tracking.tracked import tracked


@tracked(exclude=["touched_at"])
class Drink(models.Model):
    """A drink of a site. ``draft`` is the number of its newest save."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    site = models.ForeignKey(Site, on_delete=models.PROTECT, related_name="drinks")
    name = models.CharField(max_length=200)
    draft = models.PositiveIntegerField(default=1)
    archived_at = models.DateTimeField(null=True, blank=True)
    created_at = models.DateTimeField(auto_now_add=True)
    touched_at = models.DateTimeField()

    objects = DrinkQuerySet.as_manager()

    class Meta:
        ordering = ["-touched_at"]
        indexes = [models.Index(fields=["site", "-touched_at"], name="drink_lately")]
        constraints = [
            models.CheckConstraint(condition=~Q(name=""), name="drink_has_a_name"),
            models.UniqueConstraint(fields=["site", "name"], condition=Q(archived_at__isnull=True), name="drink_name_once_a_site"),
        ]

    def __str__(self) -> str:
        return str(self.name)


class DrinkSave(models.Model):
    """One save of a drink's draft, whole. Never changed; the newest is the draft."""

    drink = models.ForeignKey(Drink, on_delete=models.PROTECT, related_name="saves")
    number = models.PositiveIntegerField()
    document = models.JSONField()
    saved_by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    saved_at = models.DateTimeField(auto_now_add=True)
    core_version = models.CharField(max_length=40)

    class Meta:
        ordering = ["-number"]
        constraints = [models.UniqueConstraint(fields=["drink", "number"], name="drink_save_number_once")]

    def __str__(self) -> str:
        return f"{self.drink} draft {self.number}"


@tracked(fields=["drink", "number", "note"], added_only=True)
class DrinkVersion(models.Model):
    """A drink as it was when somebody said: keep it so. Frozen whole with its kitchen and what goes in; a trigger refuses any change."""

    drink = models.ForeignKey(Drink, on_delete=models.PROTECT, related_name="versions")
    number = models.PositiveIntegerField()
    draft = models.PositiveIntegerField()
    note = models.CharField(max_length=500)
    document = models.JSONField()
    fingerprint = models.CharField(max_length=64)
    readings = models.JSONField()
    saved_by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    saved_at = models.DateTimeField(auto_now_add=True)
    core_version = models.CharField(max_length=40)

    class Meta:
        ordering = ["-number"]
        constraints = [
            models.UniqueConstraint(fields=["drink", "number"], name="drink_version_number_once"),
            models.CheckConstraint(condition=Q(number__gte=1), name="drink_version_from_one"),
            models.CheckConstraint(condition=~Q(note=""), name="drink_version_says_why"),
        ]

    def __str__(self) -> str:
        return f"{self.drink} version {self.number}"


class DrinkPart(models.Model):
    """That a version of a formula goes into a version of a drink, and how many grams in each size, by the size's id. Rows are only added."""

    drink_version = models.ForeignKey(DrinkVersion, on_delete=models.PROTECT, related_name="parts")
    uses = models.ForeignKey(Version, on_delete=models.PROTECT, related_name="in_drinks")
    grams = models.JSONField()

    class Meta:
        ordering = ["drink_version", "uses"]
        constraints = [models.UniqueConstraint(fields=["drink_version", "uses"], name="drink_part_once")]

    def __str__(self) -> str:
        return f"{self.uses} in {self.drink_version}"


@tracked(added_only=True)
class DrinkReadiness(models.Model):
    """That a version of a drink may be served, or no longer. Rows are only added; the newest of a version holds.

    ``questions`` are what was against it when somebody said so; then there is a reason.
    """

    drink_version = models.ForeignKey(DrinkVersion, on_delete=models.PROTECT, related_name="readiness")
    ready = models.BooleanField()
    questions = models.JSONField(default=list)
    reason = models.CharField(max_length=500, blank=True)
    said_by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    said_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["-id"]
        constraints = [
            models.CheckConstraint(condition=Q(ready=False) | Q(questions=[]) | ~Q(reason=""), name="drink_ready_all_the_same_says_why"),
        ]

    def __str__(self) -> str:
        return f"{self.drink_version} {'ready' if self.ready else 'not ready'}"
