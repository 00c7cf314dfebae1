"""What is deleted waits out a grace, in which it can be brought back; then it is gone."""

from datetime import timedelta

from django.conf import settings
from django.db import transaction
from django.utils import timezone

from heat.errors import HeatError
from web.accounts.models import User
from web.projects.models import Project, Version, WeatherFile
from web.projects.permissions import ask


def delete_project(*, project: Project, author: User, deleted: bool) -> None:
    """Take a project out of sight, or bring it back."""
    ask(author, "edit", project)
    Project.objects.filter(pk=project.pk).update(deleted=timezone.now() if deleted else None)


def delete_weather(*, file: WeatherFile, author: User, deleted: bool) -> None:
    """Take a weather year out of sight, or bring it back. Raises HeatError for one that something rests on."""
    ask(author, "edit", file.project)
    if deleted and (file.project.weather_id == file.pk or Version.objects.filter(weather=file).exists()):
        raise HeatError(f"“{file.name}” stays: the project or a saved version of a design is reckoned with it.")
    WeatherFile.objects.filter(pk=file.pk).update(deleted=timezone.now() if deleted else None)


@transaction.atomic
def sweep() -> dict[str, int]:
    """Delete for good whatever has waited out its grace; how many of each."""
    before = timezone.now() - timedelta(days=settings.GRACE_DAYS)
    gone = {}
    accounts = User.objects.filter(leaving__lt=before)
    projects = Project.objects.filter(deleted__lt=before) | Project.objects.filter(owner__in=accounts)
    gone["projects"] = projects.count()
    Version.objects.filter(design__project__in=projects).delete()
    Project.objects.filter(pk__in=list(projects.values_list("pk", flat=True))).delete()
    files = WeatherFile.objects.filter(deleted__lt=before)
    gone["files"], _ = files.delete()
    gone["accounts"] = accounts.count()
    accounts.delete()
    return gone
