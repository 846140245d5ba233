"""Add a person, or give one a new password."""

from __future__ import annotations

import getpass
import sys
from argparse import ArgumentParser
from typing import Any

from django.contrib.auth.password_validation import validate_password
from django.core.exceptions import ValidationError
from django.core.management.base import BaseCommand, CommandError

from jugcore.errors import BadDocument
from jugserver.accounts.models import Role, Site, User
from jugserver.accounts.pin import hashed


class Command(BaseCommand):
    help = "Add a person who may sign in, or set a new password. The password is asked for, or read from a pipe."

    def add_arguments(self, parser: ArgumentParser) -> None:
        parser.add_argument("username")
        parser.add_argument("--name", required=True)
        parser.add_argument("--role", choices=Role.values, default=Role.LEAD)
        parser.add_argument("--site", required=True)
        parser.add_argument("--pin", action="store_true", help="set the PIN of somebody who signs in already; nothing else changes")

    def handle(self, *args: Any, **options: Any) -> None:
        if options["pin"]:
            self._set_pin(options["username"])
            return
        site, _ = Site.objects.get_or_create(name=options["site"])
        user = User.objects.filter(username=options["username"]).first()
        made = user is None
        if user is None:
            user = User(username=options["username"])
        user.site, user.role, user.display_name = site, options["role"], options["name"]
        password = _asked("Password: ")
        try:
            validate_password(password, user)
        except ValidationError as error:
            raise CommandError(" ".join(error.messages)) from None
        user.set_password(password)
        user.save()
        self.stdout.write(f"{user} may sign in as {user.username} ({user.role}){'' if made else ', with the new password'}.")

    def _set_pin(self, username: str) -> None:
        user = User.objects.filter(username=username).first()
        if user is None:
            raise CommandError(f"Nobody signs in as {username}. Add them first: ./jug person {username}")
        try:
            user.pin = hashed(_asked("PIN: "))
        except BadDocument as error:
            raise CommandError(f"{error.message} {error.remedy}") from None
        user.pin_failures, user.pin_locked_until = 0, None
        user.save(update_fields=["pin", "pin_failures", "pin_locked_until"])
        self.stdout.write(f"{user} takes a shared tablet over with the new PIN.")


def _asked(words: str) -> str:
    """What is typed unseen, or comes through a pipe."""
    return getpass.getpass(words) if sys.stdin.isatty() else sys.stdin.readline().rstrip("\n")
