"""Everything that is kept, as one file and back: a consistent dump of the database, and what it was made of.

Uploads, weather, reports and photographs lie in the database. Keys (sessions' secret, the database's password) are
listed apart: a backup does not hold them.
"""

import io
import json
import os
import subprocess
import tarfile
import tempfile
from collections.abc import Iterator
from contextlib import contextmanager
from hashlib import sha256
from pathlib import Path

from django.core.management import call_command
from django.db import connection
from django.db.migrations.loader import MigrationLoader
from django.utils import timezone

from heat import ENGINE_VERSION
from web.ui.rows import Row

FORMAT = 1
DUMP, MANIFEST = "database.dump", "manifest.json"
COUNTED = ("accounts_user", "projects_project", "projects_design", "projects_edit", "logs_reading", "reports_report")
"""Tables whose rows are listed in the manifest, and counted again after a restore."""
CHUNK = 1 << 20


class NoBackup(Exception):
    """A file that is no backup, or none that can be taken here, in words."""


def tool(name: str) -> str:
    """A program of PostgreSQL: of the folder that is named, else of the newest there is."""
    named = os.environ.get("LEDGER_PG_BIN")
    folders = [Path(named)] if named else sorted(Path("/usr/lib/postgresql").glob("*/bin"), reverse=True)
    for folder in folders:
        if (folder / name).exists():
            return str(folder / name)
    raise NoBackup(f"{name} of PostgreSQL is not on this machine.")


def _to_database(program: str, *options: str) -> list[str]:
    db = connection.settings_dict
    return [tool(program), "-h", str(db["HOST"]), "-p", str(db["PORT"]), "-U", str(db["USER"]), *options]


def _run(command: list[str]) -> None:
    done = subprocess.run(
        command,
        env={**os.environ, "PGPASSWORD": str(connection.settings_dict["PASSWORD"])},
        capture_output=True,
        text=True,
        check=False,
    )
    if done.returncode:
        raise NoBackup(f"{Path(command[0]).name}: {done.stderr.strip()[-400:]}")


def migrations() -> list[str]:
    """Migrations that were applied here."""
    return sorted(f"{app}.{name}" for app, name in MigrationLoader(connection).applied_migrations)


def known_migrations() -> set[str]:
    """Migrations this version of the application knows."""
    return {f"{app}.{name}" for app, name in MigrationLoader(connection).disk_migrations}


def counts() -> dict[str, int]:
    """Rows of what matters."""
    found = {}
    with connection.cursor() as cursor:
        for table in COUNTED:
            cursor.execute("SELECT to_regclass(%s)", [table])
            if cursor.fetchone()[0] is not None:
                cursor.execute(f"SELECT count(*) FROM {table}")
                found[table] = cursor.fetchone()[0]
    return found


def digest(path: Path) -> str:
    """SHA-256 of a file."""
    made = sha256()
    with path.open("rb") as file:
        while part := file.read(CHUNK):
            made.update(part)
    return made.hexdigest()


def backup(target: Path) -> Row:
    """Write everything to a file, while it is in use: one moment of the database. Raises NoBackup."""
    with tempfile.TemporaryDirectory(dir=target.parent) as folder:
        dump = Path(folder) / DUMP
        manifest = {
            "format": FORMAT,
            "made": timezone.now().isoformat(),
            "engine": ENGINE_VERSION,
            "migrations": migrations(),
            "rows_about": counts(),
        }
        _run(_to_database("pg_dump", "-Fc", "--no-owner", "--no-privileges", "-f", str(dump), _name()))
        manifest |= {"sha256": digest(dump), "bytes": dump.stat().st_size}
        fresh = Path(folder) / "whole.tar"
        with tarfile.open(fresh, "w") as packed:
            _add(packed, MANIFEST, (json.dumps(manifest, indent=1) + "\n").encode())
            packed.add(dump, DUMP)
        fresh.chmod(0o600)
        os.replace(fresh, target)  # whole, or not there at all
    return manifest


def _name() -> str:
    return str(connection.settings_dict["NAME"])


def _add(packed: tarfile.TarFile, name: str, raw: bytes) -> None:
    about = tarfile.TarInfo(name)
    about.size = len(raw)
    packed.addfile(about, io.BytesIO(raw))


@contextmanager
def opened(source: Path) -> Iterator[tuple[dict[str, object], Path]]:
    """What a backup says of itself, and its dump in a folder of its own, checked. Raises NoBackup."""
    with tempfile.TemporaryDirectory() as folder:
        try:
            with tarfile.open(source) as packed:
                names = packed.getnames()
                if sorted(names) != sorted((MANIFEST, DUMP)):
                    raise NoBackup("This is no backup: it holds other things than one does.")
                manifest = json.loads((packed.extractfile(MANIFEST) or io.BytesIO()).read(CHUNK))
                dump = Path(folder) / DUMP
                with dump.open("wb") as out:
                    taken = packed.extractfile(DUMP)
                    while taken and (part := taken.read(CHUNK)):
                        out.write(part)
        except (tarfile.TarError, OSError, ValueError, EOFError) as error:
            raise NoBackup(f"This is no backup that can be read: {error}") from error
        if not isinstance(manifest, dict) or manifest.get("format") != FORMAT:
            raise NoBackup("It is of another format than this version reads.")
        if digest(dump) != manifest.get("sha256"):
            raise NoBackup("It is not what it was when it was made: its checksum differs.")
        strange = set(manifest["migrations"]) - known_migrations()
        if strange:
            raise NoBackup(f"It was made by a later version ({sorted(strange)[-1]}): bring this one up to it first.")
        yield manifest, dump


def is_empty() -> bool:
    """Whether nobody has anything here."""
    return not any(counts().get(table) for table in COUNTED)


def restore(source: Path) -> Row:
    """Put a backup into an empty place, and step it up to this version. Raises NoBackup; nothing is changed then."""
    if not is_empty():
        raise NoBackup("This place is not empty: restore into a fresh one (LEDGER_STATE, LEDGER_PGDATA name another).")
    with opened(source) as (text, dump):
        with connection.cursor() as cursor:
            cursor.execute("DROP SCHEMA public CASCADE")
            cursor.execute("CREATE SCHEMA public")
        connection.close()
        _run(_to_database("pg_restore", "--no-owner", "--no-privileges", "--exit-on-error", "-d", _name(), str(dump)))
    call_command("migrate", verbosity=0)
    return text
