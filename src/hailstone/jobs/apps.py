from django.apps import AppConfig


class JobsConfig(AppConfig):
    name = "hailstone.jobs"
    label = "jobs"
    default_auto_field = "django.db.models.BigAutoField"
