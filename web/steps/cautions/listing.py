"""The cautions of a design by gravity: each with its number, why, what helps and what that costs, and who answered."""

from copy import copy
from typing import Any

from django.http import HttpResponse
from django.shortcuts import render

from heat.design.changing import with_changes
from heat.errors import HeatError
from heat.ledger import accounts as acc
from heat.ledger.year_book import BOUGHT, points_between
from heat.sizing.antifreeze import antifreeze
from heat.sizing.hygiene import dead_leg
from heat.sizing.roof_load import wet_weight
from heat.sizing.vessel import expansion_vessel
from heat.sizing.wind import wind_load
from heat.studies.following import following
from web.accounts.requests import SignedIn
from web.editor.design_page import DesignPage
from web.editor.edits import apply_changes
from web.editor.step import PageResult, address_of
from web.presentation.acknowledged import Answered, answered
from web.presentation.cautions import GRAVITY, Caution, Remedy
from web.presentation.cautions import cautions as cautions_of
from web.presentation.cautions.case import CautionCase
from web.presentation.cautions.unseen import not_looked_at, surveyed
from web.projects.documents import placed
from web.projects.services.acknowledgements import tick
from web.ui import units
from web.ui.rows import Row

FOOT = (
    "Computed from this design; not a complete list, and no substitute for the local code. Plumbing, gas, electrical "
    "and roof work belong to licensed trades; glass is carried by two, and nobody works on a roof alone or in wind."
)


def list_view(page: DesignPage) -> dict[str, object]:
    """Cautions in their gravity, open ones first, and the line that says how it stands."""
    every = answered(page)
    typed, wrong = page.given.get("typed", {}), page.given.get("wrong", {})
    groups = [
        {"title": words, "rows": [_row(page, one, typed, wrong) for one in every if one.caution.gravity == gravity]}
        for gravity, words in GRAVITY.items()
    ]
    count, unseen = sum(one.open for one in every), not_looked_at(page)
    return {
        "groups": [group for group in groups if group["rows"]],
        "foot": FOOT,
        "well": well(page, every),
        "unseen": [row | {"at": _href(page, row["at"])} for row in unseen],
        "open": count,
        "all": len(every),
        "conclusion": _conclusion(every, len(unseen)),
        "name": page.user.get_username(),
    }


def well(page: DesignPage, every: list[Answered]) -> list[dict[str, str]]:
    """What was looked at and gave no cause for caution, each with its number."""
    case, message = CautionCase(page), {one.caution.key for one in every}
    design, book = case.design, case.book
    fluid, vessel, wind = antifreeze(book, design, case.coldest_c), expansion_vessel(design), wind_load(design)
    weight = wet_weight(design)
    found = [
        ("stagnation", "Stagnation", f"{case.hours(book.stagnation_hours())} in the year"),
        (
            "frost",
            "Frost",
            f"first ice at {case.degrees(fluid.ice_c)}, hard winters fall to {case.degrees(case.coldest_c)}"
            if fluid
            else f"hard winters fall to {case.degrees(case.coldest_c)}",
        ),
    ]
    if design.demand.hot_water and design.system.scheme.exchange != "pool":
        found.insert(1, ("scald", "Scald", f"a valve mixes to {case.degrees(design.safety.mixed_c)}"))
    if surveyed(design):
        found.append(("weight", "Weight", f"{case.text(weight.per_m2, 'kg/m2')} full of water, on a surveyed plane"))
        if design.exposure.snow_kg_m2 is not None:
            found.append(("snow", "Snow", f"{case.text(wind.snow_kg_m2, 'kg/m2')} on the collectors"))
    if design.safety.branch_m is not None:
        litres = case.text(dead_leg(design)[0], "L", 1)
        found.append(("dead leg", "Dead leg", f"{litres} in the longest pipe to a tap"))
    if book.reversed_hours() < 1.0 and not {"check valve", "heat trap"} & message:
        found.append(("check valve", "Backwards at night", "no hour of the year"))
    if not wind.framed and design.exposure.wind_m_s is not None:
        bears = case.text(design.safety.fixing_kg, "kg", 0)
        found.append(("fixings", "Wind", f"{case.text(wind.per_fixing_kg, 'kg', 0)} on each fixing of {bears}"))
    if vessel is not None and design.safety.vessel_l:
        fitted = case.text(design.safety.vessel_l, "L", 0)
        found.append(("vessel", "Vessel", f"{fitted} fitted, {case.text(vessel.least_l, 'L', 0)} needed"))
    return [{"name": name, "text": text} for key, name, text in found if key not in message]


def _conclusion(every: list[Answered], unseen: int) -> str:
    things = "One thing is" if unseen == 1 else f"{unseen} things are"
    more = f" {things} not looked at." if unseen else ""
    if not every:
        return f"Nothing was found that calls for caution: what is not calculated here may still do.{more}"
    waiting = [one.caution for one in every if one.open]
    if not waiting:
        return f"All {len(every)} cautions are answered for, at the numbers that now are.{more}"
    grave = [caution for caution in waiting if caution.gravity == 1]
    first = waiting[0]
    words = f"{len(waiting)} of {len(every)} cautions are open"
    words += f", {len(grave)} of them can hurt someone" if grave else ""
    return f"{words}. First: {first.name.lower()}, {first.text.split('. ')[0].rstrip('.')}.{more}"


