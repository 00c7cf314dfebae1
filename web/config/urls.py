"""Addresses of the application."""

from django.urls import include, path

from web.config.health import health, ready

urlpatterns = [
    path("health", health, name="health"),
    path("ready", ready, name="ready"),
    path("", include("web.accounts.urls")),
    path("", include("web.places.urls")),
    path("catalogue/", include("web.catalogue.urls")),
    path("", include("web.reports.urls")),
    path("", include("web.logs.urls")),
    path("api/", include("web.api.urls")),
    path("", include("web.workspace.urls")),
]
handler404 = "web.config.health.not_found"
handler403 = "web.config.health.forbidden"
handler500 = "web.config.health.broken"
