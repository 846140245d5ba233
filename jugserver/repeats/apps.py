from django.apps import AppConfig


class RepeatsConfig(AppConfig):
    name = "jugserver.repeats"
    label = "repeats"
