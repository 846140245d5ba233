"""Answers to requests that made something, kept for a day by the key they bore."""

from __future__ import annotations

from django.conf import settings
from django.db import models
from django.utils import timezone


class Answered(models.Model):
    """A request that bore a key, and what it was answered with."""

    user = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="+")
    key = models.CharField(max_length=100)
    what = models.CharField(max_length=64, help_text="stands for its address and body")
    at = models.DateTimeField(default=timezone.now)
    status = models.PositiveSmallIntegerField(null=True)
    type = models.CharField(max_length=100, blank=True)
    body = models.BinaryField(default=bytes)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["user", "key"], name="answered_once_a_key")]
        indexes = [models.Index(fields=["user", "at"], name="answered_lately")]

    def __str__(self) -> str:
        return f"{self.key} of {self.user_id}"
