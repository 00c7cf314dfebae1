"""What a request is once a person has signed in: every address but the open ones asks for that first."""

from django.http import HttpRequest
from django_htmx.middleware import HtmxDetails

from web.accounts.models import User


class SignedIn(HttpRequest):
    """A request of a signed-in person, with what htmx says of the page that asks."""

    user: User
    htmx: HtmxDetails
