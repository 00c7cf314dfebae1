"""Log, step 8: commissioned, measured, held against the design's own days, explained, fitted, kept well."""

from django.http import HttpResponse

from web.accounts.requests import SignedIn
from web.editor.design_page import DesignPage
from web.editor.step import Action, Download, Fragment, PaletteCommand, Step, View, address_of
from web.logs.models import Photo
from web.steps.log.bring import bring_view, brought, columns, key, log_csv
from web.steps.log.current import log_here, logger_state
from web.steps.log.day import begin, day_view, photo, sensors, strike_line, type_line
from web.steps.log.diagnosis import name_it, wrong_view
from web.steps.log.measured import measured_view, open_measured
from web.steps.log.months import calendar, done, months_view, type_meters, upkeep_view
from web.steps.log.sums import sums_view

VIEWS = (
    View(key="day", title="The day", template="log/day.html", build=day_view, under="g"),
    View(key="sums", title="Sums and trials", template="log/sums.html", build=sums_view, under="g"),
    View(
        key="diagnosis",
        earlier=("wrong",),
        title="What is wrong?",
        template="log/diagnosis.html",
        build=wrong_view,
        under="g",
    ),
    View(key="measured", title="As measured", template="log/measured.html", build=measured_view, under="g"),
    View(key="months", title="A year watched", template="log/months.html", build=months_view, under="g"),
    View(key="upkeep", title="Upkeep", template="log/upkeep.html", build=upkeep_view, under="g"),
    View(key="bring", title="Bring readings", template="log/bring.html", build=bring_view, under="g"),
)


def commands(page: DesignPage) -> list[PaletteCommand]:
    """Its views."""
    return [
        PaletteCommand(text=f"Log: {view.title.lower()}", href=address_of(page.design, "log", view=view.key))
        for view in VIEWS
    ]


def logger_status(request: SignedIn, page: DesignPage) -> HttpResponse:
    """Nothing while the page has seen all there is; once the logger was heard again, what asks for the page anew."""
    if logger_state(log_here(page)) == request.GET.get("seen"):
        return HttpResponse(status=204)
    return HttpResponse('<span hidden hx-get="?" hx-trigger="load"></span>')


def picture(request: SignedIn, page: DesignPage) -> HttpResponse:
    """A photograph of this project's logs."""
    text = page.state.query.get("photo", "")
    found = Photo.objects.filter(log__project=page.project, pk=int(text) if text.isdecimal() and len(text) < 12 else 0)
    stored = found.exclude(picture=None).first()
    if stored is None:
        return HttpResponse(b"", content_type="image/jpeg")
    answer = HttpResponse(bytes(stored.picture or b""), content_type="image/jpeg")
    answer["Content-Disposition"] = f'inline; filename="photo-{stored.pk}.jpg"'
    return answer


STEP = Step(
    key="log",
    title="Log",
    needs="survey",
    views=VIEWS,
    commands=commands,
    styles=("log/log.css",),
    scripts=("log/line.js",),
    actions=(
        Action(name="log-begin", path="log/begin", run=begin),
        Action(name="log-line", path="log/line", run=type_line),
        Action(name="log-strike", path="log/strike", run=strike_line),
        Action(name="log-sensors", path="log/sensors", run=sensors),
        Action(name="log-photo", path="log/photo", run=photo),
        Action(name="log-bring", path="log/bring", run=brought),
        Action(name="log-columns", path="log/columns", run=columns),
        Action(name="log-key", path="log/key", run=key),
        Action(name="log-measured", path="log/measured", run=open_measured, needs="edit"),
        Action(name="log-name", path="log/name", run=name_it),
        Action(name="log-meters", path="log/meters", run=type_meters),
        Action(name="log-done", path="log/done", run=done),
        Action(name="log-calendar", path="log/calendar", run=calendar),
    ),
    fragments=(
        Fragment(name="log-heard", path="log/heard", answer=logger_status),
        Fragment(name="log-picture", path="log/picture", answer=picture),
    ),
    downloads=(Download(name="log-csv", path="log/readings.csv", file="readings-{letter}.csv", make=log_csv),),
)
