"""A worker: takes chunks of runs as they are asked, until it is stopped."""

import os
from typing import Any

from django.core.management.base import BaseCommand, CommandParser
from procrastinate.contrib.django import app

from web.years.reckoned import warm


class Command(BaseCommand):
    help = "Reckon the years that runs ask for, until stopped."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("--threads", type=int, default=os.cpu_count() or 1, help="years reckoned side by side")
        parser.add_argument("--once", action="store_true", help="end when nothing is left to do")

    def handle(self, *args: Any, **options: Any) -> None:
        warm()
        connector: Any = app.connector
        with app.replace_connector(connector.get_worker_connector()) as working:
            working.run_worker(
                queues=["years", "care"], concurrency=options["threads"] + 1, wait=not options["once"],
                shutdown_graceful_timeout=5, delete_jobs="successful", update_heartbeat_interval=5,
            )  # fmt: skip
