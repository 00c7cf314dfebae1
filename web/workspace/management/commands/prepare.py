"""Everything between an empty database and a server: one process, so that it is quick."""

from typing import Any

from django.core.management import call_command
from django.core.management.base import BaseCommand, CommandParser

from web.places.towns import fill
from web.projects.services.deletion import sweep
from web.simulations.cache import warm


class Command(BaseCommand):
    help = "Migrate, collect static files, compile or load the kernels, and load the demo if asked."
    requires_system_checks: list[str] = []

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("--demo", action="store_true")
        parser.add_argument("--no-database", action="store_true")

    def handle(self, *args: Any, **options: Any) -> None:
        if not options["no_database"]:
            call_command("migrate", verbosity=0)
            sweep()
            fill()
        call_command("collectstatic", interactive=False, verbosity=0)
        warm()
        if options["demo"]:
            call_command("load_demo", weigh=True)
