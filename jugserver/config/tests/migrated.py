"""Makes the migrated database that tests clone: ``python -m jugserver.config.tests.migrated`` with the environment of its cluster."""

from __future__ import annotations

import django


def main() -> None:
    django.setup()
    from django.conf import settings
    from django.core.management import call_command

    from jugserver.config.tests.databases import maintenance

    with maintenance() as server:
        server.execute(f'create database "{settings.DATABASES["default"]["NAME"]}"')
    call_command("migrate", interactive=False, verbosity=0)


if __name__ == "__main__":
    main()
