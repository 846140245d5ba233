"""What was sold, where that is known from, what tills call things, and days that are not like others."""

from __future__ import annotations

import uuid

from django.conf import settings
from django.contrib.postgres.fields import ArrayField
from django.db import models
from django.db.models import F, Q
from django.utils import timezone

from jugserver.accounts.models import Site
from jugserver.drinks.models import Drink
from jugserver.stock.models import Place
from jugserver.tracking.tracked import tracked


class SalesImport(models.Model):
    """A file, or what a till sent, that was imported: what it changed. Undone, what it brought is taken out again."""

    ORIGINS = [("file", "file"), ("till", "till")]

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    site = models.ForeignKey(Site, on_delete=models.PROTECT, related_name="sales_imports")
    name = models.CharField(max_length=300)
    origin = models.CharField(max_length=4, choices=ORIGINS, default="file")
    fingerprint = models.CharField(max_length=64)
    rows = models.PositiveIntegerField()
    left_out = models.PositiveIntegerField()
    added = models.PositiveIntegerField()
    changed = models.PositiveIntegerField()
    same = models.PositiveIntegerField()
    first_on = models.DateField(null=True)
    last_on = models.DateField(null=True)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField(default=timezone.now)
    undone_at = models.DateTimeField(null=True)

    class Meta:
        ordering = ["-at"]
        indexes = [models.Index(fields=["site", "-at"], name="sales_import_lately")]

    def __str__(self) -> str:
        return str(self.name)


class SalesDay(models.Model):
    """That what was sold at a place on a day is known: what no count is there of was not sold."""

    site = models.ForeignKey(Site, on_delete=models.PROTECT, related_name="+")
    place = models.ForeignKey(Place, on_delete=models.PROTECT, related_name="sales_days")
    on = models.DateField()
    imported = models.ForeignKey(SalesImport, on_delete=models.PROTECT, related_name="days", null=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["place", "on"], name="sales_day_once_a_place")]
        indexes = [models.Index(fields=["site", "on"], name="sales_day_by_day")]

    def __str__(self) -> str:
        return f"{self.place} on {self.on}"


class SaleCount(models.Model):
    """Cups of a size of a drink, sold at a place on a day. ``by_hand`` is what somebody corrected, which a file leaves alone;
    of what was ``sold_out`` more would have been sold."""

    site = models.ForeignKey(Site, on_delete=models.PROTECT, related_name="sales")
    place = models.ForeignKey(Place, on_delete=models.PROTECT, related_name="sales")
    drink = models.ForeignKey(Drink, on_delete=models.PROTECT, related_name="sales")
    size = models.CharField(max_length=64)
    on = models.DateField()
    count = models.PositiveIntegerField()
    by_hand = models.BooleanField(default=False)
    sold_out = models.BooleanField(default=False)

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["place", "on", "drink", "size"], name="sale_once"),
            models.CheckConstraint(condition=~Q(size=""), name="sale_of_a_size"),
        ]
        indexes = [models.Index(fields=["site", "on"], name="sale_by_day")]

    def __str__(self) -> str:
        return f"{self.count} of {self.drink} {self.size} on {self.on}"


class SaleChange(models.Model):
    """That a count was added, changed or taken out: by whom, why, and by which file. Rows are only added."""

    site = models.ForeignKey(Site, on_delete=models.PROTECT, related_name="+")
    place = models.ForeignKey(Place, on_delete=models.PROTECT, related_name="+")
    drink = models.ForeignKey(Drink, on_delete=models.PROTECT, related_name="+")
    size = models.CharField(max_length=64)
    on = models.DateField()
    before = models.PositiveIntegerField(null=True, help_text="none where there was no count")
    after = models.PositiveIntegerField(null=True)
    sold_out = models.BooleanField(default=False)
    reason = models.CharField(max_length=500, blank=True)
    imported = models.ForeignKey(SalesImport, on_delete=models.PROTECT, related_name="changes", null=True)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField(default=timezone.now)

    class Meta:
        ordering = ["-id"]
        indexes = [
            models.Index(fields=["site", "-id"], condition=Q(imported__isnull=True), name="sale_corrected_lately"),
            models.Index(fields=["imported"], name="sale_change_by_import"),
        ]
        constraints = [models.CheckConstraint(condition=Q(imported__isnull=False) | ~Q(reason=""), name="a_correction_says_why")]

    def __str__(self) -> str:
        return f"{self.before} to {self.after} on {self.on}"


