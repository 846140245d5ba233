"""Formulas, every save of their drafts, and their versions."""

from __future__ import annotations

import uuid

from django.conf import settings
from django.contrib.postgres.fields import ArrayField
from django.contrib.postgres.indexes import GinIndex, OpClass
from django.db import models
from django.db.models import F, Q

from jugserver.accounts.models import Site
from jugserver.formulas.querysets import FormulaQuerySet
from jugserver.tracking.tracked import tracked


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


class FormulaState(models.Model):
    """What lists show of a formula and what its equipment meets, worked out when it is saved; ``stale`` once what it rests on is another.

    ``gear`` says by kind which ingredients it meets, and which allergens of those that the document carries itself; ``uses`` are
    all that it takes of the pantry.
    """

    formula = models.OneToOneField(Formula, on_delete=models.CASCADE, related_name="state", primary_key=True)
    site = models.ForeignKey(Site, on_delete=models.CASCADE, related_name="+", db_index=False)
    name = models.CharField(max_length=200, default="")
    touched_at = models.DateTimeField()
    archived = models.BooleanField(default=False)
    draft = models.PositiveIntegerField()
    core_version = models.CharField(max_length=40)
    stale = models.BooleanField(default=False)
    mark = models.JSONField(null=True)
    trouble = models.TextField(null=True)
    gear = models.JSONField(default=dict)
    gear_at = models.BigIntegerField(null=True, help_text="when its gear or name last was another, or it was put away or brought back [µs]")
    uses = ArrayField(models.CharField(max_length=64), default=list)
    search = models.TextField(default="")

    class Meta:
        indexes = [
            models.Index(fields=["site", "-touched_at", "-formula"], condition=Q(archived=False), name="formula_state_lately"),
            models.Index(
                fields=["site", "-touched_at", "-formula"], condition=Q(archived=False, trouble__isnull=False), name="formula_state_troubled"
            ),
            models.Index(fields=["site", "-touched_at"], condition=Q(stale=True), name="formula_state_stale"),
            models.Index(fields=["core_version"], name="formula_state_by_release"),
            models.Index(fields=["site", "gear_at"], condition=Q(archived=False), name="formula_state_gear"),
            models.Index(fields=["site", "-gear_at"], name="formula_state_gear_lately"),
            GinIndex(fields=["uses"], name="formula_state_uses", fastupdate=False),
            GinIndex(OpClass(F("search"), name="gin_trgm_ops"), name="formula_state_words", fastupdate=False),
        ]

    def __str__(self) -> str:
        return f"{self.formula_id} at draft {self.draft}"


class FormulasMoved(models.Model):
    """When a site's formulas last put something else into its equipment: what processes keep of it goes by that. A time, since a number
    of what was rolled back would come again."""

    site = models.OneToOneField(Site, on_delete=models.CASCADE, related_name="+", primary_key=True)
    at = models.BigIntegerField(help_text="[µs]")

    def __str__(self) -> str:
        return f"{self.site_id} at {self.at}"


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


class VersionPart(models.Model):
    """That a version of a formula of ours stands in another, and how much of it for a gram of product. Rows are only added.

    What is used was kept before: its number in the database is lower, so that no circle can be kept.
    """

    version = models.ForeignKey(Version, on_delete=models.PROTECT, related_name="parts")
    uses = models.ForeignKey(Version, on_delete=models.PROTECT, related_name="used_in")
    grams_per_g = models.FloatField()

    class Meta:
        ordering = ["version", "uses"]
        constraints = [
            models.UniqueConstraint(fields=["version", "uses"], name="version_part_once"),
            models.CheckConstraint(condition=Q(uses__lt=F("version")), name="version_uses_what_was_kept_before"),
            models.CheckConstraint(condition=Q(grams_per_g__gte=0), name="version_part_is_possible"),
        ]

    def __str__(self) -> str:
        return f"{self.uses} in {self.version}"


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
