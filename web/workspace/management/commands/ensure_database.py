"""Create the application's role and its database on our own server, if they are not there."""

from typing import Any

import psycopg
from django.conf import settings
from django.core.management.base import BaseCommand
from psycopg.sql import SQL, Identifier, Literal

from web.ui.rows import Row


class Command(BaseCommand):
    help = "Create the application's role and database if they are missing."
    requires_system_checks: list[str] = []

    def handle(self, *args: Any, **options: Any) -> None:
        db: Row = settings.DATABASES["default"]
        password_file = settings.STATE / "keeper.password"
        # A server made by an earlier version has no keeper: there the application's role owns it all.
        keeper = (
            ("keeper", password_file.read_text().strip()) if password_file.exists() else (db["USER"], db["PASSWORD"])
        )
        connection = psycopg.connect(
            host=db["HOST"], port=db["PORT"], user=keeper[0], password=keeper[1], dbname="postgres", autocommit=True
        )
        user, name = Identifier(db["USER"]), Identifier(db["NAME"])
        with connection:
            if not connection.execute("SELECT 1 FROM pg_roles WHERE rolname = %s", (db["USER"],)).fetchone():
                password = Literal(db["PASSWORD"])
                # CREATEDB: the tests make databases of their own.
                connection.execute(SQL("CREATE ROLE {} LOGIN CREATEDB PASSWORD {}").format(user, password))
            if not connection.execute("SELECT 1 FROM pg_database WHERE datname = %s", (db["NAME"],)).fetchone():
                connection.execute(SQL("CREATE DATABASE {} OWNER {}").format(name, user))
