from django.apps import AppConfig


class DemoConfig(AppConfig):
    name = "web.demo"
    label = "demo"
