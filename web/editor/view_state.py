"""What a page shows of a design: parsed once from its address, never changed."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from functools import cached_property
from typing import Any
from urllib.parse import parse_qsl, urlencode, urlsplit

from heat.design import current_path
from heat.ledger.accounts import EARLIER
from web.accounts.requests import SignedIn
from web.ui.calendar import day_number

DEFAULT_HOUR = 10
SHORTEST, LONGEST = 6, 14 * 24
"""Hours the days of a year may show at once."""
LETTERS = "ABCDEFGHIJKLMNOPQRSTUVWXYZ"
WORD, ROW = 30, 400
"""Letters read of one value of an address, and of a row of traces."""


def whole(text: str | None, low: int, high: int) -> int | None:
    """A whole number of a text, kept between low and high; None for anything else."""
    try:
        return min(max(int((text or "")[:20]), low), high)
    except ValueError:
        return None


@dataclass(frozen=True, kw_only=True)
class ViewState:
    """The part, hours, traces and question a page shows. ``asked``: every name and value of its address, in order."""

    requested: tuple[tuple[str, str], ...] = ()
    view: str = ""
    part: str = ""
    chosen: str = ""
    against: str = ""
    instead: bool = False
    folded: bool = False
    hour: int = DEFAULT_HOUR
    day: int | None = None
    span: int = 24
    start: int | None = None
    traces: tuple[str, ...] = ()
    question: str = ""
    as_table: bool = False
    typed_date: str = ""
    wrong_date: str = ""
    weather: int | None = None
    upload: int | None = None

    @cached_property
    def query(self) -> Mapping[str, str]:
        """The last value of each name."""
        return dict(self.requested)

    def all(self, name: str) -> list[str]:
        """Every value of a name."""
        return [value for key, value in self.requested if key == name]

    @property
    def address(self) -> str:
        """The address's query as it was asked, with its question mark; empty for none."""
        return f"?{urlencode(self.requested)}" if self.requested else ""


@dataclass
class _Date:
    day: int | None
    typed: str = ""
    wrong: str = field(default="")


def _date(query: Mapping[str, str]) -> _Date:
    """The day asked for by number, or by a typed date; one that is none is refused."""
    found = _Date(whole(query.get("day"), 0, 364))
    typed = query.get("date", "")[:WORD]
    if typed:
        try:
            found.day = day_number(typed) - 1
        except ValueError as error:
            found.typed, found.wrong = typed, str(error)
    return found


def named(text: str) -> str:
    """An account or a part by the name it has now."""
    return {**EARLIER, "reckoning": "numerics"}.get(text, text)


def parse(requested: tuple[tuple[str, str], ...], remembered: str = "") -> ViewState:
    """What an address shows; ``remembered``: the traces chosen before."""
    requested = tuple((current_path(name), current_path(value)) for name, value in requested)
    query = dict(requested)
    hour, date = whole(query.get("hour"), 0, 23), _date(query)
    traces = query.get("t", "")[:ROW] or remembered
    number = lambda name: int(query[name]) if query.get(name, "").isdecimal() and len(query[name]) < 10 else None
    return ViewState(
        requested=requested,
        view=query.get("view", "")[:12],
        part=named(query.get("part", "")[:WORD]),
        chosen=named(query.get("plane", query.get("use", query.get("q", "")))[:WORD]),
        against=query["against"] if query.get("against") in tuple(LETTERS) else "",
        instead=query.get("instead") == "1",
        folded=query.get("fold") == "1",
        hour=DEFAULT_HOUR if hour is None else hour,
        day=date.day,
        span=whole(query.get("span"), SHORTEST, LONGEST) or 24,
        start=whole(query.get("start"), 0, 8759),
        traces=tuple(named(one) for one in traces.split(",")),
        question=query.get("ask", "")[:WORD],
        as_table=query.get("table") == "1",
        typed_date=date.typed,
        wrong_date=date.wrong,
        weather=number("look"),
        upload=number("upload"),
    )


PLAIN = ViewState()
"""What a page shows where nothing is asked."""


def state_of(request: SignedIn, **changed: str) -> ViewState:
    """What the page shows: by its own address, or by that of the page that posts; ``changed``: names set anew."""
    if request.method == "POST":
        address: Any = request.htmx.current_url or request.POST.get("from", "")
        requested = parse_qsl(urlsplit(address or "").query)
    else:
        requested = [(name, value) for name in request.GET for value in request.GET.getlist(name)]
    stored = [(name, value) for name, value in requested if name not in changed]
    return parse((*stored, *changed.items()), request.session.get("traces", ""))


def remember(request: SignedIn, state: ViewState) -> None:
    """Keep the traces asked for, while the person is signed in."""
    requested = state.query.get("t", "")[:ROW]
    if requested and requested != request.session.get("traces"):
        request.session["traces"] = requested
