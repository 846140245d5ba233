"""What a site has in its pantry: ingredients, the packs they are bought in, the lots that stand there.

Rows without a site are the library that ships with the tool, written anew whenever it changes;
a site's row of the same key stands before it.
"""

from __future__ import annotations

from collections.abc import Collection, Sequence

from django.conf import settings
from django.contrib.postgres.indexes import GinIndex, OpClass
from django.db import models
from django.db.models import F, Q
from django.db.models.functions import Lower

from jugcore.matter.substance import MADE
from jugserver.accounts.models import Site
from jugserver.pantry.querysets import IngredientQuerySet
from jugserver.tracking.tracked import tracked


@tracked(exclude=["words", "sort", "number", "made_from", "changed_at", "changed_by"], only_with="site", but=("kind", MADE))
class Ingredient(models.Model):
    """A substance as documents know it by ``key``; ``number`` rises with every change."""

    site = models.ForeignKey(Site, on_delete=models.CASCADE, null=True, blank=True, related_name="ingredients")
    key = models.CharField(max_length=64)
    title = models.CharField(max_length=200)
    kind = models.CharField(max_length=20)
    basis = models.CharField(max_length=10)
    #: Every name of it in small letters, a space before each word: what is searched.
    words = models.TextField()
    #: The title in small letters: lists go by it, and it is searched from its beginning.
    sort = models.CharField(max_length=220, db_collation="C")
    document = models.JSONField()
    #: The formula it is made by, of what is made here: its id.
    made_from = models.UUIDField(null=True, blank=True)
    #: Holds only prices and lots of the site; what it is made of follows the library.
    follows_library = models.BooleanField(default=False)
    price_per_kg = models.DecimalField(max_digits=12, decimal_places=4, null=True, blank=True)
    number = models.PositiveIntegerField(default=1)
    archived_at = models.DateTimeField(null=True, blank=True)
    changed_at = models.DateTimeField(auto_now=True)
    changed_by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.SET_NULL, null=True, blank=True, related_name="+")

    objects = IngredientQuerySet.as_manager()

    class Meta:
        ordering = ["sort", "key"]
        indexes = [
            GinIndex(OpClass(F("words"), name="gin_trgm_ops"), name="ingredient_words", fastupdate=False),
            models.Index(fields=["site", "sort", "key"], name="ingredient_by_title"),
            models.Index(fields=["site", "made_from"], condition=Q(made_from__isnull=False), name="ingredient_made_here"),
        ]
        constraints = [
            models.UniqueConstraint(fields=["site", "key"], name="ingredient_key_once_a_site"),
            models.UniqueConstraint(fields=["key"], condition=Q(site__isnull=True), name="library_key_once"),
            models.CheckConstraint(condition=Q(key__regex=r"^[A-Za-z0-9_-]{1,64}$"), name="ingredient_key_is_an_id"),
            models.CheckConstraint(condition=~Q(title=""), name="ingredient_has_a_title"),
            models.CheckConstraint(
                condition=Q(kind=MADE, made_from__isnull=False) | (~Q(kind=MADE) & Q(made_from__isnull=True)), name="made_here_by_a_formula"
            ),
            models.CheckConstraint(condition=Q(price_per_kg__isnull=True) | Q(price_per_kg__gte=0), name="ingredient_price_is_possible"),
            models.CheckConstraint(
                condition=Q(site__isnull=False) | Q(follows_library=False, price_per_kg__isnull=True, archived_at__isnull=True),
                name="library_holds_nothing_of_a_site",
            ),
        ]

    def __str__(self) -> str:
        return str(self.title)

    @property
    def other_names(self) -> Sequence[str]:
        return list(self.document.get("also_called", []))

    @property
    def pieces(self) -> Collection[str]:
        """What it is counted in."""
        return list(self.document.get("pieces", {}))

    @property
    def of_site(self) -> bool:
        """Whether it is a site's own, and not the library's."""
        return self.site_id is not None


