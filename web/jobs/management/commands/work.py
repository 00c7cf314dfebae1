"""A worker: takes chunks of runs as they are asked, until it is stopped; where the database was away it begins anew."""

import os
import sys
import time
from typing import Any

from django.core.management.base import BaseCommand, CommandParser
from django.db import Error, connection
from procrastinate.contrib.django import app

from web.simulations.cache import warm
from web.ui.rows import Row

POLL_S = 1
"""Seconds between looks for the database."""


class Command(BaseCommand):
    help = "Calculate the years that runs ask for, until stopped."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("--threads", type=int, default=os.cpu_count() or 1, help="years calculated side by side")
        parser.add_argument("--once", action="store_true", help="end when nothing is left to do")

    def handle(self, *args: Any, **options: Any) -> None:
        wait_for_database()
        warm()
        try:
            self.work(options)
        except Exception:
            if there():
                raise
        else:
            if there():
                return
        self.stderr.write("The database went away: waiting for it.")
        wait_for_database()
        self.stderr.write("The database is back: the worker begins anew.")
        sys.stderr.flush()
        os.execv(sys.executable, sys.orig_argv)  # what listened to it and what was begun went with its connections

    def work(self, options: Row) -> None:
        """Work until stopped, or until the database is gone."""
        connector: Any = app.connector
        with app.replace_connector(connector.get_worker_connector()) as working:
            working.run_worker(
                queues=["years", "care"],
                concurrency=options["threads"] + 1,
                wait=not options["once"],
                shutdown_graceful_timeout=5,
                delete_jobs="successful",
                update_heartbeat_interval=5,
            )


def wait_for_database() -> None:
    """Return once the database answers."""
    while not there():
        time.sleep(POLL_S)


def there() -> bool:
    """Whether the database answers on the connection there was; one that is broken is let go of."""
    try:
        with connection.cursor() as cursor:
            cursor.execute("SELECT 1")
    except Error:
        connection.close()
        return False
    return True
