from django.apps import AppConfig
from procrastinate import App
from procrastinate.contrib.django import procrastinate_app
from procrastinate.contrib.django.apps import ProcrastinateConfig


class JobsTablesConfig(AppConfig):
    name = "web.jobs"
    label = "runs"


class JobsConfig(ProcrastinateConfig):
    """The queue, made ready once: settings that are overridden make every application ready again."""

    def ready(self) -> None:
        if not isinstance(procrastinate_app.current_app, App):
            super().ready()
