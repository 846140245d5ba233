from django.apps import AppConfig


class AccountsConfig(AppConfig):
    """Sites, people and their roles."""

    name = "jugserver.accounts"
    label = "accounts"
