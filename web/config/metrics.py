"""Figures for whoever watches: requests by address, their time, years calculated. The workers count; the server's own
process answers with it at this machine's loopback alone."""

from collections.abc import Callable
from time import perf_counter

from django.http import HttpRequest, HttpResponse
from prometheus_client import Counter, Histogram

from web.simulations.cache import on_simulated

SECONDS = (0.01, 0.025, 0.05, 0.1, 0.2, 0.4, 0.8, 1.5, 3.0, 8.0)
requests = Counter("ledger_requests", "Requests answered", ["address", "method", "status"])
seconds = Histogram("ledger_request_seconds", "Time of a request (s)", ["address"], buckets=SECONDS)
years = Counter("ledger_years", "Years calculated for pages and programs")
year_seconds = Counter("ledger_year_seconds", "Time spent on them (s)")


def _year(took_s: float) -> None:
    years.inc()
    year_seconds.inc(took_s)


on_simulated.append(_year)


def measured(answer: Callable[[HttpRequest], HttpResponse]) -> Callable[[HttpRequest], HttpResponse]:
    """Count each request under the name of its address, never under what it holds."""

    def measure(request: HttpRequest) -> HttpResponse:
        start = perf_counter()
        response = answer(request)
        match = request.resolver_match
        address = (match.url_name or "unnamed") if match else "none"
        method = request.method if request.method in ("GET", "HEAD", "POST", "PATCH", "DELETE") else "other"
        requests.labels(address, method, str(response.status_code)).inc()
        seconds.labels(address).observe(perf_counter() - start)
        return response

    return measure
