"""Batches and their logs. A log is only ever added to; a trigger refuses anything else."""

from __future__ import annotations

import uuid

from django.conf import settings
from django.contrib.postgres.fields import ArrayField
from django.contrib.postgres.indexes import GinIndex, OpClass
from django.db import models
from django.db.models import F, Q
from django.utils import timezone

from jugserver.accounts.models import Site
from jugserver.batches.querysets import BatchQuerySet
from jugserver.formulas.models import Formula, Version

#: What a list shows of a batch, by a number that moves with it: states kept for a list of before are made anew.
SUMMARY_SHAPE = 9


class Kind(models.TextChoices):
    """Cooked, or practised: what is practised fills no bottle and counts nowhere."""

    REAL = "real"
    PRACTICE = "practice"


class Batch(models.Model):
    """A version resolved to the kitchen it is cooked in: so much of it, in these pots.

    ``document`` is what it was started from and never changes; what happened is in its log.
    ``last_seq`` is the number of the newest entry, given under this row's lock.
    """

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    site = models.ForeignKey(Site, on_delete=models.PROTECT, related_name="batches")
    kind = models.CharField(max_length=10, choices=Kind.choices, default=Kind.REAL)
    number = models.PositiveIntegerField(help_text="counted within its kind")
    formula = models.ForeignKey(Formula, on_delete=models.PROTECT, related_name="batches")
    version = models.ForeignKey(Version, on_delete=models.PROTECT, related_name="batches")
    name = models.CharField(max_length=200)
    factor = models.FloatField(null=True, help_text="how many times its version it is; unknown of batches of before")
    document = models.JSONField()
    fingerprint = models.CharField(max_length=64)
    core_version = models.CharField(max_length=40)
    started_by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    started_at = models.DateTimeField()
    last_seq = models.PositiveIntegerField(default=0)
    chain = models.CharField(max_length=64, blank=True, default="", help_text="the mark of its newest entry; none before its first")
    touched_at = models.DateTimeField()
    behind = models.BooleanField(default=True, help_text="whether what lists show of it does not know its newest entry")

    objects = BatchQuerySet.as_manager()

    class Meta:
        ordering = ["-started_at"]
        indexes = [
            models.Index(fields=["site", "-started_at"], name="batch_lately"),
            models.Index(fields=["site"], condition=Q(behind=True), name="batch_behind"),
        ]
        constraints = [
            models.UniqueConstraint(fields=["site", "kind", "number"], name="batch_number_once_a_kind"),
            models.CheckConstraint(condition=Q(kind__in=["real", "practice"]), name="batch_kind_is_known"),
            models.CheckConstraint(condition=Q(number__gte=1), name="batch_number_from_one"),
            models.CheckConstraint(condition=~Q(name=""), name="batch_has_a_name"),
        ]

    @property
    def practised(self) -> bool:
        """Whether nothing of it counts."""
        return self.kind == Kind.PRACTICE

    @property
    def called(self) -> str:
        """“batch 0041”, “practice 0003”."""
        return f"{'practice' if self.practised else 'batch'} {self.number:04d}"

    def __str__(self) -> str:
        return f"{self.name}, {self.called}"


class LogEntry(models.Model):
    """One entry of a batch's log. Its id was made on the tablet, so that sending it twice keeps it once.

    Who entered it (``event.by``) is written by the server, and ``at`` is the time it is read with; the tablet's own stays in the event.
    """

    id = models.UUIDField(primary_key=True, editable=False)
    batch = models.ForeignKey(Batch, on_delete=models.PROTECT, related_name="entries")
    seq = models.PositiveIntegerField()
    kind = models.CharField(max_length=20)
    event = models.JSONField()
    at = models.DateTimeField()
    sent_by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    received_at = models.DateTimeField(default=timezone.now)
    said_by = models.CharField(max_length=150, blank=True, default="", help_text="whom it named, where that was not who entered it")
    by_lead = models.BooleanField(default=False, help_text="whether who entered it may say what is served")
    chain = models.CharField(max_length=64, blank=True, default="", help_text="its mark in the chain of its log; none of entries of before")
    time_cannot_be = models.BooleanField(default=False, help_text="whether its own time is further off than its tablet's clock explains")

    class Meta:
        ordering = ["seq"]
        verbose_name_plural = "log entries"
        constraints = [
            models.UniqueConstraint(fields=["batch", "seq"], name="log_seq_once"),
            models.CheckConstraint(condition=Q(seq__gte=1), name="log_seq_from_one"),
        ]

    def __str__(self) -> str:
        return f"{self.batch_id} {self.seq} {self.kind}"


class BatchState(models.Model):
    """What a list shows of a batch, read off its log up to ``seq``. It can be thrown away and made again at any time.

    Site, start and number are the batch's own, beside what lists are narrowed by, so that one index serves both.
    """

    batch = models.OneToOneField(Batch, on_delete=models.CASCADE, related_name="state", primary_key=True)
    site = models.ForeignKey(Site, on_delete=models.CASCADE, related_name="+", db_index=False)
    started_at = models.DateTimeField()
    kind = models.CharField(max_length=10, choices=Kind.choices, default=Kind.REAL)
    number = models.PositiveIntegerField()
    seq = models.PositiveIntegerField()
    shape = models.PositiveSmallIntegerField(db_index=True)
    status = models.CharField(max_length=10)
    closed_at = models.DateTimeField(null=True)
    off_plan = models.PositiveIntegerField(default=0)
    cooling_by = models.DateTimeField(null=True)
    use_by = models.DateField(null=True)
    dated = ArrayField(models.CharField(max_length=64), default=list)
    flow = models.JSONField(default=list)
    search = models.TextField(default="")
    summary = models.JSONField()

    class Meta:
        indexes = [
            models.Index(fields=["site", "kind", "-started_at", "-batch"], name="state_lately"),
            models.Index(fields=["site", "kind", "status", "-started_at", "-batch"], name="state_by_status"),
            models.Index(fields=["site", "-started_at", "-batch"], condition=Q(off_plan__gt=0), name="state_off_plan"),
            models.Index(fields=["site", "-started_at", "-batch"], condition=Q(cooling_by__isnull=False), name="state_cooling"),
            models.Index(fields=["site", "use_by"], condition=Q(use_by__isnull=False), name="state_use_by"),
            models.Index(fields=["site", "-started_at"], condition=~Q(flow=[]), name="state_tried"),
            models.Index(fields=["site", "number"], name="state_number"),
            GinIndex(OpClass(F("search"), name="gin_trgm_ops"), name="state_words", fastupdate=False),
        ]
        constraints = [
            models.CheckConstraint(condition=Q(status__in=["running", "finished", "stopped"]), name="batch_status_is_known"),
        ]

    def __str__(self) -> str:
        return f"{self.batch_id} {self.status} at {self.seq}"
