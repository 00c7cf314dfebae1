"""What holds for whoever asks, while they are answered."""

from collections.abc import Callable

from django.http import HttpRequest, HttpResponse

from web.ui.units import written


def own_writing(answer: Callable[[HttpRequest], HttpResponse]) -> Callable[[HttpRequest], HttpResponse]:
    """Numbers are read as the person who asks writes them."""

    def middleware(request: HttpRequest) -> HttpResponse:
        with written(getattr(request.user, "decimals", "ask")):
            return answer(request)

    return middleware
