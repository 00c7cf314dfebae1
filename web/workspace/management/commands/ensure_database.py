"""Create the application's database on our own server if it is not there."""

from typing import Any

import psycopg
from django.conf import settings
from django.core.management.base import BaseCommand


class Command(BaseCommand):
    help = "Create the database if it is missing."
    requires_system_checks: list[str] = []

    def handle(self, *args: Any, **options: Any) -> None:
        db: dict[str, Any] = settings.DATABASES["default"]
        connection = psycopg.connect(
            host=db["HOST"], port=db["PORT"], user=db["USER"], password=db["PASSWORD"],
            dbname="postgres", autocommit=True,
        )  # fmt: skip
        with connection:
            query = "SELECT 1 FROM pg_database WHERE datname = %s"
            if not connection.execute(query, (db["NAME"],)).fetchone():
                name = psycopg.sql.Identifier(db["NAME"])
                connection.execute(psycopg.sql.SQL("CREATE DATABASE {}").format(name))
