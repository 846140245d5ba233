"""Rows that were there before their changes were kept, written down once, so that the first change has something to differ from."""

from __future__ import annotations

from typing import Any

from django.db.migrations import RunPython


def there_before(app: str, *names: str, only_with: str = "") -> RunPython:
    """A step of a migration: every row of some models as it stands, as “there”."""

    def keep(apps: Any, editor: Any) -> None:
        for name in names:
            rows, changes = apps.get_model(app, name), apps.get_model(app, f"{name}Change")
            columns = [f'"{field.column}"' for field in changes._meta.fields if not field.name.startswith("pgh_")]
            own = ", ".join(columns)
            where = f'where "{only_with}" is not null' if only_with else ""
            editor.execute(
                f'insert into "{changes._meta.db_table}" ({own}, pgh_created_at, pgh_label, pgh_obj_id) '
                f'select {own}, now(), \'there\', "{rows._meta.pk.column}" from "{rows._meta.db_table}" {where}'
            )

    return RunPython(keep, RunPython.noop)
