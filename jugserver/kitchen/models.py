"""A site's kitchen: where it is, and what hangs on the wall."""

from __future__ import annotations

from typing import Any

from django.contrib.postgres.fields import ArrayField
from django.core.validators import MaxValueValidator, MinValueValidator
from django.db import models
from django.db.models import Q

from jugcore.matter.substance import EU_ALLERGENS
from jugcore.method.kitchen import EQUIPMENT_TITLES
from jugserver.accounts.models import Site, User
from jugserver.tracking.tracked import tracked


def every_day() -> list[int]:
    """All days of a week, Monday first."""
    return list(range(7))


def between(field: str, low: float, high: float, *, above: bool = False) -> Q:
    """The condition low ≤ field ≤ high (low < field if ``above``)."""
    return Q(**{f"{field}__{'gt' if above else 'gte'}": low, f"{field}__lte": high})


@tracked(exclude=["number", "changed_at"])
class SiteKitchen(models.Model):
    """The kitchen of a site; ``number`` rises with every change."""

    site = models.OneToOneField(Site, on_delete=models.CASCADE, related_name="kitchen")
    number = models.PositiveIntegerField(default=1)
    altitude_m = models.FloatField(default=0)
    room_c = models.FloatField(default=20)
    fridge_c = models.FloatField(default=4)
    measures = models.CharField(max_length=10, default="metric")
    film_g = models.FloatField(default=5)
    cake_uptake_g_per_g = models.FloatField(default=1.1)
    efficiency_spread = models.FloatField(default=0.15)
    pump_ml = models.FloatField(default=8)
    holding_c = models.FloatField(default=5)
    chilled_days = models.PositiveSmallIntegerField(default=7)
    simmer_kg_m2h = models.JSONField(default=dict)
    steady_kg_m2h = models.JSONField(default=dict)
    changed_at = models.DateTimeField(auto_now=True)

    class Meta:
        verbose_name = "kitchen"
        constraints = [
            models.CheckConstraint(condition=between("altitude_m", -430, 5000), name="kitchen_altitude"),
            models.CheckConstraint(condition=between("room_c", 0, 50), name="kitchen_room"),
            models.CheckConstraint(condition=between("fridge_c", 0, 20), name="kitchen_fridge"),
            models.CheckConstraint(condition=between("pump_ml", 0, 100, above=True), name="kitchen_pump"),
            models.CheckConstraint(condition=between("holding_c", 1, 10), name="kitchen_holding"),
            models.CheckConstraint(condition=between("chilled_days", 1, 14), name="kitchen_chilled_days"),
            models.CheckConstraint(condition=Q(measures__in=["metric", "us", "imperial", "australian"]), name="kitchen_measures"),
        ]

    def __str__(self) -> str:
        return f"kitchen of {self.site}"


@tracked(exclude=["number", "changed_at"])
class SiteBusiness(models.Model):
    """What a site counts in, what energy and hands cost it, when it is open and where it serves; ``number`` rises with every change."""

    site = models.OneToOneField(Site, on_delete=models.CASCADE, related_name="business")
    number = models.PositiveIntegerField(default=1)
    currency = models.CharField(max_length=3, blank=True, default="", help_text="ISO 4217, as EUR; empty until somebody says")
    energy_price_kwh = models.FloatField(null=True, blank=True)
    wage_h = models.FloatField(null=True, blank=True)
    container_price = models.FloatField(null=True, blank=True)
    label_price = models.FloatField(null=True, blank=True)
    least_margin = models.FloatField(null=True, blank=True, help_text="what should be left of a drink's price [%]")
    opening_days = ArrayField(models.PositiveSmallIntegerField(), default=every_day, help_text="0 is Monday")
    places = ArrayField(models.CharField(max_length=80), default=list, blank=True)
    changed_at = models.DateTimeField(auto_now=True)

    class Meta:
        verbose_name = "business"
        constraints = [
            models.CheckConstraint(condition=Q(currency__regex="^([A-Z]{3})?$"), name="business_currency"),
            models.CheckConstraint(condition=Q(energy_price_kwh__isnull=True) | between("energy_price_kwh", 0, 1000), name="business_energy_price"),
            models.CheckConstraint(condition=Q(wage_h__isnull=True) | between("wage_h", 0, 1_000_000), name="business_wage"),
            models.CheckConstraint(
                condition=Q(container_price__isnull=True) | between("container_price", 0, 1_000_000), name="business_container_price"
            ),
            models.CheckConstraint(condition=Q(label_price__isnull=True) | between("label_price", 0, 1_000_000), name="business_label_price"),
            models.CheckConstraint(condition=Q(least_margin__isnull=True) | Q(least_margin__gte=0, least_margin__lt=100), name="business_margin"),
            models.CheckConstraint(condition=Q(opening_days__contained_by=list(range(7))), name="business_opening_days"),
        ]

    def __str__(self) -> str:
        return f"business of {self.site}"


