from django.apps import AppConfig


class LogsConfig(AppConfig):
    name = "web.logs"
    label = "logs"
