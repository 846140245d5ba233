"""Formulas, every save of their drafts, and their versions."""

from __future__ import annotations

import uuid

from django.conf import settings
from django.db import models
from django.db.models import Q

from jugserver.accounts.models import Site
from jugserver.audit.tracking import tracked
from jugserver.formulas.querysets import FormulaQuerySet


@tracked(exclude=["touched_at"])
class Formula(models.Model):
    """A formula of a site. ``draft`` is the number of its newest save."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    site = models.ForeignKey(Site, on_delete=models.PROTECT, related_name="formulas")
    name = models.CharField(max_length=200)
    family = models.CharField(max_length=200, blank=True)
    school = models.CharField(max_length=200, blank=True)
    draft = models.PositiveIntegerField(default=1)
    archived_at = models.DateTimeField(null=True, blank=True)
    created_at = models.DateTimeField(auto_now_add=True)
    touched_at = models.DateTimeField()

    objects = FormulaQuerySet.as_manager()

    class Meta:
        ordering = ["-touched_at"]
        indexes = [models.Index(fields=["site", "-touched_at"], name="formula_lately")]
        constraints = [
            models.CheckConstraint(condition=~Q(name=""), name="formula_has_a_name"),
            models.UniqueConstraint(fields=["site", "name"], condition=Q(archived_at__isnull=True), name="formula_name_once_a_site"),
        ]

    def __str__(self) -> str:
        return str(self.name)


class DraftSave(models.Model):
    """One save of a draft, whole. Never changed; the newest is the draft."""

    formula = models.ForeignKey(Formula, on_delete=models.CASCADE, related_name="saves")
    number = models.PositiveIntegerField()
    document = models.JSONField()
    saved_by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+", null=True)
    saved_at = models.DateTimeField(auto_now_add=True)
    core_version = models.CharField(max_length=40)

    class Meta:
        ordering = ["-number"]
        constraints = [models.UniqueConstraint(fields=["formula", "number"], name="draft_number_once")]

    def __str__(self) -> str:
        return f"{self.formula} draft {self.number}"


@tracked(fields=["formula", "number", "note"], added_only=True)
class Version(models.Model):
    """A formula as it was when somebody said: keep it so. Frozen whole; a trigger refuses any change.

    ``document`` carries its kitchen and substances, so that it walks the same for ever;
    ``readings`` are what it came to then, by the core of ``core_version``.
    """

    formula = models.ForeignKey(Formula, on_delete=models.PROTECT, related_name="versions")
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
            models.UniqueConstraint(fields=["formula", "number"], name="version_number_once"),
            models.CheckConstraint(condition=Q(number__gte=1), name="version_number_from_one"),
            models.CheckConstraint(condition=~Q(note=""), name="version_says_why"),
        ]

    def __str__(self) -> str:
        return f"{self.formula} version {self.number}"


@tracked(added_only=True)
class Readiness(models.Model):
    """That a version may be served, or no longer. Rows are only added; the newest of a version holds.

    ``questions`` are what about its keeping was not answered when somebody said so; then there is a reason.
    """

    version = models.ForeignKey(Version, on_delete=models.PROTECT, related_name="readiness")
    ready = models.BooleanField()
    questions = models.JSONField(default=list)
    reason = models.CharField(max_length=500, blank=True)
    said_by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    said_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["-id"]
        constraints = [
            models.CheckConstraint(condition=Q(ready=False) | Q(questions=[]) | ~Q(reason=""), name="ready_unanswered_says_why"),
        ]

    def __str__(self) -> str:
        return f"{self.version} {'ready' if self.ready else 'not ready'}"
