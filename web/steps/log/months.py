"""A year watched: what meters read in each month, beside what the design would have made of it; and upkeep."""

import re
from datetime import date

from django.utils import timezone

from heat.errors import HeatError
from heat.monitoring.monthly_meters import watched
from web.accounts.requests import SignedIn
from web.editor.design_page import DesignPage
from web.editor.step import PageResult
from web.logs.models import Calendar
from web.logs.services import METERS, meters_of, set_meter
from web.logs.upkeep import SOON_DAYS, close_calendar, note_due, open_calendar, record_done
from web.simulations.cache import simulate
from web.simulations.weather import weather_year
from web.steps.log.current import frame, log_here, own_log
from web.steps.log.day import refused
from web.ui import units
from web.ui.calendar import MONTHS, date_text, date_typed
from web.ui.rows import Row

FIELDS = (
    ("solar_kwh", "solar heat, meter", "kWh"),
    ("fuel_kwh", "heat bought", "kWh"),
    ("litres", "hot water", "L"),
    ("sun_kwh_m2_day", "sun on the level a day", "kWh/m2"),
    ("air_c", "mean air", "degC"),
)


def months_view(page: DesignPage) -> Row:
    """Months as metered and as expected in their weather."""
    log = log_here(page)
    context: Row = frame(page, log)
    if log is None:
        return context
    every = meters_of(log)
    years = sorted({month.year for month in every}, reverse=True)
    requested = page.state.query.get("year", "")
    year = (
        int(requested)
        if requested.isdecimal() and int(requested) in years
        else (years[0] if years else timezone.localdate().year)
    )
    typed = page.given.get("typed", {})
    this_year = {month.month - 1: values for month, values in every.items() if month.year == year}
    found = watched(simulate(log.document, log.weather).book, weather_year(log.weather), this_year)
    show = lambda v, q, d=0: "" if v is None else page.show(v, q, d)
    context |= {
        "year": year,
        "years": years,
        "fields": [{"name": n, "words": w, "sign": page.sign(q), "typed": typed.get(n, "")} for n, w, q in FIELDS],
        "typed": typed,
        "months": [
            {
                "name": f"{MONTHS[m.month]} {year}",
                "solar": show(m.solar_kwh, "kWh"),
                "expected": show(m.solar_expected, "kWh"),
                "bought": f"({show(m.bought_kwh, 'kWh')})" if m.bought_kwh is not None else "",
                "bought_expected": f"({show(m.bought_expected, 'kWh')})",
                "litres": show(m.litres, "L"),
                "litres_expected": show(m.litres_expected, "L"),
                "off": "" if m.sigmas is None else f"{m.sigmas:+.1f}".replace("-", "−"),
                "far": m.sigmas is not None and abs(m.sigmas) > 2.0,
            }
            for m in found.months
        ],
        "words": found.words,
        "fraction": "" if found.fraction is None else f"{100 * found.fraction:.0f}",
        "low": f"{100 * (found.low or 0):.0f}",
        "high": f"{100 * (found.high or 0):.0f}",
        "promised": "" if found.promised is None else f"{100 * found.promised:.0f}",
    }
    return context


def type_meters(request: SignedIn, page: DesignPage) -> PageResult:
    """Store what meters read in a month."""
    log, text = own_log(page, request.POST), request.POST
    typed = {name: str(text.get(name, ""))[:20] for name in ("month", *METERS)}
    try:
        found = re.fullmatch(r"(\d{4})-(\d{1,2})", typed["month"].strip())
        if found is None or not 1 <= int(found[2]) <= 12 or not 1990 <= int(found[1]) <= 2100:
            raise HeatError("The month is written as 2026-05.")
        values = {}
        for name, words, quantity in FIELDS:
            if typed[name].strip():
                try:
                    values[name] = units.to_core(units.parse_number(typed[name]), quantity, page.system)
                except ValueError as error:
                    raise HeatError(f"{words.capitalize()}: {units.no_number(typed[name], error)}") from error
        set_meter(log=log, author=page.user, month=date(int(found[1]), int(found[2]), 1), values=values)
    except HeatError as error:
        return refused(page, "months", str(error), typed=typed)
    return PageResult(page=page.at("months").with_given(message="Kept."), step="log")


def upkeep_view(page: DesignPage) -> dict[str, object]:
    """What is due, what was done, and the calendar's address."""
    log = log_here(page)
    context: dict[str, object] = frame(page, log)
    if log is None:
        return context
    when = lambda days: f"{-days} days late" if days < 0 else "today" if days == 0 else f"in {days} days"
    due = note_due(page.project)
    found = Calendar.objects.filter(project=page.project, user=page.user).first()
    late = [one for one in due if one.days < 0]
    names = {one.task.key: one.task.words for one in due}
    return context | {
        "due": [
            {"one": one, "when": when(one.days), "late": one.days < 0, "soon": one.days <= SOON_DAYS} for one in due
        ],
        "done": [{"done": d, "words": names.get(d.key, d.key)} for d in page.project.upkeep.all()[:60]],
        "calendar": found,
        "day": date_text(timezone.localdate()),
        "concluded": f"{len(late)} task{'s are' if len(late) != 1 else ' is'} late." if late else "Nothing is late.",
    }


def done(request: SignedIn, page: DesignPage) -> PageResult:
    """Keep that a task was done."""
    try:
        try:
            on = date_typed(request.POST.get("on", ""), page.system == "us")
        except ValueError as error:
            raise HeatError(str(error)) from error
        clean = lambda name: request.POST.get(name, "").replace("\0", "")
        record_done(
            project=page.project, author=page.user, key=clean("task"), on=on, name=clean("name"), remark=clean("remark")
        )
    except HeatError as error:
        return refused(page, "upkeep", str(error))
    return PageResult(page=page.at("upkeep").with_given(message="Kept."), step="log")


def calendar(request: SignedIn, page: DesignPage) -> PageResult:
    """An address for a calendar program, or no more."""
    if request.POST.get("open") == "1":
        open_calendar(project=page.project, author=page.user)
    else:
        close_calendar(project=page.project, author=page.user)
    return PageResult(page=page.at("upkeep"), step="log")
