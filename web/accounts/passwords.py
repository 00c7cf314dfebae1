"""What a password may be, beside Django's own rules."""

from typing import Any

from django.core.exceptions import ValidationError

LONGEST = 128


class NotEndless:
    """A password has so many letters at most: hashing a longer one is work for nothing."""

    def validate(self, password: str, user: Any = None) -> None:
        if len(password) > LONGEST:
            raise ValidationError(f"A password has {LONGEST} letters at most; this has {len(password)}.")

    def get_help_text(self) -> str:
        return f"{LONGEST} letters at most."
