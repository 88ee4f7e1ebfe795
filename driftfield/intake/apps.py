from django.apps import AppConfig


class IntakeConfig(AppConfig):
    name = "driftfield.intake"
