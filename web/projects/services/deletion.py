"""What is deleted waits out a grace, in which it can be brought back; then it is gone."""

from datetime import timedelta

from django.conf import settings
from django.db import transaction
from django.utils import timezone

from heat.errors import HeatError
from web.accounts.models import User
from web.firms.models import Firm
from web.projects.models import Project, Version, WeatherFile
from web.projects.permissions import require
from web.projects.services.sharing import close_firm, happened, let_go


def delete_project(*, project: Project, author: User, deleted: bool) -> None:
    """Take a project out of sight, or bring it back."""
    require(author, "own", project)
    Project.objects.filter(pk=project.pk).update(deleted=timezone.now() if deleted else None)
    happened(project, author, "deleted it" if deleted else "brought it back")


def delete_weather(*, file: WeatherFile, author: User, deleted: bool) -> None:
    """Take a weather year out of sight, or bring it back. Raises HeatError for one that something rests on."""
    require(author, "survey", file.project)
    if deleted and (file.project.weather_id == file.pk or Version.objects.filter(weather=file).exists()):
        raise HeatError(f"“{file.name}” stays: the project or a saved version of a design is calculated with it.")
    if deleted and file.logs.exists():
        raise HeatError(f"“{file.name}” stays: the log of what was read is held against it.")
    WeatherFile.objects.filter(pk=file.pk).update(deleted=timezone.now() if deleted else None)


@transaction.atomic
def sweep() -> dict[str, int]:
    """Delete for good whatever has waited out its grace; how many of each."""
    before = timezone.now() - timedelta(days=settings.GRACE_DAYS)
    gone = {}
    accounts = User.objects.filter(leaving__lt=before)
    for account in accounts:
        _out_of_firms(account)
    accounts = accounts.exclude(pk__in=Firm.objects.values("head"))
    projects = Project.objects.filter(deleted__lt=before) | Project.objects.filter(owner__in=accounts, firm=None)
    gone["projects"] = projects.count()
    Version.objects.filter(design__project__in=projects).delete()
    Project.objects.filter(pk__in=list(projects.values_list("pk", flat=True))).delete()
    files = WeatherFile.objects.filter(deleted__lt=before, logs=None)
    gone["files"], _ = files.delete()
    gone["accounts"] = accounts.count()
    accounts.delete()
    return gone


def _out_of_firms(account: User) -> None:
    """Out of each firm, or close it where nobody else is in it; the head of a firm with others stays until another
    is named."""
    for member in account.memberships.select_related("firm__head"):
        try:
            if member.firm.members.count() == 1:
                close_firm(firm=member.firm, author=account)
            else:
                let_go(member=member, author=account)
        except HeatError:
            continue
