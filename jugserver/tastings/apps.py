from django.apps import AppConfig


class TastingsConfig(AppConfig):
    name = "jugserver.tastings"
    label = "tastings"
