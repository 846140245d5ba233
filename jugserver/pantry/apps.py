from django.apps import AppConfig


class PantryConfig(AppConfig):
    name = "jugserver.pantry"
    label = "pantry"
