from django.apps import AppConfig
from django.db.models.signals import post_migrate


class PantryConfig(AppConfig):
    name = "jugserver.pantry"
    label = "pantry"

    def ready(self) -> None:
        from jugserver.pantry.library_rows import write_library

        post_migrate.connect(write_library, sender=self, dispatch_uid="pantry library")
