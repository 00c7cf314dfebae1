"""Join, and choose the units to read in."""

from django import forms
from django.contrib.auth import login
from django.contrib.auth.decorators import login_not_required
from django.contrib.auth.forms import UserCreationForm
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.utils.http import url_has_allowed_host_and_scheme
from django.views.decorators.http import require_http_methods, require_POST

from web.accounts.models import User
from web.accounts.requests import SignedIn


class JoinForm(UserCreationForm):  # type: ignore[type-arg]
    class Meta:
        model = User
        fields = ("username",)


@login_not_required
@require_http_methods(["GET", "HEAD", "POST"])
def join(request: HttpRequest) -> HttpResponse:
    form = JoinForm(request.POST or None)
    if request.method == "POST" and form.is_valid():
        login(request, form.save())
        return redirect("projects")
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
