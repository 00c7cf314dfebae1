from django.apps import AppConfig


class FirmsConfig(AppConfig):
    name = "web.firms"
    label = "firms"
