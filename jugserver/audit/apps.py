from django.apps import AppConfig


class AuditConfig(AppConfig):
    name = "jugserver.audit"
    label = "audit"
