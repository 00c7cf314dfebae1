"""The second factor: a code of an authenticator (TOTP, RFC 6238), or a recovery code, after the password."""

import logging
import secrets
from base64 import b32encode
from typing import Any

import segno
from django.contrib.auth import login as sign_in
from django.contrib.auth.decorators import login_not_required
from django.contrib.auth.views import LoginView
from django.db import transaction
from django.http import HttpRequest, HttpResponse, HttpResponseBase
from django.shortcuts import redirect, render
from django.utils import timezone
from django.utils.crypto import salted_hmac
from django.views.decorators.http import require_http_methods
from django_otp import login as code_given
from django_otp.plugins.otp_totp.models import TOTPDevice

from web.accounts.backends import guesses_too_much
from web.accounts.models import RecoveryCode, User
from web.accounts.notices import knows_password, notify
from web.accounts.requests import SignedIn
from web.ui.origin import led_back
from web.ui.rows import Row

log = logging.getLogger("web.security")
CODES, HALF_S = 10, 300
"""Recovery codes made at once; seconds between the password and the code."""
HALF = "half"
ISSUER = "Red Ledger"


def device_of(user: Any, confirmed: bool = True) -> TOTPDevice | None:
    """The authenticator of a person."""
    found: TOTPDevice | None = TOTPDevice.objects.filter(user=user, confirmed=confirmed).first()
    return found


class SignInView(LoginView):
    """The password; where there is a second factor, on to its code, and not yet signed in."""

    template_name = "accounts/sign_in.html"
    redirect_authenticated_user = True

    def post(self, request: HttpRequest, *args: Any, **kwargs: Any) -> HttpResponse:
        if guesses_too_much(request):
            return render(request, "accounts/locked.html", {"address": True}, status=429)
        return super().post(request, *args, **kwargs)

    def form_valid(self, form: Any) -> HttpResponse:
        user = form.get_user()
        if device_of(user) is None:
            return super().form_valid(form)
        self.request.session.cycle_key()
        self.request.session[HALF] = {
            "user": user.pk,
            "backend": user.backend,
            "at": timezone.now().timestamp(),
            "to": self.get_success_url(),
        }
        return redirect("sign-in-code")


def _half(request: HttpRequest) -> tuple[User, Row] | None:
    """Who gave their password a moment ago."""
    half = request.session.get(HALF)
    if not half or not 0 <= timezone.now().timestamp() - half["at"] < HALF_S:
        return None
    user = User.objects.filter(pk=half["user"], is_active=True).first()
    return (user, half) if user else None


@login_not_required
@require_http_methods(["GET", "HEAD", "POST"])
def code(request: HttpRequest) -> HttpResponseBase:
    """The code after the password."""
    half = _half(request)
    if half is None:
        request.session.pop(HALF, None)
        return redirect("sign-in")
    user, text = half
    problem = ""
    if request.method == "POST":
        device, problem = _right(user, request.POST.get("code", ""))
        if device is None:
            log.info("A wrong code for person %s", user.pk, extra={"person": user.pk})
        else:
            request.session.pop(HALF)
            sign_in(request, user, backend=text["backend"])
            code_given(request, device)
            return led_back(request, text["to"], "projects")
    return render(request, "accounts/code.html", {"problem": problem}, status=422 if problem else 200)


@transaction.atomic
def _right(user: User, text: str) -> tuple[TOTPDevice | None, str]:
    """The person's authenticator where a code is right, else why it is not; guesses wait longer and longer."""
    device = TOTPDevice.objects.select_for_update().filter(user=user, confirmed=True).first()
    if device is None:
        return None, "There is no second factor any more: sign in anew."
    allowed, why = device.verify_is_allowed()
    if not allowed:
        seconds = max((why["locked_until"] - timezone.now()).total_seconds(), 1)
        return None, f"Too many wrong codes. Wait {seconds:.0f} seconds, then try again."
    typed = "".join(text.split()).replace("-", "").lower()[:20]
    if typed.isdigit() and device.verify_token(typed):
        return device, ""
    if RecoveryCode.objects.filter(user=user, hashed=_hashed(user, typed)).delete()[0]:
        device.throttle_reset()
        notify(user, "A recovery code was used to sign in")
        return device, ""
    if not typed.isdigit():
        device.throttle_increment()
    return None, "This code is not right, or was used before. A code holds for half a minute."


def _hashed(user: User, typed: str) -> str:
    return salted_hmac(f"recovery {user.pk}", typed, algorithm="sha256").hexdigest()


def fresh_codes(user: User) -> list[str]:
    """New recovery codes, shown once; the old ones end."""
    codes = [b32encode(secrets.token_bytes(7)).decode().lower()[:10] for _ in range(CODES)]
    RecoveryCode.objects.filter(user=user).delete()
    RecoveryCode.objects.bulk_create(RecoveryCode(user=user, hashed=_hashed(user, one)) for one in codes)
    return [f"{one[:5]}-{one[5:]}" for one in codes]


@require_http_methods(["GET", "HEAD", "POST"])
def second_factor(request: SignedIn) -> HttpResponse:
    """The second factor of the account: set up, taken away, its recovery codes made anew."""
    more: dict[str, object] = {}
    if request.method == "POST":
        with transaction.atomic():
            more = _done(request, request.POST.get("do", ""))
    device = device_of(request.user)
    context = {"device": device, "left": request.user.recovery_codes.count(), **more}
    if device is None:
        fresh = device_of(request.user, confirmed=False) or TOTPDevice.objects.create(
            user=request.user, name=ISSUER, confirmed=False
        )
        context |= {"secret": b32encode(fresh.bin_key).decode(), "picture": _picture(request.user, fresh)}
    return render(request, "accounts/second.html", context, status=422 if "problem" in more else 200)


def _picture(user: User, device: TOTPDevice) -> str:
    """The key as a picture for an authenticator's camera."""
    drawn: str = segno.make(device.config_url, error="m", micro=False).svg_inline(
        scale=4, border=2, dark="#1a2124", light="#fffdf6", omitsize=False, svgclass="qr", lineclass=None
    )
    return drawn


def _done(request: SignedIn, act: str) -> dict[str, object]:
    user = request.user
    if not knows_password(request):
        return {"problem": "This is not your password. Nothing was changed."}
    if act == "on":
        device = TOTPDevice.objects.select_for_update().filter(user=user, confirmed=False).first()
        typed = "".join(request.POST.get("code", "").split())[:10]
        if device is None or not device.verify_token(typed):
            return {"problem": "This code is not right. Look at the authenticator again; its clock must be right, too."}
        device.confirmed = True
        device.save()
        code_given(request, device)
        notify(user, "A second factor was set up")
        return {"codes": fresh_codes(user)}
    if act in ("codes", "off"):
        device, problem = _right(user, request.POST.get("code", ""))
        if device is None:
            return {"problem": f"{problem} Nothing was changed."}
    if act == "codes":
        notify(user, "New recovery codes were made")
        return {"codes": fresh_codes(user)}
    if act == "off":
        TOTPDevice.objects.filter(user=user).delete()
        RecoveryCode.objects.filter(user=user).delete()
        notify(user, "The second factor was taken away")
        return {"note": "Taken away: the password alone signs you in."}
    return {}
