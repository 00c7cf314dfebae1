"""Mails to a person about their account, and the password asked for again before something weighty."""

import logging
from smtplib import SMTPException

from django.contrib.auth import authenticate
from django.core.mail import send_mail

from web.accounts import rates
from web.accounts.models import User
from web.accounts.requests import SignedIn

log = logging.getLogger("web.accounts")


def notify(user: User, what: str, to: str = "", more: str = "") -> None:
    """Notify a person by mail what was done with their account, where an address is kept; a mail that fails holds up
    nothing."""
    address = to or user.email
    if not address or not rates.allowed(rates.NOTICES_TO, address):
        return
    text = (
        f"{what}, for the account {user.get_username()}.\n\n{more + '.' + chr(10) * 2 if more else ''}"
        "If this was not you, change the password, end the sessions you do not know under Account, and tell whoever "
        "runs this server.\n"
    )
    try:
        send_mail(f"Red Ledger: {what.lower()}", text, None, [address])
    except (OSError, SMTPException):
        log.warning("A notice to person %s could not be sent", user.pk)


def knows_password(request: SignedIn) -> bool:
    """Whether the request brings the person's own password; wrong ones count as they do at the door."""
    typed = request.POST.get("password", "")[:4096]
    return bool(typed) and authenticate(request, username=request.user.get_username(), password=typed) is not None
