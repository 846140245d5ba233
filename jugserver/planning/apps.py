from django.apps import AppConfig


class PlanningConfig(AppConfig):
    name = "jugserver.planning"
    label = "planning"
