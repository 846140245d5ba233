from django.apps import AppConfig


class BatchesConfig(AppConfig):
    name = "jugserver.batches"
    label = "batches"
