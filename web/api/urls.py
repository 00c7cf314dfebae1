from django.urls import path

from web.api.endpoints import api, patterns
from web.api.views import docs

urlpatterns = [path("docs", docs, name="api-docs"), path("", (patterns(), "ninja", api.urls_namespace))]
