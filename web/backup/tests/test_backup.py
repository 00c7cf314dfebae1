"""Everything kept goes out as one file and comes back to the last digit; what is amiss is reported."""

import io
import json
import os
import subprocess
import sys
import tarfile
import tempfile
from pathlib import Path
from unittest.mock import patch

from django.conf import settings
from django.core.management import CommandError, call_command
from django.db import connection
from django.test import TestCase, TransactionTestCase

from heat.ledger.year_book import BOUGHT
from heat.simulation.year import simulate
from web.accounts.models import User
from web.backup import backups
from web.backup.backups import DUMP, MANIFEST, NoBackup, backup, opened, restore
from web.backup.checks import check_health, disk, documents, upgrades, weather
from web.projects.climates import merrow_coast
from web.projects.models import Design, WeatherFile
from web.projects.services.designs import create_project
from web.simulations.cache import parse
from web.simulations.weather import weather_year

THERE = """
from django.db import connections
from heat.design import parse
from heat.ledger.year_book import BOUGHT
from heat.simulation.year import simulate
from web.projects.models import Design
from web.simulations.weather import weather_year
design = Design.objects.select_related("project__weather").get()
book = simulate(parse(design.document()), weather_year(design.project.weather))
print("YEAR", repr(float(book.total(*BOUGHT))), design.project.name, design.project.owner.username)
"""


class OutAndIn(TransactionTestCase):
    def setUp(self):
        self.folder = Path(tempfile.mkdtemp())
        self.file = self.folder / "kept.tar"
        self.user = User.objects.create_user("ada", password="quay-of-merrow-7")
        self.project = create_project(owner=self.user, name="Gull Row", place="", weather=merrow_coast())

    def there(self, name, *command):
        """Manage another database of this server."""
        environment = {
            **os.environ,
            "DJANGO_SETTINGS_MODULE": "web.config.test_settings",
            "LEDGER_DB_NAME": name,
            "LEDGER_DB_PORT": str(connection.settings_dict["PORT"]),
        }
        return subprocess.run(
            [sys.executable, "manage.py", *command],
            cwd=settings.ROOT,
            env=environment,
            capture_output=True,
            text=True,
            check=False,
        )

    def test_a_year_is_the_same_to_the_last_digit(self):
        call_command("backup", str(self.file), stdout=io.StringIO())
        self.assertEqual(self.file.stat().st_mode & 0o777, 0o600)
        design = Design.objects.select_related("project__weather").get()
        exact = float(simulate(parse(design.document()), weather_year(design.project.weather)).total(*BOUGHT))
        other = f"{connection.settings_dict['NAME']}_back"
        with connection.cursor() as cursor:
            cursor.execute(f"DROP DATABASE IF EXISTS {other}")
            cursor.execute(f"CREATE DATABASE {other}")
        try:
            done = self.there(other, "restore", str(self.file))
            self.assertEqual(done.returncode, 0, done.stderr[-400:])
            self.assertIn("1 projects", done.stdout)
            text = self.there(other, "shell", "-c", THERE)
            self.assertIn(f"YEAR {exact!r} Gull Row ada", text.stdout, text.stderr[-400:])
            again = self.there(other, "restore", str(self.file))
            self.assertIn("not empty", again.stderr)
        finally:
            with connection.cursor() as cursor:
                cursor.execute(f"DROP DATABASE IF EXISTS {other} WITH (FORCE)")

    def test_what_was_tampered_with_is_refused(self):
        backup(self.file)
        with tarfile.open(self.file) as packed:
            manifest = json.loads(packed.extractfile(MANIFEST).read())
            dump = packed.extractfile(DUMP).read()

        def written(about, raw, extra=""):
            with tarfile.open(self.file, "w") as packed:
                for name, part in ((MANIFEST, json.dumps(about).encode()), (DUMP, raw)):
                    backups._add(packed, name, part)
                if extra:
                    backups._add(packed, extra, b"x")

        for about, raw, extra, words in (
            (manifest, dump[:-9] + b"rubbish!!", "", "checksum"),
            (manifest, dump, "../../etc/passwd", "other things"),
            ({**manifest, "format": 9}, dump, "", "another format"),
            ({**manifest, "migrations": [*manifest["migrations"], "projects.9999_later"]}, dump, "", "later version"),
        ):
            written(about, raw, extra)
            with self.subTest(words=words), self.assertRaisesMessage(NoBackup, words), opened(self.file):
                pass
        self.file.write_bytes(b"no tar at all")
        with self.assertRaisesMessage(NoBackup, "no backup"), opened(self.file):
            pass
        with self.assertRaisesMessage(NoBackup, "not empty"):
            restore(self.file)
        self.assertEqual(User.objects.count(), 1)

    def test_a_backup_that_fails_leaves_the_one_before(self):
        backup(self.file)
        before = self.file.read_bytes()
        with patch("web.backup.backups.tool", return_value="/bin/false"), self.assertRaises(CommandError):
            call_command("backup", str(self.file))
        self.assertEqual(self.file.read_bytes(), before)
        self.assertEqual([p.name for p in self.folder.iterdir()], ["kept.tar"])
        with self.assertRaises(CommandError):
            call_command("backup", "/nowhere/at/all/kept.tar")


class LookingRound(TestCase):
    def setUp(self):
        self.user = User.objects.create_user("ada")
        self.project = create_project(owner=self.user, name="Gull Row", place="", weather=merrow_coast())

    def test_all_is_well(self):
        self.assertTrue(all(found.well for found in check_health()), [f for f in check_health() if not f.well])
        out = io.StringIO()
        call_command("check_health", stdout=out)
        self.assertEqual(out.getvalue().count("well"), 6)

    def test_what_is_amiss_is_reported(self):
        design = self.project.designs.get()
        design.scheme["system"]["store"]["volume_l"] = -5
        design.save()
        self.assertIn("project", documents().words)
        WeatherFile.objects.update(data=b"PK rubbish")
        self.assertFalse(weather().well)
        with patch("web.backup.checks.known_migrations", return_value=set()):
            self.assertIn("later version", upgrades().words)
        with patch("web.backup.checks.migrations", return_value=[]):
            self.assertIn("steps are missing", upgrades().words)
        with patch("web.backup.checks.LEAST_MB", 1e12):
            self.assertFalse(disk().well)
        with self.assertRaisesMessage(CommandError, "2 of these"):
            call_command("check_health", stdout=io.StringIO())
