from django.apps import AppConfig


class SalesConfig(AppConfig):
    name = "jugserver.sales"
    label = "sales"
