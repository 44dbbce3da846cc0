from django.apps import AppConfig


class IdentifyConfig(AppConfig):
    name = "hailstone.identify"
    label = "identify"
    default_auto_field = "django.db.models.BigAutoField"