class SoldName(models.Model):
    """What a name of a till means: a drink and its size, or nothing of ours."""

    site = models.ForeignKey(Site, on_delete=models.PROTECT, related_name="sold_names")
    key = models.CharField(max_length=500, help_text="its words, in small letters, the size's after a bar")
    drink = models.ForeignKey(Drink, on_delete=models.PROTECT, related_name="sold_names", null=True)
    size = models.CharField(max_length=64, blank=True, default="")
    left_out = models.BooleanField(default=False)

    class Meta:
        ordering = ["key"]
        constraints = [
            models.UniqueConstraint(fields=["site", "key"], name="sold_name_once"),
            models.CheckConstraint(
                condition=Q(left_out=True, drink__isnull=True, size="") | (Q(left_out=False, drink__isnull=False) & ~Q(size="")),
                name="sold_name_means_one_thing",
            ),
        ]

    def __str__(self) -> str:
        return str(self.key)


class SoldAtName(models.Model):
    """What place a name of a till means."""

    site = models.ForeignKey(Site, on_delete=models.PROTECT, related_name="sold_at_names")
    words = models.CharField(max_length=400)
    place = models.ForeignKey(Place, on_delete=models.PROTECT, related_name="sold_at_names")

    class Meta:
        ordering = ["words"]
        constraints = [models.UniqueConstraint(fields=["site", "words"], name="sold_at_name_once")]

    def __str__(self) -> str:
        return str(self.words)


class SalesLayout(models.Model):
    """Which column says what, in files with these headings."""

    site = models.ForeignKey(Site, on_delete=models.PROTECT, related_name="sales_layouts")
    labels = ArrayField(models.CharField(max_length=130))
    columns = models.JSONField()
    used_at = models.DateTimeField(default=timezone.now)

    class Meta:
        ordering = ["-used_at"]
        constraints = [models.UniqueConstraint(fields=["site", "labels"], name="sales_layout_once")]

    def __str__(self) -> str:
        return ", ".join(self.labels)


@tracked()
class CalendarEntry(models.Model):
    """Days that are not like others: something goes on, or a place is closed. Everywhere, where no place is named."""

    KINDS = [("event", "event"), ("closed", "closed")]

    site = models.ForeignKey(Site, on_delete=models.PROTECT, related_name="calendar")
    kind = models.CharField(max_length=6, choices=KINDS)
    name = models.CharField(max_length=200)
    first = models.DateField()
    last = models.DateField()
    place = models.ForeignKey(Place, on_delete=models.PROTECT, related_name="calendar", null=True)
    times = models.FloatField(null=True, help_text="what it does to sales, where it was not seen before")

    class Meta:
        verbose_name = "calendar"
        ordering = ["-first", "name"]
        indexes = [models.Index(fields=["site", "last"], name="calendar_by_day")]
        constraints = [
            models.CheckConstraint(condition=Q(last__gte=F("first")), name="calendar_in_order"),
            models.CheckConstraint(condition=Q(kind="closed") | ~Q(name=""), name="event_has_a_name"),
            models.CheckConstraint(condition=Q(times__isnull=True) | Q(kind="event", times__gt=0, times__lte=20), name="event_times_is_possible"),
            models.CheckConstraint(condition=Q(kind__in=["event", "closed"]), name="calendar_kind_is_known"),
        ]

    def __str__(self) -> str:
        return self.name or "closed"


@tracked(exclude=["fetched_at"])
class Till(models.Model):
    """A till that says over HTTP what it sold."""

    site = models.ForeignKey(Site, on_delete=models.PROTECT, related_name="tills")
    name = models.CharField(max_length=120)
    address = models.CharField(max_length=300)
    fetched_at = models.DateTimeField(null=True)
    archived_at = models.DateTimeField(null=True)

    class Meta:
        ordering = ["name"]
        constraints = [
            models.UniqueConstraint(fields=["site", "name"], condition=Q(archived_at__isnull=True), name="till_name_once_a_site"),
            models.CheckConstraint(condition=~Q(name=""), name="till_has_a_name"),
        ]

    def __str__(self) -> str:
        return str(self.name)
