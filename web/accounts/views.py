"""Join, the account, and the units to read in."""

from datetime import timedelta
from typing import Any, cast

from django import forms
from django.conf import settings
from django.contrib.auth import authenticate, login
from django.contrib.auth.decorators import login_not_required
from django.contrib.auth.forms import PasswordChangeForm, SetPasswordForm, UserCreationForm
from django.contrib.auth.views import PasswordChangeView, PasswordResetConfirmView, PasswordResetView
from django.db import transaction
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.urls import Resolver404, ResolverMatch, resolve
from django.utils import timezone
from django.views.decorators.http import require_http_methods, require_POST

from heat.errors import HeatError
from web.accounts import rates
from web.accounts.models import User
from web.accounts.notices import knows_password, notify
from web.accounts.requests import SignedIn
from web.accounts.second_factor import device_of
from web.accounts.tokens import open_tokens
from web.ui.origin import led_back, mail_origin

NOTE = "account_note"
"""Where a session keeps what the account's page says next."""


class AccountForm(forms.ModelForm):  # type: ignore[type-arg]
    class Meta:
        model = User
        fields = ("email", "units", "decimals")
        labels = {"email": "Mail, for a new password when this one is lost", "decimals": "Numbers as you type them"}


class JoinForm(UserCreationForm):  # type: ignore[type-arg]
    class Meta:
        model = User
        fields = ("username",)


def _link_read(request: HttpRequest) -> ResolverMatch | None:
    """The link opened earlier in this session, if it can still be taken up."""
    try:
        found = resolve(str(request.session.get("invited", "")))
    except Resolver404:
        return None
    opens = getattr(found.func, "opens", None)
    return found if opens and opens(**found.kwargs) else None


@login_not_required
@require_http_methods(["GET", "HEAD", "POST"])
def join(request: HttpRequest) -> HttpResponse:
    """Open an account. Where strangers may not, a link opens one: the account takes the link up with its first step,
    so that one link never opens two."""
    link = _link_read(request)
    if not settings.SIGN_UP and link is None:
        text = "Accounts are opened by whoever runs this server. Ask them for one, or sign in."
        return _problem(request, "Closed", text, 403)
    form = JoinForm(request.POST or None)
    if request.method == "POST" and not rates.allowed(rates.JOINED_FROM, request.META.get("REMOTE_ADDR", "")):
        return _problem(request, "Later", "Many accounts were opened from here just now. Try again in an hour.", 429)
    if request.method == "POST" and form.is_valid():
        try:
            with transaction.atomic():
                user = form.save()
                answer = vars(link.func)["taken"](user=user, **link.kwargs) if link else redirect("projects")
        except HeatError as error:
            return _problem(request, "Not open", str(error), 409)
        login(request, user, backend="django.contrib.auth.backends.ModelBackend")
        request.session.pop("invited", None)
        return cast(HttpResponse, answer)
    status = 422 if form.errors else 200
    return render(request, "accounts/join.html", {"form": form}, status=status)


def _problem(request: HttpRequest, title: str, text: str, status: int) -> HttpResponse:
    return render(request, "ui/problem.html", {"title": title, "text": text}, status=status)


class UnitsForm(forms.Form):
    units = forms.ChoiceField(choices=User.Units.choices)
    back = forms.CharField(required=False)


@require_POST
def choose_units(request: SignedIn) -> HttpResponse:
    form = UnitsForm(request.POST)
    if form.is_valid():
        request.user.units = form.cleaned_data["units"]
        request.user.save(update_fields=["units"])
    return led_back(request, form.data.get("back", ""), "projects")


def _new_address(request: SignedIn, form: AccountForm, before: str) -> None:
    """Where a mail leads to a new password, another address asks for the password; the old address is notified."""
    if not knows_password(request):
        form.add_error("email", "Another address needs your password below.")
    elif before:
        notify(request.user, "The mail address was changed", to=before)


