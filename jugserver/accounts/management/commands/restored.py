"""Bring a database that was restored beside the one in use up to date, and look at it; refuse one that a later release has changed."""

from __future__ import annotations

from typing import Any

from django.core.management import call_command
from django.core.management.base import BaseCommand, CommandError
from django.db import connection
from django.db.migrations.loader import MigrationLoader


class Command(BaseCommand):
    help = "Migrate and verify this database; fail where it has migrations that this release does not know."

    def handle(self, *args: Any, **options: Any) -> None:
        loader = MigrationLoader(connection)
        unknown = sorted(f"{app}.{name}" for app, name in set(loader.applied_migrations) - set(loader.disk_migrations) if app in loader.migrated_apps)
        if unknown:
            raise CommandError(f"It was made by a later release ({', '.join(unknown)}). Restore it with that one, or a newer.")
        if not loader.applied_migrations:
            raise CommandError("It holds none of our tables. Give a file that ./jug backup wrote.")
        call_command("migrate", interactive=False, verbosity=0)
        call_command("verify", stdout=self.stdout, stderr=self.stderr)
