from django.urls import path

from web.projects import views

urlpatterns = [
    path("", views.projects, name="projects"),
    path("projects/new", views.new_project, name="new-project"),
    path("projects/<int:pk>/<str:letter>/edit", views.edit, name="edit"),
    path("projects/<int:pk>/<str:letter>/undo", views.undo, name="undo"),
    path("projects/<int:pk>/<str:letter>/redo", views.redo, name="redo"),
    path("projects/<int:pk>/<str:letter>/save", views.save, name="save"),
    path("projects/<int:pk>/<str:letter>/weather", views.weather, name="weather"),
    path("projects/<int:pk>/<str:letter>/weather/shift", views.shift, name="shift-weather"),
    path("projects/<int:pk>/<str:letter>/steps", views.next_steps, name="next-steps"),
    path("projects/<int:pk>/<str:letter>/<slug:screen>", views.screen, name="screen"),
]
