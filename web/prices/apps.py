from django.apps import AppConfig


class PricesConfig(AppConfig):
    name = "web.prices"
    label = "prices"
