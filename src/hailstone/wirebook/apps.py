from django.apps import AppConfig


class WireBookConfig(AppConfig):
    name = "hailstone.wirebook"
    label = "wirebook"
    default_auto_field = "django.db.models.BigAutoField"
