from django.apps import AppConfig


class ProjectsConfig(AppConfig):
    name = "web.projects"
    label = "projects"
