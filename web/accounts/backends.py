"""How a password is checked: not for an address that guesses, and one at a time beside others' work."""

from threading import BoundedSemaphore
from typing import Any

from django.contrib.auth.hashers import PBKDF2PasswordHasher
from django.core.exceptions import PermissionDenied
from django.http import HttpRequest

from web.accounts import rates
from web.ui.exclusive import Busy, exclusive

PATIENCE_S, WAITING = 8.0, 4
"""How long a password waits for its turn to be hashed (s), and how many wait in a process: more would keep threads from
others' requests."""
_waiting = BoundedSemaphore(WAITING)


def guesses_too_much(request: HttpRequest | None) -> bool:
    """Whether too many wrong passwords came from the address of a request, whatever names they were tried for."""
    address = request.META.get("REMOTE_ADDR", "") if request else ""
    return bool(address) and rates.is_over(rates.WRONG_PASSWORDS, address)


class AddressGuard:
    """Stands before the check of a password: an address that guesses is refused before anything is hashed for it."""

    def authenticate(self, request: HttpRequest, **credentials: Any) -> None:
        """Raises PermissionDenied for an address that guesses; else it is the next backend's to say."""
        if guesses_too_much(request):
            raise PermissionDenied


class OneAtATime(PBKDF2PasswordHasher):
    """Django's own hash, one at a time on this machine: a flood of guesses takes one core and not all."""

    def encode(self, password: str, salt: str, iterations: int | None = None) -> str:
        """Raises Busy where too many wait, or the turn does not come."""
        if not _waiting.acquire(blocking=False):
            raise Busy("password")
        try:
            with exclusive("password", PATIENCE_S):
                return super().encode(password, salt, iterations)
        finally:
            _waiting.release()
