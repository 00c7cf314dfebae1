"""The cautions of a design by gravity: each with its number, why, what helps and what that costs, and who answered."""

from typing import Any

from django.http import HttpResponse
from django.shortcuts import render

from heat.design.changing import with_changes
from heat.errors import HeatError
from heat.ledger import BOUGHT
from heat.sizing.antifreeze import antifreeze
from heat.sizing.hygiene import dead_leg
from heat.sizing.vessel import expansion_vessel
from heat.sizing.weight import wet_weight
from heat.sizing.wind import wind_load
from heat.weighing.following import following
from web.accounts.requests import SignedIn
from web.present.cautions import GRAVITY, Caution, Remedy
from web.present.cautions import cautions as cautions_of
from web.present.cautions.seen import Seen
from web.present.ticked import Answered, answered
from web.projects.services.ticks import tick
from web.sheet.edits import apply_changes
from web.sheet.page import Sheet
from web.sheet.step import Shown, address_of
from web.ui import units
from web.years.reckoned import simulate_uncached

FOOT = (
    "Computed from this design; not a complete list, and no substitute for the local code. Plumbing, gas, electrical "
    "and roof work belong to licensed trades; glass is carried by two, and nobody works on a roof alone or in wind."
)


def list_view(sheet: Sheet) -> dict[str, Any]:
    """Cautions in their gravity, open ones first, and the line that says how it stands."""
    every = answered(sheet)
    typed, wrong = sheet.given.get("typed", {}), sheet.given.get("wrong", {})
    groups = [
        {"title": words, "rows": [_row(sheet, one, typed, wrong) for one in every if one.caution.gravity == gravity]}
        for gravity, words in GRAVITY.items()
    ]
    count = sum(one.open for one in every)
    return {
        "groups": [group for group in groups if group["rows"]], "foot": FOOT,
        "well": well(sheet, every), "open": count, "all": len(every),
        "conclusion": _conclusion(every), "name": sheet.user.get_username(),
    }  # fmt: skip


def well(sheet: Sheet, every: list[Answered]) -> list[dict[str, str]]:
    """What was looked at and gave no cause for caution, each with its number."""
    seen, told = Seen(sheet), {one.caution.key for one in every}
    design, book = seen.design, seen.book
    fluid, vessel, wind = antifreeze(book, design, seen.coldest_c), expansion_vessel(design), wind_load(design)
    weight = wet_weight(design)
    found = [
        ("stagnation", "Stagnation", f"{seen.hours(book.stagnation_hours())} in the year"),
        ("scald", "Scald", f"a valve mixes to {seen.degrees(design.safety.mixed_c)}"),
        ("frost", "Frost", f"first ice at {seen.degrees(fluid.ice_c)}, the coldest hour at "
                           f"{seen.degrees(seen.coldest_c)}" if fluid else
                           f"the coldest hour is at {seen.degrees(seen.coldest_c)}"),
        ("weight", "Weight", f"{seen.told(weight.per_m2, 'kg/m2')} full of water"),
        ("dead leg", "Dead leg", f"{seen.told(dead_leg(design)[0], 'L', 1)} in the longest pipe to a tap"),
        ("check valve", "Backwards at night", f"{seen.hours(book.reversed_hours())} in the year"),
    ]  # fmt: skip
    if not wind.framed:
        bears = seen.told(design.safety.fixing_kg, "kg", 0)
        found.append(("fixings", "Wind", f"{seen.told(wind.per_fixing_kg, 'kg', 0)} on each fixing of {bears}"))
    if vessel is not None and design.safety.vessel_l:
        fitted = seen.told(design.safety.vessel_l, "L", 0)
        found.append(("vessel", "Vessel", f"{fitted} fitted, {seen.told(vessel.least_l, 'L', 0)} needed"))
    return [{"name": name, "text": text} for key, name, text in found if key not in told]


def _conclusion(every: list[Answered]) -> str:
    if not every:
        return "Nothing was found that calls for caution: what is not reckoned here may still do."
    waiting = [one.caution for one in every if one.open]
    if not waiting:
        return f"All {len(every)} cautions are answered for, at the numbers that now are."
    grave = [caution for caution in waiting if caution.gravity == 1]
    first = waiting[0]
    words = f"{len(waiting)} of {len(every)} cautions are open"
    words += f", {len(grave)} of them can hurt someone" if grave else ""
    return f"{words}. First: {first.name.lower()}, {first.text.split('. ')[0].rstrip('.')}."


