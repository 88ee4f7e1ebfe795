from django.apps import AppConfig


class ReadingsConfig(AppConfig):
    name = "driftfield.readings"
