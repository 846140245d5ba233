"""Say whether what is kept is what was kept."""

from __future__ import annotations

from typing import Any

from django.core.management.base import BaseCommand, CommandError
from django.db import connection
from django.db.migrations.executor import MigrationExecutor

from jugserver.batches.models import Batch, LogEntry
from jugserver.batches.verify import faults
from jugserver.formulas.models import Version


class Command(BaseCommand):
    help = "Check versions and batches by their fingerprints, and every log by its numbers and the chain of its marks."

    def handle(self, *args: Any, **options: Any) -> None:
        executor = MigrationExecutor(connection)
        if executor.migration_plan(executor.loader.graph.leaf_nodes()):
            raise CommandError("It is as an earlier release left it. Start the app once, which brings it up to date.")
        found = list(faults())
        for fault in found:
            self.stderr.write(fault)
        if found:
            raise CommandError(f"{len(found)} {'thing is' if len(found) == 1 else 'things are'} not as kept. Restore a backup of before.")
        entries = LogEntry.objects.count()
        chained = LogEntry.objects.exclude(chain="").count()
        self.stdout.write(
            f"All as kept: {Version.objects.count()} versions, {Batch.objects.count()} batches, {entries} entries, {chained} of them with a mark."
        )
