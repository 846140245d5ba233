from django.apps import AppConfig


class FormulasConfig(AppConfig):
    name = "jugserver.formulas"
    label = "formulas"

    def ready(self) -> None:
        from jugserver.formulas.states import ingredient_changed, kitchen_changed
        from jugserver.kitchen.signals import kitchen_saved
        from jugserver.pantry.signals import ingredient_saved

        kitchen_saved.connect(kitchen_changed, dispatch_uid="formulas in another kitchen")
        ingredient_saved.connect(ingredient_changed, dispatch_uid="formulas with another ingredient")
