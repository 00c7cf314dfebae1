from django.urls import path

from web.reports import views

urlpatterns = [
    path("read/<str:token>/", views.client_page, name="client-page"),
    path("read/<str:token>/report.pdf", views.client_pdf, name="client-pdf"),
]
