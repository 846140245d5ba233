from django.apps import AppConfig


class DrinksConfig(AppConfig):
    name = "jugserver.drinks"
    label = "drinks"
