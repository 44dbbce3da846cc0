from django.apps import AppConfig


class LampConfig(AppConfig):
    name = "hailstone.lamp"
    label = "lamp"
    default_auto_field = "django.db.models.BigAutoField"
