from typing import Any

from django.conf import settings
from django.contrib.auth import views as auth
from django.contrib.auth.decorators import login_not_required
from django.urls import path, reverse_lazy
from django.views.decorators.http import require_http_methods

from web.accounts import second_factor, sessions, tokens, views

PLAIN = "accounts/form.html"


pages = require_http_methods(["GET", "HEAD", "POST"])
"""Nothing else is asked of a page with a form."""


def plain(view: Any, title: str, button: str = "", words: str = "", **more: Any) -> Any:
    """One of Django's own account pages on our plain form."""
    context = {"title": title, "button": button, "words": words}
    return pages(view.as_view(template_name=PLAIN, extra_context=context, **more))


urlpatterns = [
    path("sign-in", pages(second_factor.SignInView.as_view(extra_context={"open": settings.SIGN_UP})), name="sign-in"),
    path("sign-in/code", second_factor.code, name="sign-in-code"),
    path("account/second", second_factor.second_factor, name="second-factor"),
    path("account/sessions", sessions.sessions, name="sessions"),
    path("account/keys", tokens.tokens, name="tokens"),
    path("sign-out", login_not_required(auth.LogoutView.as_view()), name="sign-out"),
    path("join", views.join, name="join"),
    path("units", views.choose_units, name="units"),
    path("account", views.account, name="account"),
    path(
        "account/password",
        plain(views.PasswordChange, "Change the password", "Change it", success_url=reverse_lazy("account")),
        name="password_change",
    ),
    path(
        "password",
        login_not_required(
            plain(
                views.PasswordReset,
                "Password lost",
                "Send the mail",
                "Give the mail address kept with your account. A mail leads to a new password; "
                "without an address kept, "
                "whoever runs this server can set one.",
                email_template_name="accounts/reset_mail.txt",
                subject_template_name="accounts/reset_subject.txt",
            )
        ),
        name="password_reset",
    ),
    path(
        "password/sent",
        login_not_required(
            plain(
                auth.PasswordResetDoneView,
                "On its way",
                words="If an account keeps this address, a mail is on its way to it. It may take some minutes.",
            )
        ),
        name="password_reset_done",
    ),
    path(
        "password/<uidb64>/<token>",
        login_not_required(plain(views.PasswordResetConfirm, "A new password", "Set it")),
        name="password_reset_confirm",
    ),
    path(
        "password/set",
        login_not_required(plain(auth.PasswordResetCompleteView, "Done", words="The new password holds from now on.")),
        name="password_reset_complete",
    ),
]
