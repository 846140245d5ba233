from django.apps import AppConfig


class StockConfig(AppConfig):
    name = "jugserver.stock"
    label = "stock"

    def ready(self) -> None:
        from jugserver.batches.signals import batch_read
        from jugserver.stock.fills import batch_was_read
        from jugserver.stock.lot_uses import lots_were_read

        batch_read.connect(batch_was_read, dispatch_uid="containers by what was filled")
        batch_read.connect(lots_were_read, dispatch_uid="lots by what was weighed")
