from django.urls import path

from web.places import views

urlpatterns = [path("towns", views.towns, name="towns")]
