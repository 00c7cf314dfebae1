"""Upkeep of a project: tasks of its commissioned design with their dates, what was done, and a calendar of it."""

import secrets
from dataclasses import dataclass
from datetime import date, timedelta

from django.db import transaction
from django.utils import timezone

from heat.errors import HeatError
from heat.monitoring.maintenance import Task, due, tasks
from web.accounts.models import User
from web.logs.models import Calendar, Log, MaintenanceDone
from web.projects.models import Project
from web.projects.permissions import may, require
from web.simulations.cache import simulate

SOON_DAYS = 30
"""A task due within so many days is announced."""
MOST_DONE = 2000


@dataclass(frozen=True)
class Due:
    """A task with the date it is due, when it was done last, and by whom."""

    task: Task
    on: date
    done: MaintenanceDone | None

    @property
    def days(self) -> int:
        """Days until it is due; below zero it is late."""
        return (self.on - timezone.localdate()).days


def commissioned(project: Project) -> Log | None:
    """The log of the design that was built last."""
    return project.logs.select_related("weather").first()


def due_of(project: Project) -> list[Due]:
    """Every task with its date, the next first; none before a design was commissioned."""
    log = commissioned(project)
    if log is None:
        return []
    last: dict[str, MaintenanceDone] = {}
    for done in project.upkeep.order_by("on", "at"):
        last[done.key] = done
    began = timezone.localtime(log.began).date()
    book = simulate(log.document, log.weather).book
    found = []
    for task in tasks(book):
        was = last.get(task.key)
        found.append(Due(task, due(task, was.on if was else None, began), was))
    return sorted(found, key=lambda one: one.on)


def note_due(project: Project) -> list[Due]:
    """Every task with its date; the next is kept with the log, so that a list need not calculate it."""
    every = due_of(project)
    log = commissioned(project)
    if log is not None and every and (log.due, log.due_words) != (every[0].on, every[0].task.words[:120]):
        Log.objects.filter(pk=log.pk).update(due=every[0].on, due_words=every[0].task.words[:120])
    return every


@transaction.atomic
def record_done(*, project: Project, author: User, key: str, on: date, name: str, remark: str = "") -> MaintenanceDone:
    """Keep that a task was done. Raises HeatError without a name, or for a day that is still to come."""
    require(author, "survey", project)
    if not name.strip():
        raise HeatError("Who did it? A name is needed.")
    if on > timezone.localdate() + timedelta(days=1):
        raise HeatError("This day is still to come.")
    if project.upkeep.count() >= MOST_DONE:
        raise HeatError("This project has no room for more.")
    made = MaintenanceDone.objects.create(
        project=project, author=author, key=key[:40], on=on, name=name.strip()[:80], remark=remark.strip()[:300]
    )
    note_due(project)
    return made


def open_calendar(*, project: Project, author: User) -> Calendar:
    """A person's own address for a calendar program; asked again, a new one, and the old one ends."""
    require(author, "survey", project)
    fresh = {"token": secrets.token_urlsafe(24)}
    made, _new = Calendar.objects.update_or_create(project=project, user=author, defaults=fresh)
    return made


def close_calendar(*, project: Project, author: User) -> None:
    """Take one's own address back."""
    require(author, "survey", project)
    Calendar.objects.filter(project=project, user=author).delete()


def calendar_at(token: str) -> Calendar | None:
    """The calendar of an address, while its person may see the project."""
    found = Calendar.objects.select_related("project", "user").filter(token=token[:48], project__deleted=None).first()
    return found if found is not None and may(found.user, "view", found.project) else None


def calendar_of(project: Project) -> bytes:
    """Upkeep as an iCalendar file: each task on its day, coming again as often as it is due."""
    from icalendar import Calendar as File  # for the few requests that ask for one
    from icalendar import Event

    made = File()
    made.add("prodid", "-//Red Ledger//upkeep//EN")
    made.add("version", "2.0")
    made.add("x-wr-calname", f"Upkeep, {project.name}")
    for one in due_of(project):
        event = Event()
        event.add("uid", f"{one.task.key}-{project.pk}@red-ledger.invalid")
        event.add("summary", f"{project.name}: {one.task.words}")
        event.add("description", f"Why: {one.task.why}." + (f" By {one.task.trade}." if one.task.trade else ""))
        event.add("dtstart", one.on)
        event.add("dtend", one.on + timedelta(days=1))
        event.add("dtstamp", project.changed)
        event.add("rrule", {"freq": "monthly", "interval": one.task.every_months})
        made.add_component(event)
    return bytes(made.to_ical())
