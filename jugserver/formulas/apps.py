from django.apps import AppConfig


class FormulasConfig(AppConfig):
    name = "jugserver.formulas"
    label = "formulas"
