"""Add a person, give one a new password or PIN, change what is said and nothing else, or take their sign-in away."""

from __future__ import annotations

import getpass
import sys
from argparse import ArgumentParser
from typing import Any

from django.contrib.auth.password_validation import validate_password
from django.core.exceptions import ValidationError
from django.core.management.base import BaseCommand, CommandError
from django.db import transaction
from django.utils import timezone

from jugcore.errors import BadDocument
from jugserver.accounts.models import Role, Session, Site, User
from jugserver.accounts.people import deactivated
from jugserver.accounts.pin import hashed
from jugserver.tracking.who import by_command

_FIRST_SITE = "Our kitchen"


class Command(BaseCommand):
    help = "Add a person who may sign in, or set a new password. The password is asked for, or read from a pipe."

    def add_arguments(self, parser: ArgumentParser) -> None:
        parser.add_argument("username")
        parser.add_argument("--name", help="as shown to others")
        parser.add_argument("--role", choices=Role.values, help="of somebody new a lead, if left out")
        parser.add_argument("--site", help="of somebody new the only one there is, if left out")
        what = parser.add_mutually_exclusive_group()
        what.add_argument("--pin", action="store_true", help="set the PIN of somebody who signs in already")
        what.add_argument("--keep-password", action="store_true", help="change only what is said besides")
        what.add_argument("--deactivate", action="store_true", help="let them sign in no more, and end their sessions")
        what.add_argument("--reactivate", action="store_true", help="let them sign in again")
        what.add_argument("--sessions", action="store_true", help="list where they are signed in")
        what.add_argument("--end-sessions", action="store_true", help="sign them out everywhere")

    @transaction.atomic
    def handle(self, *args: Any, **options: Any) -> None:
        with by_command("person"):
            self._handle(options)

    def _handle(self, options: dict[str, Any]) -> None:
        username = options["username"]
        # One person, whatever the case.
        user = User.objects.filter(username__iexact=username).first()
        if user is None:
            if any(options[name] for name in ("pin", "keep_password", "deactivate", "reactivate", "sessions", "end_sessions")):
                raise CommandError(f"Nobody signs in as {username}. Add them first: ./jug person {username}")
            self._add(username, options)
            return
        self._change(user, options)
        if options["pin"]:
            self._set_pin(user)
        elif options["deactivate"]:
            deactivated(user)
            self.stdout.write(f"{user} signs in no more, and is signed out everywhere.")
        elif options["reactivate"]:
            User.objects.filter(pk=user.pk).update(is_active=True)
            self.stdout.write(f"{user} may sign in again as {user.username}.")
        elif options["sessions"]:
            self._list(user)
        elif options["end_sessions"]:
            count, _ = Session.objects.filter(user=user).delete()
            self.stdout.write(f"{user} was signed out of {count} {'place' if count == 1 else 'places'}.")
        elif options["keep_password"]:
            self.stdout.write(f"{user} signs in as {user.username} ({user.role}, {user.site}); the password stays.")
        else:
            self._set_password(user)
            self.stdout.write(f"{user} may sign in as {user.username} ({user.role}), with the new password.")

    def _add(self, username: str, options: dict[str, Any]) -> None:
        user = User(username=username, display_name=options["name"] or username, role=options["role"] or Role.LEAD, site=_site(options["site"]))
        self._set_password(user)
        self.stdout.write(f"{user} may sign in as {user.username} ({user.role}).")

    def _change(self, user: User, options: dict[str, Any]) -> None:
        """Change what was said of somebody, and nothing else."""
        said = {"display_name": options["name"], "role": options["role"], "site": options["site"] and _site(options["site"])}
        changed = {field: value for field, value in said.items() if value is not None and getattr(user, field) != value}
        if not changed:
            return
        User.objects.filter(pk=user.pk).update(**changed)
        user.refresh_from_db()
        if changed.keys() & {"role", "site"}:
            # What a session may do was found when it began.
            Session.objects.filter(user=user).delete()

    def _set_password(self, user: User) -> None:
        password = _asked("Password: ")
        try:
            validate_password(password, user)
        except ValidationError as error:
            raise CommandError(" ".join(error.messages)) from None
        user.set_password(password)
        user.save()

    def _set_pin(self, user: User) -> None:
        try:
            user.pin = hashed(_asked("PIN: "))
        except BadDocument as error:
            raise CommandError(f"{error.message} {error.remedy}") from None
        user.pin_failures, user.pin_locked_until = 0, None
        user.save(update_fields=["pin", "pin_failures", "pin_locked_until"])
        self.stdout.write(f"{user} takes a shared tablet over with the new PIN.")

    def _list(self, user: User) -> None:
        rows = Session.objects.filter(user=user, expire_date__gt=timezone.now()).order_by("-began_at")
        if not rows:
            self.stdout.write(f"{user} is signed in nowhere.")
        for row in rows:
            began, seen = (f"{timezone.localtime(at):%d %b %H:%M}" if at else "?" for at in (row.began_at, row.seen_at))
            self.stdout.write(f"since {began}, last seen {seen}, from {row.address or '?'}{', by PIN' if row.by_pin else ''}: {row.browser or '?'}")


def _site(name: str | None) -> Site:
    """The site that is named, made where it is new; without a name the only one."""
    if name is not None:
        return Site.objects.get_or_create(name=name)[0]
    sites = list(Site.objects.order_by("pk")[:2])
    if len(sites) > 1:
        raise CommandError("There are several sites here. Say which: --site NAME")
    return sites[0] if sites else Site.objects.create(name=_FIRST_SITE)


def _asked(words: str) -> str:
    """What is typed unseen, or comes through a pipe."""
    return getpass.getpass(words) if sys.stdin.isatty() else sys.stdin.readline().rstrip("\n")