def _row(sheet: Sheet, one: Answered, typed: Any, wrong: Any) -> dict[str, Any]:
    """A caution as the page shows it, with what was typed beside it and not taken."""
    key = one.caution.key
    own = typed if typed.get("caution") == key else {}
    return {
        "caution": one.caution, "open": one.open, "moved": one.moved, "tick": one.tick,
        "at": _href(sheet, one.caution.at), "remedies": list(enumerate(one.caution.remedies)),
        "wrong": wrong.get(key, ""), "typed": own,
    }  # fmt: skip


def _href(sheet: Sheet, at: str) -> str:
    """The address of where a number is seen."""
    step, _, query = at.partition("?")
    return f"{address_of(sheet.design, step)}?{query}" if at else ""


def _named(sheet: Sheet, key: str) -> Caution | None:
    return next((caution for caution in cautions_of(sheet) if caution.key == key), None)


def answer(request: SignedIn, sheet: Sheet) -> Shown:
    """Tick a caution off with name and remark, or take that back."""
    key, stands = request.POST.get("caution", "")[:60], request.POST.get("stands", "1") == "1"
    caution = _named(sheet, key)
    here = sheet.at("list")
    if caution is None:
        note = "This caution is not there any more: the number behind it has gone."
        return Shown(sheet=here.noting(note), step="cautions", status=422)
    typed = {name: request.POST.get(name, "")[:300].replace("\0", "") for name in ("name", "remark")}
    try:
        design = tick(design=sheet.design, author=sheet.user, caution=key, proof=caution.proof, stands=stands, **typed)
    except HeatError as error:
        told = here.handing(typed={"caution": key, **typed}, wrong={key: str(error)})
        return Shown(sheet=told, step="cautions", status=422)
    return Shown(sheet=Sheet(design, sheet.user, here.look), step="cautions")


def _remedy(sheet: Sheet, key: str, number: str) -> Remedy | None:
    caution = _named(sheet, key)
    index = int(number) if number.isdecimal() and len(number) < 3 else -1
    return caution.remedies[index] if caution and 0 <= index < len(caution.remedies) else None


def remedy(request: SignedIn, sheet: Sheet) -> Shown:
    """Do what helps, as one edit that undo takes back."""
    found = _remedy(sheet, request.POST.get("caution", "")[:60], request.POST.get("n", ""))
    here = sheet.at("list")
    if found is None:
        return Shown(sheet=here.noting("That remedy is not offered any more."), step="cautions", status=422)
    make = lambda document: following(document, found.changes)
    return Shown(sheet=apply_changes(sheet.design, sheet.user, make, here.look), step="cautions")


def told_cost(request: SignedIn, sheet: Sheet) -> HttpResponse:
    """What a remedy costs or brings the year: a full year with it, beside the one as drawn."""
    found = _remedy(sheet, request.GET.get("caution", "")[:60], request.GET.get("n", ""))
    if found is None:
        return HttpResponse("", content_type="text/plain; charset=utf-8")
    if all(path.split(".")[0] in ("safety", "exposure") for path in found.changes):
        return render(request, "cautions/cost.html", {"words": "the year stays as it is"})
    try:
        made = with_changes(sheet.document, following(sheet.document, found.changes))
        book = simulate_uncached(made, sheet.weather)
    except HeatError as error:
        return render(request, "cautions/cost.html", {"words": f"cannot be done: {getattr(error, 'allowed', error)}"})
    more = book.total(*BOUGHT) - sheet.bought_kwh
    points = 100.0 * (book.fractions.at_tap - sheet.year.book.fractions.at_tap)
    if abs(more) < 0.5:
        return render(request, "cautions/cost.html", {"words": "the year stays as it is"})
    kind = "more" if more > 0 else "less"
    words = f"{sheet.show(abs(more), 'kWh', 0)} {sheet.sign('kWh')} {kind} bought, {units.number(points, 1)} points"
    return render(request, "cautions/cost.html", {"words": words})
