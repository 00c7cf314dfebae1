"""./ledger restore FILE: a backup put into an empty place."""

from pathlib import Path
from typing import Any

from django.core.management.base import BaseCommand, CommandError, CommandParser

from web.backup.backups import NoBackup, counts, restore


class Command(BaseCommand):
    help = "Put a backup into an empty place."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("file", type=Path)

    def handle(self, *args: Any, **options: Any) -> None:
        try:
            manifest = restore(options["file"].absolute())
        except (NoBackup, OSError) as error:
            raise CommandError(f"Not restored: {error}") from error
        rows = ", ".join(f"{count} {table.partition('_')[2]}s" for table, count in counts().items())
        self.stdout.write(f"Restored what was kept on {manifest['made'][:16].replace('T', ' ')}: {rows}.")