def _row(page: DesignPage, one: Answered, typed: Any, wrong: Any) -> Row:
    """A caution as the page shows it, with what was typed beside it and not taken."""
    key = one.caution.key
    own = typed if typed.get("caution") == key else {}
    return {
        "caution": one.caution,
        "open": one.open,
        "moved": one.changed,
        "tick": one.tick,
        "at": _href(page, one.caution.at),
        "remedies": list(enumerate(one.caution.remedies)),
        "wrong": wrong.get(key, ""),
        "typed": own,
    }


def _href(page: DesignPage, at: str) -> str:
    """The address of where a number is seen."""
    step, _, query = at.partition("?")
    return f"{address_of(page.design, step)}?{query}" if at else ""


def _named(page: DesignPage, key: str) -> Caution | None:
    return next((caution for caution in cautions_of(page) if caution.key == key), None)


def answer(request: SignedIn, page: DesignPage) -> PageResult:
    """Tick a caution off with name and comment, or take that back."""
    key, valid = request.POST.get("caution", "")[:60], request.POST.get("stands", "1") == "1"
    caution = _named(page, key)
    here = page.at("list")
    if caution is None:
        note = "This caution is not there any more: the number behind it has gone."
        return PageResult(page=here.with_note(note), step="cautions", status=422)
    typed = {name: request.POST.get(name, "")[:300].replace("\0", "") for name in ("name", "remark")}
    try:
        design = tick(design=page.design, author=page.user, caution=key, proof=caution.proof, stands=valid, **typed)
    except HeatError as error:
        refused = here.with_given(typed={"caution": key, **typed}, wrong={key: str(error)})
        return PageResult(page=refused, step="cautions", status=422)
    return PageResult(page=DesignPage(design, page.user, here.state), step="cautions")


def _remedy(page: DesignPage, key: str, number: str) -> Remedy | None:
    caution = _named(page, key)
    index = int(number) if number.isdecimal() and len(number) < 3 else -1
    return caution.remedies[index] if caution and 0 <= index < len(caution.remedies) else None


def remedy(request: SignedIn, page: DesignPage) -> PageResult:
    """Do what helps, as one edit that undo takes back."""
    found = _remedy(page, request.POST.get("caution", "")[:60], request.POST.get("n", ""))
    here = page.at("list")
    if found is None:
        return PageResult(page=here.with_note("That remedy is not offered any more."), step="cautions", status=422)
    make = lambda document: following(document, found.changes)
    return PageResult(page=apply_changes(here, make), step="cautions")


def remedy_cost(request: SignedIn, page: DesignPage) -> HttpResponse:
    """What a remedy costs or brings the year: a full year with it, beside the one as drawn."""
    found = _remedy(page, request.GET.get("caution", "")[:60], request.GET.get("n", ""))
    if found is None:
        return HttpResponse("", content_type="text/plain; charset=utf-8")
    changes = following(page.document, found.changes)
    try:
        then = _page_with(page, with_changes(page.document, changes))
        words = [*_year_words(page, then), _reached(page, then, request.GET.get("caution", "")[:60])]
    except HeatError as error:
        words = [f"cannot be done: {getattr(error, 'allowed', error)}"]
    return render(request, "cautions/cost.html", {"words": "; ".join(words)})


def _page_with(page: DesignPage, document: Row) -> DesignPage:
    """The page of the design as it would be; nothing of it is saved."""
    design = copy(page.design)
    design.project = copy(page.project)
    design.take(placed(document))
    return page.of(design)


def _year_words(page: DesignPage, then: DesignPage) -> list[str]:
    """What the year would be otherwise: bought and unmet heat, points, how often it would be heated through."""
    before, after = page.year.book, then.year.book
    if before is after:
        return ["the year stays as it is"]
    words = []
    for name, columns in (("bought", BOUGHT), ("unmet", (acc.UNMET,))):
        more = after.total(*columns) - before.total(*columns)
        if abs(more) >= 0.5:
            words.append(f"{page.show(abs(more), 'kWh', 0)} {page.sign('kWh')} {'more' if more > 0 else 'less'} {name}")
    points = points_between(before, after)
    if abs(points) >= 0.05:
        words.append(f"{units.number(points, 1)} points")
    for store in after.heated_through():
        words.append(f"heated through {store.reached} times of {store.planned}")
    return [", ".join(words) or "the year stays as it is"]


def _reached(page: DesignPage, then: DesignPage, key: str) -> str:
    """Whether the caution would go, and what it would say if not."""
    left = _named(then, key)
    if left is None:
        return "this caution goes"
    return f"this caution stays: {left.text.split('. ')[0].rstrip('.')}"
