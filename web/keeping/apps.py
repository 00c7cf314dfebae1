from django.apps import AppConfig


class KeepingConfig(AppConfig):
    name = "web.keeping"
    label = "keeping"
