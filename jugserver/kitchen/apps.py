from django.apps import AppConfig


class KitchenConfig(AppConfig):
    name = "jugserver.kitchen"
    label = "kitchen"
