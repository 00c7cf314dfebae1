"""Where this server is found from outside: the start of links that leave it."""

from urllib.parse import urlsplit

from django.conf import settings
from django.http import HttpRequest, HttpResponse, HttpResponseRedirect
from django.shortcuts import redirect
from django.utils.http import url_has_allowed_host_and_scheme


def public_origin(request: HttpRequest) -> str:
    """Scheme and host of links shown to whoever asks: ``LEDGER_URL`` where it is set, else as the request has it."""
    return settings.PUBLIC_URL.rstrip("/") or f"{request.scheme}://{request.get_host()}"


def led_back(request: HttpRequest, address: str, usual: str) -> HttpResponse:
    """On to an address of this server that the request names; to the page of the ``usual`` name from anything else."""
    ours = address.startswith("/") and url_has_allowed_host_and_scheme(address, allowed_hosts={request.get_host()})
    return HttpResponseRedirect(address) if ours else redirect(usual)


def mail_origin(request: HttpRequest) -> str:
    """Scheme and host of links that are mailed to somebody else than whoever asks.

    Without ``LEDGER_URL`` the host is the one that was asked for, which is among ``LEDGER_HOSTS``, and the port this
    server's own: a port that the request names is not believed.
    """
    if settings.PUBLIC_URL:
        return settings.PUBLIC_URL.rstrip("/")
    host = urlsplit(f"//{request.get_host()}").hostname or "localhost"
    host = f"[{host}]" if ":" in host else host
    if settings.HTTPS:
        return f"https://{host}"
    return f"http://{host}" if settings.WEB_PORT == "80" else f"http://{host}:{settings.WEB_PORT}"
