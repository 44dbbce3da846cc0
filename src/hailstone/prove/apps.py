from django.apps import AppConfig


class ProveConfig(AppConfig):
    name = "hailstone.prove"
    label = "prove"
    default_auto_field = "django.db.models.BigAutoField"
