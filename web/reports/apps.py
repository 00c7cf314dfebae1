from django.apps import AppConfig


class ReportsConfig(AppConfig):
    name = "web.reports"
    label = "reports"
