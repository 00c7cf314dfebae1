"""Reports issued, read, opened to a client and closed again; letterheads kept."""

import secrets
from datetime import date, timedelta
from hashlib import sha256

from django.db import transaction
from django.db.models import Max
from django.utils import timezone
from procrastinate.contrib.django import app

from heat.common.documents import Values
from heat.errors import HeatError
from web.accounts.models import User
from web.projects.models import Project
from web.projects.permissions import locked, require
from web.reports.models import Letterhead, Report
from web.reports.pdf import render_pdf
from web.ui.pictures import LOGO, drawn_anew
from web.ui.rows import Row

MOST_REPORTS, MOST_DAYS, USUAL_DAYS = 200, 730, 90
"""Reports a project keeps; days an address may be open, and usually is."""
PARTS_AT_ONCE = 16
"""Sections printed while one waits; a report of more is printed by a worker."""


def next_number(project: Project) -> int:
    """The number the next report gets."""
    return int(project.reports.aggregate(last=Max("number"))["last"] or 0) + 1


def issue(
    *,
    project: Project,
    author: User,
    title: str,
    requested: Values,
    inputs: Values,
    number: int,
    html: str,
    client: str,
    hours: Row,
    parts: int,
) -> Report:
    """Issue a report of so many parts: its pages and all they rest on are kept as they are, printed at once or, where
    they are many, by a worker. Raises HeatError."""
    pdf = render_pdf(html, requested["paper"]) if parts <= PARTS_AT_ONCE else b""
    values = {
        "title": title[:120],
        "letters": ",".join(requested["designs"])[:30],
        "requested": requested,
        "inputs": inputs,
        "html": html,
        "client": client,
        "hours": hours,
        "author": author,
        "pdf": pdf,
    }
    return _stored(project, author, number, values)


@transaction.atomic
def _stored(project: Project, author: User, number: int, payload: Values) -> Report:
    project = locked(project, author)
    if project.reports.count() >= MOST_REPORTS:
        raise HeatError("This project has no room for more reports.")
    if number != next_number(project):
        raise HeatError("Another report was issued meanwhile: look again, and issue this one anew.")
    pdf = payload["pdf"]
    report = Report.objects.create(
        project=project,
        number=number,
        checksum=sha256(pdf).hexdigest() if pdf else "",
        printed=timezone.now() if pdf else None,
        **payload,
    )
    if not pdf:  # by name: the tasks import this module
        app.configure_task("print report", queue="care").defer(report_id=report.pk)
    return report


def print_issued(report_id: int) -> None:
    """Print the pages of a report that was issued; one that is printed or gone is left alone."""
    report = Report.objects.filter(pk=report_id, printed=None).first()
    if report is None:
        return
    pdf = rendered_again(report)
    Report.objects.filter(pk=report_id, printed=None).update(
        pdf=pdf, checksum=sha256(pdf).hexdigest(), printed=timezone.now()
    )


def rendered_again(report: Report) -> bytes:
    """The PDF made anew of the pages that were frozen."""
    return render_pdf(report.html, report.requested["paper"])


def open_to_client(*, report: Report, author: User, days: int = USUAL_DAYS) -> Report:
    """Give a report an address of its own, for so many days. Raises HeatError."""
    require(author, "edit", report.project)
    if not 1 <= days <= MOST_DAYS:
        raise HeatError(f"An address stays open for 1 to {MOST_DAYS} days.")
    report.token, report.revoked = secrets.token_urlsafe(24), None
    report.until = timezone.localdate() + timedelta(days=days)
    report.save(update_fields=["token", "revoked", "until"])
    return report


def close_to_client(*, report: Report, author: User) -> None:
    """Take an address back: nobody reads it any more."""
    require(author, "edit", report.project)
    Report.objects.filter(pk=report.pk, revoked=None).update(revoked=timezone.now())


def opened(token: str) -> Report | None:
    """The report at an address, while it is open."""
    found = Report.light.filter(token=token[:48], project__deleted=None).first()
    return found if found is not None and found.is_open else None


def letterhead_of(user: User) -> Letterhead:
    """A person's letterhead, empty where none was made."""
    return Letterhead.objects.filter(owner=user).first() or Letterhead(owner=user)


def store_letterhead(*, owner: User, name: str, address: str, logo: bytes | None, without_logo: bool) -> Letterhead:
    """Keep name, address and logo. Raises HeatError for a picture that is none."""
    found = letterhead_of(owner)
    found.name, found.address = name.strip()[:80], address.strip()[:400]
    if without_logo:
        found.logo = None
    elif logo is not None:
        found.logo = drawn_anew(logo, LOGO)
    found.save()
    return found


def date_text(day: date) -> str:
    """A date as a report writes it."""
    return f"{day.day} {day:%B %Y}"
