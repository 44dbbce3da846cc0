from django.apps import AppConfig


class HookupConfig(AppConfig):
    name = "hailstone.hookup"
    label = "hookup"
    default_auto_field = "django.db.models.BigAutoField"
