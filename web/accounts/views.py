"""Join, the account, and the units to read in."""

from datetime import timedelta
from typing import Any, cast

from django import forms
from django.conf import settings
from django.contrib.auth import login
from django.contrib.auth.decorators import login_not_required
from django.contrib.auth.forms import UserCreationForm
from django.contrib.auth.views import PasswordChangeView
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.urls import Resolver404, resolve
from django.utils import timezone
from django.utils.http import url_has_allowed_host_and_scheme
from django.views.decorators.http import require_http_methods, require_POST

from web.accounts.models import User
from web.accounts.notices import knows_password, notify
from web.accounts.requests import SignedIn
from web.accounts.second import device_of


class AccountForm(forms.ModelForm):  # type: ignore[type-arg]
    class Meta:
        model = User
        fields = ("email", "units", "decimals")
        labels = {"email": "Mail, for a new password when this one is lost", "decimals": "Numbers as you type them"}


class JoinForm(UserCreationForm):  # type: ignore[type-arg]
    class Meta:
        model = User
        fields = ("username",)


def _still_open(link: str) -> str:
    """The address of a link that was read before, if it can still be taken up."""
    try:
        found = resolve(link)
    except Resolver404:
        return ""
    opens = getattr(found.func, "opens", None)
    return link if opens and opens(**found.kwargs) else ""


@login_not_required
@require_http_methods(["GET", "HEAD", "POST"])
def join(request: HttpRequest) -> HttpResponse:
    invited = _still_open(str(request.session.get("invited", "")))
    if not settings.SIGN_UP and not invited:
        text = "Accounts are opened by whoever runs this server. Ask them for one, or sign in."
        return render(request, "ui/problem.html", {"title": "Closed", "text": text}, status=403)
    form = JoinForm(request.POST or None)
    if request.method == "POST" and form.is_valid():
        login(request, form.save(), backend="django.contrib.auth.backends.ModelBackend")
        return redirect(invited or "projects")
    status = 422 if form.errors else 200
    return render(request, "accounts/join.html", {"form": form}, status=status)


class UnitsForm(forms.Form):
    units = forms.ChoiceField(choices=User.Units.choices)
    back = forms.CharField(required=False)


@require_POST
def choose_units(request: SignedIn) -> HttpResponse:
    form = UnitsForm(request.POST)
    if form.is_valid():
        request.user.units = form.cleaned_data["units"]
        request.user.save(update_fields=["units"])
    back = form.data.get("back", "")
    safe = url_has_allowed_host_and_scheme(back, allowed_hosts={request.get_host()})
    return redirect(back if safe else "projects")


def _new_address(request: SignedIn, form: AccountForm, before: str) -> None:
    """Where a mail leads to a new password, another address asks for the password; the old address is told."""
    if not knows_password(request):
        form.add_error("email", "Another address needs your password below.")
    elif before:
        notify(request.user, "The mail address was changed", to=before)


class PasswordChange(PasswordChangeView):
    """Another password, of which the person is told by mail."""

    def form_valid(self, form: Any) -> HttpResponse:
        answer = super().form_valid(form)
        notify(cast(User, self.request.user), "The password was changed")
        return answer


@require_http_methods(["GET", "HEAD", "POST"])
def account(request: SignedIn) -> HttpResponse:
    """Mail and units of a person; the account left, with a grace, or kept."""
    user, act = request.user, request.POST.get("do", "")
    form, note, status = AccountForm(instance=user), "", 200
    if act in ("leave", "stay"):
        user.leaving = timezone.now() if act == "leave" else None
        user.save(update_fields=["leaving"])
    elif act == "keep":
        form = AccountForm(request.POST, instance=user)
        before = User.objects.values_list("email", flat=True).get(pk=user.pk)
        if form.is_valid() and form.cleaned_data["email"] != before:
            _new_address(request, form, before)
        status = 200 if form.is_valid() else 422
        if form.is_valid():
            form.save()
            note = "Kept."
    until = (user.leaving or timezone.now()) + timedelta(days=settings.GRACE_DAYS)
    context = {"form": form, "note": note, "until": until, "grace": settings.GRACE_DAYS,
               "second": device_of(user), "memberships": user.memberships.select_related("firm")}  # fmt: skip
    return render(request, "accounts/account.html", context, status=status)
