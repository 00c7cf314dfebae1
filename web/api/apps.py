from django.apps import AppConfig


class ApiConfig(AppConfig):
    name = "web.api"
    label = "api"
