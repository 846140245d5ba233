"""Refuse a database that a later release has changed."""

from __future__ import annotations

from typing import Any

from django.core.management.base import BaseCommand, CommandError
from django.db import connection
from django.db.migrations.loader import MigrationLoader


class Command(BaseCommand):
    help = "Fail where the database has migrations that this release does not know."

    def handle(self, *args: Any, **options: Any) -> None:
        loader = MigrationLoader(connection)
        unknown = sorted(f"{app}.{name}" for app, name in set(loader.applied_migrations) - set(loader.disk_migrations) if app in loader.migrated_apps)
        if unknown:
            raise CommandError(f"It was made by a later release ({', '.join(unknown)}). Restore it with that one, or a newer.")
        if not loader.applied_migrations:
            raise CommandError("It holds none of our tables. Give a file that ./jug backup wrote.")
