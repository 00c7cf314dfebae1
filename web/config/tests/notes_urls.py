"""Addresses with the made-up step among them; loaded only while the settings name it."""

from django.urls import include, path

from web.config.urls import handler404, handler500
from web.config.urls import urlpatterns as usual
from web.workspace.routes import patterns

__all__ = ["handler404", "handler500", "urlpatterns"]
urlpatterns = [*usual[:-1], path("", include(patterns()))]
