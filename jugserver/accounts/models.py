"""Sites, people, roles."""

from __future__ import annotations

from importlib import import_module
from typing import Any, ClassVar

import pghistory
from django.conf import settings
from django.contrib.auth.models import AbstractUser, UserManager
from django.contrib.sessions.base_session import AbstractBaseSession
from django.db import models
from django.db.models.functions import Lower

from jugserver.tracking.tracked import tracked


@tracked(exclude=["created_at"])
class Site(models.Model):
    """One business with its kitchen. Everything stored belongs to one."""

    name = models.CharField(max_length=120)
    created_at = models.DateTimeField(auto_now_add=True)
    time_zone = models.CharField(max_length=64, blank=True, default="", help_text="as Europe/Dublin; that of the machine until somebody says")

    class Meta:
        constraints = [models.CheckConstraint(condition=~models.Q(name=""), name="site_has_a_name")]

    def __str__(self) -> str:
        return self.name


class Role(models.TextChoices):
    """What a person may do: a lead designs, a prep cook cooks, view looks, a bar enters what became of its bottles and sees nothing else."""

    LEAD = "lead"
    PREP = "prep"
    VIEW = "view"
    BAR = "bar"


class PersonManager(UserManager["User"]):
    """Names are one person whatever their case."""

    def get_by_natural_key(self, username: str | None) -> User:
        return self.get(username__iexact=username)


@tracked(
    pghistory.UpdateEvent("password", condition=pghistory.AnyChange("password")),
    pghistory.UpdateEvent("pin", condition=pghistory.AnyChange("pin")),
    fields=["username", "display_name", "site", "role", "is_active"],
)
class User(AbstractUser):
    """A person who signs in, at one site, in one role."""

    site = models.ForeignKey(Site, on_delete=models.PROTECT, related_name="people", null=True)
    role = models.CharField(max_length=4, choices=Role.choices, default=Role.VIEW)
    display_name = models.CharField(max_length=120)
    pin = models.CharField(max_length=128, blank=True, help_text="hashed like a password; empty until the person sets one")
    pin_failures = models.PositiveSmallIntegerField(default=0)
    pin_locked_until = models.DateTimeField(null=True, blank=True)

    objects: ClassVar[PersonManager] = PersonManager()

    #: Whether this session was passed on by a PIN; set from the session, not kept.
    by_pin: bool = False

    class Meta(AbstractUser.Meta):
        constraints = [
            models.CheckConstraint(condition=models.Q(role__in=Role.values), name="user_role_is_known"),
            models.UniqueConstraint(Lower("username"), name="user_name_once_whatever_its_case"),
        ]

    def __str__(self) -> str:
        return self.display_name or self.username


class Session(AbstractBaseSession):
    """A session, and whose it is: ``seen_at`` is when somebody last did something in it, not when it last asked by itself."""

    user = models.ForeignKey(User, on_delete=models.CASCADE, related_name="sessions", null=True)
    by_pin = models.BooleanField(default=False)
    address = models.GenericIPAddressField(null=True)
    browser = models.CharField(max_length=300, blank=True, default="")
    began_at = models.DateTimeField(null=True)
    seen_at = models.DateTimeField(null=True)

    @classmethod
    def get_session_store_class(cls) -> Any:
        return import_module(settings.SESSION_ENGINE).SessionStore

    def __str__(self) -> str:
        return f"session of {self.user_id or 'nobody'}"
