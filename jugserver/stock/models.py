"""Places, containers and the ledger of their movements. Movements are only added; where a container stands is read off them."""

from __future__ import annotations

import uuid

from django.conf import settings
from django.db import models
from django.db.models import F, Q
from django.utils import timezone

from jugserver.accounts.models import Site
from jugserver.batches.models import Batch
from jugserver.formulas.models import Formula
from jugserver.tracking.tracked import tracked


@tracked()
class Place(models.Model):
    """Where containers stand: the kitchen, a bar. It is archived and never taken out, since the ledger names it."""

    site = models.ForeignKey(Site, on_delete=models.PROTECT, related_name="places")
    name = models.CharField(max_length=200)
    #: Where what was filled stands first.
    kitchen = models.BooleanField(default=False)
    archived_at = models.DateTimeField(null=True, blank=True)

    class Meta:
        ordering = ["-kitchen", "name"]
        constraints = [
            models.UniqueConstraint(fields=["site", "name"], condition=Q(archived_at__isnull=True), name="place_name_once_a_site"),
            models.UniqueConstraint(fields=["site"], condition=Q(kitchen=True, archived_at__isnull=True), name="one_kitchen_a_site"),
            models.CheckConstraint(condition=~Q(name=""), name="place_has_a_name"),
        ]

    def __str__(self) -> str:
        return str(self.name)


class Container(models.Model):
    """A bottle, tub or kept rest of a batch. ``entry`` is the entry of its log that says it was filled.

    The columns below ``voided_at`` are where it stands by its movements: they can be made again from those at any time.
    """

    KINDS = [("bottle", "bottle"), ("rest", "rest"), ("aside", "aside")]

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    site = models.ForeignKey(Site, on_delete=models.PROTECT, related_name="containers")
    batch = models.ForeignKey(Batch, on_delete=models.PROTECT, related_name="containers")
    formula = models.ForeignKey(Formula, on_delete=models.PROTECT, related_name="containers")
    entry = models.UUIDField()
    number = models.PositiveIntegerField(help_text="counted within its batch")
    kind = models.CharField(max_length=10, choices=KINDS)
    stage = models.CharField(max_length=64, blank=True, default="", help_text="of what was kept aside: the step that left it")
    title = models.CharField(max_length=200, blank=True, default="", help_text="of what was kept aside: what it is")
    made_on = models.DateField()
    filled_g = models.FloatField()
    last_day = models.DateField(null=True, help_text="the last day of its batch, the freezer left out of account")
    last_day_why = models.CharField(max_length=500, blank=True)
    opened_days = models.PositiveSmallIntegerField(null=True, help_text="what it keeps once opened, that day counted; no time where nobody said")
    voided_at = models.DateTimeField(null=True, help_text="when the entry that filled it was taken back")

    place = models.ForeignKey(Place, on_delete=models.PROTECT, related_name="containers", null=True)
    mass_g = models.FloatField()
    opened_at = models.DateTimeField(null=True)
    frozen = models.BooleanField(default=False)
    gone = models.CharField(max_length=20, blank=True, default="")
    gone_at = models.DateTimeField(null=True)
    poured_g = models.FloatField(default=0.0)
    served_g = models.FloatField(default=0.0)
    good_until = models.DateField(null=True)
    why = models.CharField(max_length=500, blank=True)
    left_days = models.IntegerField(null=True)
    too_late = models.BooleanField(default=False)
    last_seq = models.PositiveIntegerField(default=0)

    class Meta:
        ordering = ["batch", "number"]
        indexes = [
            models.Index(fields=["site", "good_until"], condition=Q(gone="", voided_at__isnull=True), name="container_there"),
            models.Index(fields=["site", "-gone_at"], condition=~Q(gone=""), name="container_gone_lately"),
        ]
        constraints = [
            models.UniqueConstraint(fields=["batch", "number"], name="container_number_once"),
            models.CheckConstraint(condition=Q(number__gte=1) & Q(filled_g__gt=0), name="container_is_possible"),
            models.CheckConstraint(
                condition=Q(kind="aside", stage__gt="", title__gt="") | (~Q(kind="aside") & Q(stage="", title="")), name="aside_of_a_stage"
            ),
            models.CheckConstraint(condition=Q(mass_g__gte=0) & Q(poured_g__gte=0) & Q(served_g__gte=0), name="container_holds_no_less_than_nothing"),
            models.CheckConstraint(condition=~Q(gone__in=["emptied", "poured away"]) | Q(mass_g=0), name="what_is_gone_holds_nothing"),
            models.CheckConstraint(condition=Q(gone="", gone_at__isnull=True) | (~Q(gone="") & Q(gone_at__isnull=False)), name="gone_at_a_time"),
        ]

    @property
    def called(self) -> str:
        """What is in it: its product, or what was kept aside of it."""
        return f"{self.formula.name}: {self.title}" if self.title else str(self.formula.name)

    def __str__(self) -> str:
        return f"{self.batch}, container {self.number}"


