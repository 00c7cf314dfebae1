"""Take a person's second factor away, for one who has lost authenticator and recovery codes."""

from typing import Any

from django.core.management.base import BaseCommand, CommandError, CommandParser
from django_otp.plugins.otp_totp.models import TOTPDevice

from web.accounts.models import RecoveryCode, User
from web.accounts.notices import notify


class Command(BaseCommand):
    help = "Take a person's second factor away: the password alone signs them in, until they set up another."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("name", help="whose; be sure who asks")

    def handle(self, *args: Any, **options: Any) -> None:
        user = User.objects.filter(username=options["name"]).first()
        if user is None:
            raise CommandError(f"Nobody is called {options['name']} here.")
        gone, _ = TOTPDevice.objects.filter(user=user).delete()
        RecoveryCode.objects.filter(user=user).delete()
        notify(user, "The second factor was taken away by whoever runs this server")
        self.stdout.write("Taken away." if gone else "There was none.")