class Thing(models.Model):
    """Something of a kitchen with a name; ``key`` is its id in documents, and its own for ever: what is gone is archived, never taken out."""

    key = models.CharField(max_length=64)
    name = models.CharField(max_length=200)
    position = models.PositiveIntegerField(default=0, validators=[MinValueValidator(0), MaxValueValidator(1000)])
    archived_at = models.DateTimeField(null=True, blank=True)

    class Meta:
        abstract = True
        ordering = ["position", "id"]

    def __str__(self) -> str:
        return str(self.name)


def _unique(thing: str) -> list[Any]:
    return [models.UniqueConstraint(fields=["kitchen", "key"], name=f"{thing}_key_once")]


@tracked(exclude=["position"])
class Pot(Thing):
    kitchen = models.ForeignKey(SiteKitchen, on_delete=models.CASCADE, related_name="pots")
    tare_g = models.FloatField()
    diameter_cm = models.FloatField()
    capacity_ml = models.FloatField()

    class Meta(Thing.Meta):
        constraints = [
            *_unique("pot"),
            models.CheckConstraint(
                condition=between("tare_g", 0, 50_000) & between("diameter_cm", 0, 200, above=True) & between("capacity_ml", 0, 500_000, above=True),
                name="pot_is_possible",
            ),
        ]


@tracked(exclude=["position"])
class Burner(Thing):
    kitchen = models.ForeignKey(SiteKitchen, on_delete=models.CASCADE, related_name="burners")
    power_w = models.FloatField()
    efficiency = models.FloatField()

    class Meta(Thing.Meta):
        constraints = [
            *_unique("burner"),
            models.CheckConstraint(
                condition=between("power_w", 0, 100_000, above=True) & between("efficiency", 0, 1, above=True),
                name="burner_is_possible",
            ),
        ]


@tracked(exclude=["position"])
class Scale(Thing):
    kitchen = models.ForeignKey(SiteKitchen, on_delete=models.CASCADE, related_name="scales")
    capacity_g = models.FloatField()
    resolution_g = models.FloatField()

    class Meta(Thing.Meta):
        constraints = [
            *_unique("scale"),
            models.CheckConstraint(
                condition=between("capacity_g", 0, 500_000, above=True) & between("resolution_g", 0, 1000, above=True),
                name="scale_is_possible",
            ),
        ]


@tracked(exclude=["position"])
class SharedGear(Thing):
    """Equipment and the allergens it meets."""

    kitchen = models.ForeignKey(SiteKitchen, on_delete=models.CASCADE, related_name="shared")
    gear = models.CharField(max_length=20)
    saw = ArrayField(models.CharField(max_length=20), default=list, blank=True)
    holds_ml = models.FloatField(null=True, blank=True)

    class Meta(Thing.Meta):
        constraints = [
            *_unique("shared_gear"),
            models.CheckConstraint(condition=Q(holds_ml__isnull=True) | between("holds_ml", 0, 200_000, above=True), name="shared_gear_is_possible"),
            models.CheckConstraint(condition=Q(gear__in=sorted(EQUIPMENT_TITLES)), name="shared_gear_is_known"),
            models.CheckConstraint(condition=Q(saw__contained_by=sorted(EU_ALLERGENS)), name="shared_gear_saw_allergens"),
        ]


@tracked(exclude=["position"])
class Sieve(Thing):
    kitchen = models.ForeignKey(SiteKitchen, on_delete=models.CASCADE, related_name="sieves")
    mesh_um = models.FloatField()

    class Meta(Thing.Meta):
        constraints = [
            *_unique("sieve"),
            models.CheckConstraint(condition=between("mesh_um", 0, 10_000, above=True), name="sieve_is_possible"),
        ]


class GearMet(models.Model):
    """An allergen that a piece of equipment met at a batch, read off its log; made again whenever that is read again."""

    site = models.ForeignKey(Site, on_delete=models.CASCADE, related_name="gear_met")
    piece = models.CharField(max_length=64)
    allergen = models.CharField(max_length=20)
    batch = models.UUIDField()
    title = models.CharField(max_length=200)
    at = models.DateTimeField()

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["site", "batch", "piece", "allergen"], name="gear_met_once_a_batch"),
            models.CheckConstraint(condition=Q(allergen__in=sorted(EU_ALLERGENS)), name="gear_met_an_allergen"),
        ]
        indexes = [models.Index(fields=["site", "piece", "allergen", "-at"], name="gear_met_last")]

    def __str__(self) -> str:
        return f"{self.piece} met {self.allergen} at {self.title}"


class GearCleaned(models.Model):
    """A piece of equipment was washed by the site's allergen clean. Rows are only added."""

    site = models.ForeignKey(Site, on_delete=models.CASCADE, related_name="gear_cleaned")
    piece = models.CharField(max_length=64)
    at = models.DateTimeField()
    by = models.ForeignKey(User, on_delete=models.SET_NULL, null=True, related_name="+")

    class Meta:
        indexes = [models.Index(fields=["site", "piece", "at"], name="gear_cleaned_last")]

    def __str__(self) -> str:
        return f"{self.piece} cleaned {self.at}"