class EndsKeys(forms.Form):
    """Beside a new password: whether the keys given to programs end with the old one."""

    user: User
    end_keys = forms.BooleanField(required=False)

    def offer_keys(self) -> None:
        """Say how many keys there are; ask nothing where there are none."""
        count = open_tokens(self.user).count()
        if not count:
            del self.fields["end_keys"]
            return
        keys = "the key you gave to a program" if count == 1 else f"the {count} keys you gave to programs"
        self.fields["end_keys"].label = f"End {keys}, too: a new password alone leaves them open"

    def keys_words(self) -> str:
        """End the keys if that is wanted; what became of them, in words."""
        if self.cleaned_data.get("end_keys"):
            ended = open_tokens(self.user).update(ended=timezone.now())
            return f"{_keys(ended)} ended"
        count = open_tokens(self.user).count()
        return f"{_keys(count)} not ended: Account lists what is open" if count else ""


def _keys(count: int) -> str:
    return "1 key for a program was" if count == 1 else f"{count} keys for programs were"


class ChangeForm(EndsKeys, PasswordChangeForm):
    """Another password by the old one, which counts as a try when it is wrong."""

    def __init__(self, request: SignedIn, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.request = request
        self.offer_keys()

    def clean_old_password(self) -> str:
        """The old password. Raises ValidationError where it is wrong, or guessed too often from here."""
        typed: str = self.cleaned_data["old_password"]
        if authenticate(self.request, username=self.user.get_username(), password=typed) is None:
            raise forms.ValidationError(self.error_messages["password_incorrect"], code="password_incorrect")
        return typed


class ResetForm(EndsKeys, SetPasswordForm):  # type: ignore[type-arg]
    """A new password by a mailed link; whoever lost the old one had better end the keys, too."""

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.fields["end_keys"].initial = True
        self.offer_keys()


class PasswordChange(PasswordChangeView):
    """Another password, of which the person is notified by mail."""

    form_class = ChangeForm

    def get_form_kwargs(self) -> dict[str, object]:
        return {**super().get_form_kwargs(), "request": self.request}

    def form_valid(self, form: Any) -> HttpResponse:
        answer = super().form_valid(form)
        words = form.keys_words()
        notify(cast(User, self.request.user), "The password was changed", more=words)
        self.request.session[NOTE] = f"The password is changed. {words + '.' if words else ''}".strip()
        return answer


class PasswordReset(PasswordResetView):
    """A mail that leads to a new password: so many to an address, and so many from one place."""

    def form_valid(self, form: Any) -> HttpResponse:
        if not rates.allowed(rates.RESETS_FROM, self.request.META.get("REMOTE_ADDR", "")):
            return _problem(self.request, "Later", "Many mails were asked for from here. Try again in an hour.", 429)
        if not rates.allowed(rates.MAILS_TO, form.cleaned_data["email"]):
            return redirect(self.get_success_url())  # said to nobody: whether the address is kept stays unknown
        self.extra_email_context = {"origin": mail_origin(self.request)}
        return super().form_valid(form)


class PasswordResetConfirm(PasswordResetConfirmView):
    """A new password by the mailed link, of which the person is notified."""

    form_class = ResetForm

    def form_valid(self, form: Any) -> HttpResponse:
        answer = super().form_valid(form)
        notify(cast(User, self.user), "A new password was set by the link of a mail", more=form.keys_words())
        return answer


@require_http_methods(["GET", "HEAD", "POST"])
def account(request: SignedIn) -> HttpResponse:
    """Mail and units of a person; the account left, with a grace, or kept."""
    user, act = request.user, request.POST.get("do", "")
    form, note, status = AccountForm(instance=user), str(request.session.pop(NOTE, "")), 200
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
    context = {
        "form": form,
        "note": note,
        "until": until,
        "grace": settings.GRACE_DAYS,
        "second": device_of(user),
        "memberships": user.memberships.select_related("firm"),
    }
    return render(request, "accounts/account.html", context, status=status)
