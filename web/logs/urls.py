from django.urls import path

from web.logs import views

urlpatterns = [
    path("log/<int:pk>/readings", views.take_readings, name="take-readings"),
    path("upkeep/<str:token>.ics", views.calendar, name="upkeep-calendar"),
]