@tracked()
class Supplier(models.Model):
    """Whom a site buys from. It is archived and never taken out, since packs, lots and history name it."""

    site = models.ForeignKey(Site, on_delete=models.PROTECT, related_name="suppliers")
    name = models.CharField(max_length=200)
    contact = models.CharField(max_length=200, blank=True, default="", help_text="how to reach them")
    archived_at = models.DateTimeField(null=True, blank=True)

    class Meta:
        ordering = [Lower("name")]
        constraints = [
            models.UniqueConstraint("site", Lower("name"), condition=Q(archived_at__isnull=True), name="supplier_name_once_a_site"),
            models.CheckConstraint(condition=~Q(name=""), name="supplier_has_a_name"),
        ]

    def __str__(self) -> str:
        return str(self.name)


@tracked()
class Pack(models.Model):
    """What an ingredient is bought in. The newest that still stands gives its price."""

    ingredient = models.ForeignKey(Ingredient, on_delete=models.PROTECT, related_name="packs")
    name = models.CharField(max_length=200)
    supplier = models.ForeignKey(Supplier, on_delete=models.PROTECT, related_name="packs", null=True, blank=True)
    mass_g = models.DecimalField(max_digits=12, decimal_places=2)
    price = models.DecimalField(max_digits=12, decimal_places=4)
    since = models.DateField()

    class Meta:
        ordering = ["-since", "-id"]
        constraints = [models.CheckConstraint(condition=Q(mass_g__gt=0) & Q(mass_g__lte=1_000_000) & Q(price__gte=0), name="pack_is_possible")]

    def __str__(self) -> str:
        return f"{self.name} of {self.ingredient}"


@tracked()
class Lot(models.Model):
    """One delivery of an ingredient, with what was found of it."""

    ingredient = models.ForeignKey(Ingredient, on_delete=models.PROTECT, related_name="lots")
    code = models.CharField(max_length=100)
    supplier = models.ForeignKey(Supplier, on_delete=models.PROTECT, related_name="lots", null=True, blank=True)
    mass_g = models.FloatField(null=True, blank=True, help_text="how much of it came")
    origin = models.CharField(max_length=200, blank=True)
    received_on = models.DateField(null=True, blank=True)
    opened_on = models.DateField(null=True, blank=True)
    best_before = models.DateField(null=True, blank=True)
    used_up_on = models.DateField(null=True, blank=True)
    tasting_notes = models.TextField(blank=True)
    #: How loud this one is against a gram of sweet bark, where somebody found out.
    strength_low = models.FloatField(null=True, blank=True)
    strength_high = models.FloatField(null=True, blank=True)
    brix = models.FloatField(null=True, blank=True)
    ph = models.FloatField(null=True, blank=True)

    class Meta:
        ordering = ["used_up_on", "best_before", "code"]
        constraints = [
            models.UniqueConstraint(fields=["ingredient", "code"], name="lot_code_once"),
            models.CheckConstraint(condition=~Q(code=""), name="lot_has_a_code"),
            models.CheckConstraint(
                condition=Q(opened_on__isnull=True) | Q(received_on__isnull=True) | Q(opened_on__gte=F("received_on")),
                name="lot_opened_after_it_came",
            ),
            models.CheckConstraint(
                condition=Q(strength_low__isnull=True, strength_high__isnull=True)
                | Q(strength_low__gt=0, strength_high__gte=F("strength_low"), strength_high__lte=1000),
                name="lot_strength_in_order",
            ),
            models.CheckConstraint(condition=Q(mass_g__isnull=True) | Q(mass_g__gt=0, mass_g__lte=10_000_000), name="lot_mass_is_possible"),
            models.CheckConstraint(condition=Q(brix__isnull=True) | Q(brix__gte=0, brix__lte=95), name="lot_brix_is_possible"),
            models.CheckConstraint(condition=Q(ph__isnull=True) | Q(ph__gte=0, ph__lte=14), name="lot_ph_is_possible"),
        ]

    def __str__(self) -> str:
        return f"{self.ingredient}, lot {self.code}"
