"""What somebody knows better than any forecast, and the forecasts that were made."""

from __future__ import annotations

from django.conf import settings
from django.contrib.postgres.fields import ArrayField
from django.db import models
from django.db.models import F, Q
from django.utils import timezone

from jugserver.accounts.models import Site
from jugserver.drinks.models import Drink
from jugserver.formulas.models import Version
from jugserver.stock.models import Place
from jugserver.tracking.tracked import tracked


@tracked()
class DrinkLike(models.Model):
    """A new drink is taken to sell as a share of another, until its own sales are known; ``instead``: what it sells, the other sells less."""

    site = models.ForeignKey(Site, on_delete=models.PROTECT, related_name="drink_likes")
    drink = models.OneToOneField(Drink, on_delete=models.PROTECT, related_name="taken_like")
    like = models.ForeignKey(Drink, on_delete=models.PROTECT, related_name="+")
    share = models.FloatField()
    instead = models.BooleanField(default=False)

    class Meta:
        verbose_name = "drink like another"
        ordering = ["drink"]
        constraints = [
            models.CheckConstraint(condition=Q(share__gt=0) & Q(share__lte=10), name="like_share_is_possible"),
            models.CheckConstraint(condition=~Q(drink=F("like")), name="like_another"),
        ]

    def __str__(self) -> str:
        return f"{self.drink} like {self.like}"


@tracked()
class ForecastOverride(models.Model):
    """What somebody knows better of days to come: so many times, or so many a day, of a drink, a size, a place. Undone, it does nothing."""

    site = models.ForeignKey(Site, on_delete=models.PROTECT, related_name="overrides")
    first = models.DateField()
    last = models.DateField()
    place = models.ForeignKey(Place, on_delete=models.PROTECT, related_name="+", null=True)
    drink = models.ForeignKey(Drink, on_delete=models.PROTECT, related_name="+", null=True)
    size = models.CharField(max_length=64, blank=True, default="")
    times = models.FloatField(null=True)
    count = models.FloatField(null=True)
    reason = models.CharField(max_length=500)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.PROTECT, related_name="+")
    at = models.DateTimeField(default=timezone.now)
    undone_at = models.DateTimeField(null=True)

    class Meta:
        ordering = ["id"]
        indexes = [models.Index(fields=["site", "last"], condition=Q(undone_at__isnull=True), name="override_that_holds")]
        constraints = [
            models.CheckConstraint(condition=Q(last__gte=F("first")), name="override_in_order"),
            models.CheckConstraint(condition=~Q(reason=""), name="override_says_why"),
            models.CheckConstraint(
                condition=Q(times__isnull=True, count__gte=0, count__lte=1_000_000) | Q(count__isnull=True, times__gte=0, times__lte=20),
                name="override_is_one_of_two",
            ),
        ]

    def __str__(self) -> str:
        return f"{self.first} to {self.last}: {self.reason}"


class ForecastMade(models.Model):
    """A forecast that was made, by what was asked; the newest few of a site are kept."""

    site = models.ForeignKey(Site, on_delete=models.CASCADE, related_name="+")
    asked = models.CharField(max_length=64)
    report = models.JSONField()
    at = models.DateTimeField(default=timezone.now)

    class Meta:
        ordering = ["-at"]
        constraints = [models.UniqueConstraint(fields=["site", "asked"], name="forecast_made_once")]

    def __str__(self) -> str:
        return f"forecast of {self.at}"


class VersionRecipe(models.Model):
    """What a gram of a version takes, read off its walk by one release of the core. Worked out again by the next."""

    version = models.OneToOneField(Version, on_delete=models.CASCADE, related_name="recipe")
    core_version = models.CharField(max_length=40)
    recipe = models.JSONField(null=True, help_text="none where its walk gives nothing")
    titles = models.JSONField(default=dict)

    def __str__(self) -> str:
        return f"recipe of {self.version}"


class VersionCook(models.Model):
    """What a full cook of a version takes in the kitchen as it was at a number, read off its walk by one release of the core."""

    version = models.OneToOneField(Version, on_delete=models.CASCADE, related_name="cook")
    kitchen = models.PositiveIntegerField(help_text="the number of the site's kitchen then")
    core_version = models.CharField(max_length=40)
    cook = models.JSONField(null=True, help_text="none where its walk gives nothing")

    def __str__(self) -> str:
        return f"cook of {self.version}"


def four_hours() -> list[int]:
    """Hands-on minutes of a kitchen by weekday, Monday first, until somebody says: one person for a morning, whole."""
    return [240] * 7


@tracked()
class PlanSettings(models.Model):
    """What a site has room for by weekday, and what its fixed days would be."""

    site = models.OneToOneField(Site, on_delete=models.CASCADE, related_name="plan_settings")
    hands_min = ArrayField(models.PositiveIntegerField(), default=four_hours, size=7, help_text="of all people together, Monday first")
    burner_min = models.PositiveIntegerField(default=240, help_text="how long each burner is free for prep in a day")
    #: Of guests whose drink is out, so many buy none. Estimate.
    lost = models.FloatField(default=0.3)
    fixed_weekdays = ArrayField(models.PositiveSmallIntegerField(), default=list, blank=True)

    class Meta:
        verbose_name = "plan settings"
        constraints = [
            models.CheckConstraint(condition=Q(lost__gt=0) & Q(lost__lte=1), name="plan_lost_is_a_share"),
            models.CheckConstraint(condition=Q(hands_min__len=7), name="plan_hands_by_weekday"),
            models.CheckConstraint(condition=Q(fixed_weekdays__contained_by=list(range(7))), name="plan_fixed_weekdays"),
        ]

    def __str__(self) -> str:
        return f"plan settings of {self.site}"
