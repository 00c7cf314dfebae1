from django.apps import AppConfig


class PlacesConfig(AppConfig):
    name = "web.places"
    label = "places"
