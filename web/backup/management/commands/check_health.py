"""./ledger check: whether all is well."""

from typing import Any

from django.core.management.base import BaseCommand, CommandError

from web.backup.checks import check_health


class Command(BaseCommand):
    help = "Look whether all is well."
    requires_system_checks: list[str] = []

    def handle(self, *args: Any, **options: Any) -> None:
        bad = 0
        for found in check_health():
            self.stdout.write(f"{'well ' if found.well else 'WRONG'}  {found.name:<10} {found.words}")
            bad += not found.well
        if bad:
            raise CommandError(f"{bad} of these want care.")
