from django.apps import AppConfig


class BatchesConfig(AppConfig):
    name = "jugserver.batches"
    label = "batches"

    def ready(self) -> None:
        from jugserver.batches.log import moved
        from jugserver.batches.states import days_changed, lot_changed, read_by_and_by
        from jugserver.kitchen.signals import site_time_changed
        from jugserver.pantry.signals import lot_saved

        moved.connect(read_by_and_by, dispatch_uid="what lists show of a batch")
        lot_saved.connect(lot_changed, dispatch_uid="last days by the dates of lots")
        site_time_changed.connect(days_changed, dispatch_uid="last days by the time of a site")
