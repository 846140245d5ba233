"""Add a person, or give one a new password."""

from __future__ import annotations

import getpass
import sys
from argparse import ArgumentParser
from typing import Any

from django.contrib.auth.password_validation import validate_password
from django.core.exceptions import ValidationError
from django.core.management.base import BaseCommand, CommandError

from jugserver.accounts.models import Role, Site, User


class Command(BaseCommand):
    help = "Add a person who may sign in, or set a new password. The password is asked for, or read from a pipe."

    def add_arguments(self, parser: ArgumentParser) -> None:
        parser.add_argument("username")
        parser.add_argument("--name", required=True)
        parser.add_argument("--role", choices=Role.values, default=Role.LEAD)
        parser.add_argument("--site", required=True)

    def handle(self, *args: Any, **options: Any) -> None:
        site, _ = Site.objects.get_or_create(name=options["site"])
        user = User.objects.filter(username=options["username"]).first()
        made = user is None
        if user is None:
            user = User(username=options["username"])
        user.site, user.role, user.display_name = site, options["role"], options["name"]
        password = getpass.getpass("Password: ") if sys.stdin.isatty() else sys.stdin.readline().rstrip("\n")
        try:
            validate_password(password, user)
        except ValidationError as error:
            raise CommandError(" ".join(error.messages)) from None
        user.set_password(password)
        user.save()
        self.stdout.write(f"{user} may sign in as {user.username} ({user.role}){'' if made else ', with the new password'}.")
