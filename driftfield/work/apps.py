from django.apps import AppConfig


class WorkConfig(AppConfig):
    name = "driftfield.work"
