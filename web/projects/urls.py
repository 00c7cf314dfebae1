from django.urls import path

from web.projects import intake, views

DESIGN = "projects/<int:pk>/<str:letter>"

urlpatterns = [
    path("", views.projects, name="projects"),
    path("projects/new", views.new_project, name="new-project"),
    path(f"{DESIGN}/edit", views.edit, name="edit"),
    path(f"{DESIGN}/rows", views.rows, name="rows"),
    path(f"{DESIGN}/choose", views.choose, name="choose"),
    path(f"{DESIGN}/place", views.move_place, name="move-place"),
    path(f"{DESIGN}/undo", views.undo, name="undo"),
    path(f"{DESIGN}/redo", views.redo, name="redo"),
    path(f"{DESIGN}/save", views.save, name="save"),
    path(f"{DESIGN}/weather", intake.weather, name="weather"),
    path(f"{DESIGN}/weather/use", intake.use_weather, name="use-weather"),
    path(f"{DESIGN}/weather/shift", intake.shift, name="shift-weather"),
    path(f"{DESIGN}/weather/means", intake.means, name="means"),
    path(f"{DESIGN}/weather/draft", intake.draft, name="draft"),
    path(f"{DESIGN}/weather/spread", intake.spread, name="spread"),
    path(f"{DESIGN}/weather/<int:file>.<slug:kind>", intake.download, name="download-weather"),
    path(f"{DESIGN}/load", intake.load, name="load"),
    path(f"{DESIGN}/tables/<int:upload>", intake.table, name="table"),
    path(f"{DESIGN}/designs", views.designs, name="designs"),
    path(f"{DESIGN}/accounts.csv", views.accounts, name="accounts"),
    path(f"{DESIGN}/hours.csv", views.hours, name="hours"),
    path(f"{DESIGN}/figures.csv", views.report_figures, name="figures"),
    path(f"{DESIGN}/days.csv", views.shown_hours, name="days"),
    path(f"{DESIGN}/values", views.values, name="values"),
    path(f"{DESIGN}/play", views.play, name="play"),
    path(f"{DESIGN}/year.zip", views.bundle, name="bundle"),
    path(f"{DESIGN}/steps", views.next_steps, name="next-steps"),
    path(f"{DESIGN}/<slug:screen>", views.screen, name="screen"),
]
