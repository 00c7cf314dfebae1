from django.urls import path

from web.catalogue import views

urlpatterns = [
    path("", views.catalogue, name="catalogue"),
    path("builder", views.builder, name="builder"),
    path("builder/keep", views.save_built, name="keep-built"),
    path("standing", views.standing, name="standing"),
    path("<slug:group>/save", views.save, name="save-entry"),
    path("<slug:group>/table", views.table, name="entry-table"),
    path("<slug:group>/away", views.away, name="entry-away"),
    path("<slug:group>.csv", views.download, name="entry-download"),
]
