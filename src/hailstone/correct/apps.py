from django.apps import AppConfig


class CorrectConfig(AppConfig):
    name = "hailstone.correct"
    label = "correct"
