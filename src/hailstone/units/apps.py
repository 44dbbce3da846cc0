from django.apps import AppConfig


class UnitsConfig(AppConfig):
    name = "hailstone.units"
    label = "units"
