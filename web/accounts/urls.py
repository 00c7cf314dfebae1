from django.contrib.auth.decorators import login_not_required
from django.contrib.auth.views import LoginView, LogoutView
from django.urls import path

from web.accounts import views

urlpatterns = [
    path(
        "sign-in",
        LoginView.as_view(template_name="accounts/sign_in.html", redirect_authenticated_user=True),
        name="sign-in",
    ),
    path("sign-out", login_not_required(LogoutView.as_view()), name="sign-out"),
    path("join", views.join, name="join"),
    path("units", views.choose_units, name="units"),
]