class ProductDose(models.Model):
    """What a dose of a product weighs in what is served: least, in the middle, most. Made anew whenever something is served, or no longer."""

    site = models.ForeignKey(Site, on_delete=models.CASCADE, related_name="+")
    formula = models.OneToOneField(Formula, on_delete=models.CASCADE, related_name="dose")
    low_g = models.FloatField()
    likely_g = models.FloatField()
    high_g = models.FloatField()

    class Meta:
        constraints = [
            models.CheckConstraint(condition=Q(low_g__gt=0) & Q(likely_g__gte=F("low_g")) & Q(high_g__gte=F("likely_g")), name="dose_in_order")
        ]

    def __str__(self) -> str:
        return f"{self.likely_g:.0f} g of {self.formula}"


class BarPlace(models.Model):
    """The place that a bar's own sign-in stands at: it sees the bottles there."""

    user = models.OneToOneField(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="bar_place")
    place = models.ForeignKey(Place, on_delete=models.PROTECT, related_name="bars")

    def __str__(self) -> str:
        return f"{self.user} at {self.place}"


class LotUse(models.Model):
    """An ingredient in a batch and the lot it was of, read off the batch's log; ``code`` is empty where nobody said.

    Made again whenever the log is read again. The code is what was said at the hob, known in the pantry or not.
    """

    site = models.ForeignKey(Site, on_delete=models.PROTECT, related_name="+")
    batch = models.ForeignKey(Batch, on_delete=models.PROTECT, related_name="lot_uses")
    ingredient = models.CharField(max_length=64, help_text="its key in the pantry")
    title = models.CharField(max_length=200)
    code = models.CharField(max_length=100, blank=True, default="")
    grams = models.FloatField()
    on = models.DateField()

    class Meta:
        indexes = [models.Index(fields=["site", "ingredient", "on"], name="lot_use_by_ingredient")]
        constraints = [
            models.UniqueConstraint(fields=["batch", "ingredient", "code"], name="lot_use_once_a_batch"),
            models.CheckConstraint(condition=~Q(ingredient="") & Q(grams__gte=0), name="lot_use_is_possible"),
        ]

    def __str__(self) -> str:
        return f"{self.batch}: {self.grams:.0f} g of {self.title}"


class Movement(models.Model):
    """One entry about a container. Its id was made where it was typed, so that sending it twice keeps it once."""

    id = models.UUIDField(primary_key=True, editable=False)
    container = models.ForeignKey(Container, on_delete=models.PROTECT, related_name="movements")
    seq = models.PositiveIntegerField()
    kind = models.CharField(max_length=20)
    what = models.JSONField()
    place = models.ForeignKey(Place, on_delete=models.PROTECT, related_name="movements", null=True)
    at = models.DateTimeField()
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    received_at = models.DateTimeField(default=timezone.now)

    class Meta:
        ordering = ["container", "seq"]
        indexes = [models.Index(F("at").desc(), name="movement_lately")]
        constraints = [
            models.UniqueConstraint(fields=["container", "seq"], name="movement_seq_once"),
            models.CheckConstraint(condition=Q(seq__gte=1), name="movement_seq_from_one"),
        ]

    def __str__(self) -> str:
        return f"{self.container_id} {self.seq} {self.kind}"
