"""Sites, people, roles."""

from __future__ import annotations

from django.contrib.auth.models import AbstractUser
from django.db import models


class Site(models.Model):
    """One business with its kitchen. Everything stored belongs to one."""

    name = models.CharField(max_length=120)
    created_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        constraints = [models.CheckConstraint(condition=~models.Q(name=""), name="site_has_a_name")]

    def __str__(self) -> str:
        return self.name


class Role(models.TextChoices):
    """What a person may do: a lead designs, a prep cook cooks, view looks."""

    LEAD = "lead"
    PREP = "prep"
    VIEW = "view"


class User(AbstractUser):
    """A person who signs in, at one site, in one role."""

    site = models.ForeignKey(Site, on_delete=models.PROTECT, related_name="people", null=True)
    role = models.CharField(max_length=4, choices=Role.choices, default=Role.VIEW)
    display_name = models.CharField(max_length=120)
    pin = models.CharField(max_length=128, blank=True, help_text="hashed like a password; empty until the person sets one")
    pin_failures = models.PositiveSmallIntegerField(default=0)
    pin_locked_until = models.DateTimeField(null=True, blank=True)

    #: Whether this session was passed on by a PIN; set from the session, not kept.
    by_pin: bool = False

    class Meta(AbstractUser.Meta):
        constraints = [
            models.CheckConstraint(condition=models.Q(role__in=Role.values), name="user_role_is_known"),
        ]

    def __str__(self) -> str:
        return self.display_name or self.username
