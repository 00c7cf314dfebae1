"""./ledger backup FILE: everything that is kept, while it is in use."""

from pathlib import Path
from typing import Any

from django.core.management.base import BaseCommand, CommandError, CommandParser

from web.backup.backups import NoBackup, backup


class Command(BaseCommand):
    help = "Write everything that is kept to a file, while it is in use."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("file", type=Path)

    def handle(self, *args: Any, **options: Any) -> None:
        target = options["file"].absolute()
        if not target.parent.is_dir():
            raise CommandError(f"There is no folder {target.parent}.")
        try:
            manifest = backup(target)
        except (NoBackup, OSError) as error:
            raise CommandError(f"Not written: {error}") from error
        rows = ", ".join(f"{count} {table.partition('_')[2]}s" for table, count in manifest["rows_about"].items())
        self.stdout.write(
            f"{target}: {manifest['bytes'] / 1e6:.1f} MB, {rows}. Keys are not in it: keep secret.key by itself."
        )
