"""Load the demo: a designer and a project on the made-up Merrow coast. Safe to run again."""

from typing import Any

from django.core.management.base import BaseCommand

from heat.design import parse
from web.accounts.models import User
from web.demo.climates import merrow_coast
from web.projects.models import Project
from web.projects.services import create_project

NAME, PASSWORD = "designer", "merrow-coast"
DOCUMENT = {
    "demand": {"people": 4, "litres_per_person_day": 45, "tap_c": 45},
    "site": {"latitude_deg": 46.4, "longitude_deg": -11.6, "elevation_m": 20},
    "plane": {"tilt_deg": 42, "azimuth_deg": 165},
    "system": {"collector": {"count": 2, "area_m2": 2.3}, "store": {"volume_l": 300}},
}


class Command(BaseCommand):
    help = "Load the demo data."

    def handle(self, *args: Any, **options: Any) -> None:
        user, new = User.objects.get_or_create(username=NAME)
        if new:
            user.set_password(PASSWORD)
            user.save()
        if not Project.objects.filter(owner=user).exists():
            create_project(
                owner=user,
                name="Gannet Terrace, house 4",
                place="Merrow coast (made up)",
                weather=merrow_coast(),
                document=parse(DOCUMENT),
            )
