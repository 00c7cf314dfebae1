"""Databases of every earlier version, as its own code made them, stepped up to this one and opened."""

import gzip
import os
import re
from pathlib import Path
from unittest import TestCase

import psycopg
from django.core.management import call_command
from django.db import connection
from django.db.migrations.executor import MigrationExecutor
from django.test import Client
from psycopg.sql import SQL, Identifier

from web.accounts.models import User
from web.projects.models import Project
from web.projects.tests.helpers import HTMX
from web.simulations.cache import simulate

FOLDER = Path(__file__).parent / "releases"
FRACTIONS = {"1": 0.8450763354123556, "2": 0.8359925528780154}
"""Of the year each kept, by the made-up climate it lay in: the climate was made anew once."""


def sql_of(path):
    """The dump with the weather years' bytes in their places, and which years they are."""
    text = gzip.decompress(path.read_bytes()).decode()
    put = lambda m: "\\\\x" + gzip.decompress((FOLDER / f"weather_{m.group(1)}.gz").read_bytes()).hex()
    return re.sub(r"@BLOB(\d)@", put, text), set(re.findall(r"@BLOB(\d)@", text))


def load(database, text):
    """What psql would do with a dump: statements, and tables between COPY and the full stop."""
    statements = []
    lines = iter(text.split("\n"))
    for line in lines:
        if line.startswith("COPY "):
            database.execute("\n".join(statements))
            statements = []
            with database.cursor().copy(line.rstrip(";")) as table:
                for row in iter(lambda: next(lines), "\\."):
                    table.write(row + "\n")
        else:
            statements.append(line)
    database.execute("\n".join(statements))


class Releases(TestCase):
    """Every other release, the rest beside it. The tests' own connection goes over to each in turn, and back."""

    first = 0

    def setUp(self):
        self.own = connection.settings_dict["NAME"]
        self.addCleanup(self.go_to, self.own)

    def go_to(self, name):
        connection.close()
        connection.settings_dict["NAME"] = name

    def reach(self, name):
        db = connection.settings_dict
        keys = {"host": db["HOST"], "port": db["PORT"], "user": db["USER"], "password": db["PASSWORD"]}
        return psycopg.connect(dbname=name, autocommit=True, **keys)

    def laid_down(self, path):
        """A database of a release, which the connection goes over to; the climates it holds."""
        name = f"release_{os.getpid()}_{path.name[:2]}"
        with self.reach("postgres") as keeper:
            keeper.execute(SQL("CREATE DATABASE {}").format(Identifier(name)))
        text, climates = sql_of(path)
        with self.reach(name) as database:
            load(database, text)
        self.go_to(name)
        return name, climates

    def taken_away(self, name):
        self.go_to(self.own)
        with self.reach("postgres") as keeper:
            keeper.execute(SQL("DROP DATABASE {}").format(Identifier(name)))

    def look(self, climates):
        call_command("migrate", verbosity=0)
        executor = MigrationExecutor(connection)
        self.assertEqual(executor.migration_plan(executor.loader.graph.leaf_nodes()), [])
        project = Project.objects.select_related("weather").get()
        design = project.designs.get(letter="A")
        self.assertEqual(design.document()["system"]["store"]["volume_l"], 410.0)
        book = simulate(design.document(), project.weather).book
        self.assertEqual(book.hours_closed, 8760)
        self.assertAlmostEqual(book.fractions.at_tap, FRACTIONS[climates.pop()], places=9)
        client = Client()
        client.force_login(User.objects.get())
        for step in ("demand", "scheme", "year", "log", "paper"):
            self.assertEqual(client.get(f"/projects/{project.pk}/A/{step}").status_code, 200)
        self.assertEqual(client.get(f"/projects/{project.pk}/history").status_code, 200)
        client.post(f"/projects/{project.pk}/A/undo", {"screen": "scheme"}, headers=HTMX)
        self.assertEqual(Project.objects.get().designs.get(letter="A").document()["system"]["store"]["volume_l"], 300.0)

    def test_each_opens_in_this_version(self):
        paths = sorted(FOLDER.glob("*.sql.gz"))
        self.assertGreaterEqual(len(paths), 11)
        for path in paths[self.first :: 2]:
            with self.subTest(release=path.name):
                name, climates = self.laid_down(path)
                try:
                    self.look(climates)
                finally:
                    self.taken_away(name)


class OtherReleases(Releases):
    first = 1
