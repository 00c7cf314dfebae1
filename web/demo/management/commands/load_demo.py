"""Load the demo: a designer with projects on the made-up Merrow coast, in its hills and south of the equator.

Every kind of system stands open in one of them. Safe to run again.
"""

from typing import Any

from django.core.management.base import BaseCommand, CommandParser

from heat.design import parse
from heat.sizing.first_estimate import sized
from heat.sizing.fitting import Idea
from heat.sizing.requirements import Wishes
from web.accounts.models import User
from web.demo.logs import log_terrace
from web.demo.people import create_demo_firm
from web.demo.studies import run_terrace_studies
from web.projects.climates import climate
from web.projects.models import Project
from web.projects.services.designs import begin_design, create_project

NAME, PASSWORD = "designer", "merrow-coast"
TERRACE = {
    "demand": {
        "people": 4,
        "tap_c": 45,
        "counted": "fixtures",
        "leaks_l_day": 0,
        "before": {"leaks_l_day": 12},
        "fixtures": [
            {"name": "shower", "flow_l_min": 12, "minutes_day": 4.5, "flow_after_l_min": 7.5, "at_c": 39},
            {"name": "hand basin", "flow_l_min": 9, "minutes_day": 1, "flow_after_l_min": 5, "at_c": 37},
            {"name": "kitchen tap", "flow_l_min": 9, "minutes_day": 1.5, "flow_after_l_min": 6, "at_c": 48},
        ],
    },
    "site": {
        "latitude_deg": 46.4,
        "longitude_deg": -11.6,
        "elevation_m": 20,
        "planes": [
            {
                "key": "P1",
                "name": "roof, sea side",
                "tilt_deg": 42,
                "azimuth_deg": 165,
                "width_m": 5.8,
                "height_m": 3.1,
                "load_kg_m2": 40,
                "pipe_m": 12,
                "rise_m": 5,
            },
            {
                "key": "P2",
                "name": "shed wall",
                "kind": "wall",
                "tilt_deg": 90,
                "azimuth_deg": 200,
                "width_m": 7,
                "height_m": 2.4,
                "load_kg_m2": 60,
                "pipe_m": 21,
                "rise_m": 1,
                "pipe_runs": "outdoors",
            },
        ],
        "skyline": [
            {"bearing_deg": b, "altitude_deg": a}
            for b, a in (
                (56, 6),
                (78, 9),
                (96, 8),
                (104, 18),
                (112, 19.5),
                (119, 14),
                (121, 7),
                (150, 5),
                (182, 6),
                (205, 5),
                (226, 7),
                (228, 21),
                (243, 22.5),
                (245, 9),
                (262, 11),
                (290, 8),
                (305, 7),
            )
        ],
        "trees": [
            {"name": "lime tree", "from_deg": 194, "to_deg": 212, "altitude_deg": 31, "in_leaf": 0.2, "bare": 0.65}
        ],
        "obstacles": [{"name": "chimney", "bearing_deg": 140, "distance_m": 3.2, "height_m": 1.4, "width_m": 0.6}],
    },
    "plane": {"on": "P1", "tilt_deg": 42, "azimuth_deg": 165},
    "system": {"collector": {"count": 2, "area_m2": 2.3}, "store": {"volume_l": 300}},
    "exposure": {"wind_m_s": 27, "terrain": "suburb", "snow_kg_m2": 60},
    "safety": {"branch_m": 9},
}
BOATHOUSE = {
    "demand": {
        "people": 3,
        "litres_per_person_day": 50,
        "tap_c": 45,
        "pool": {
            "fitted": True,
            "area_m2": 24,
            "set_c": 26,
            "months": [True] * 4 + [False] * 6 + [True] * 2,
            "covered": [h >= 20 or h < 8 for h in range(24)],
            "exchanger_w_k": 900,
            "heater_kw": 0,
        },
        "showers": {"fitted": True, "count_day": 4, "litres_each": 20, "month_factors": [1] * 4 + [0] * 6 + [1] * 2},
    },
    "site": {
        "latitude_deg": -33.2,
        "longitude_deg": -22.4,
        "elevation_m": 60,
        "planes": [
            {"key": "P1", "name": "boathouse roof", "tilt_deg": 35, "azimuth_deg": 10, "width_m": 8, "height_m": 4.3}
        ],
        "skyline": [
            {"bearing_deg": b, "altitude_deg": a}
            for b, a in ((250, 6), (290, 14), (325, 9), (355, 4), (30, 7), (70, 16), (110, 8))
        ],
        "trees": [
            {
                "name": "pine",
                "from_deg": 312,
                "to_deg": 330,
                "altitude_deg": 30,
                "in_leaf": 0.25,
                "bare": 0.25,
                "leaf_months": [True] * 12,
            }
        ],
    },
    "plane": {"on": "P1", "tilt_deg": 35, "azimuth_deg": 10},
    "system": {"collector": {"count": 4, "area_m2": 2.3}, "store": {"volume_l": 400}},
}
WORKSHOP = {
    "demand": {"people": 4, "litres_per_person_day": 45, "tap_c": 45},
    "site": {
        "latitude_deg": 46.4,
        "longitude_deg": -11.6,
        "elevation_m": 20,
        "planes": [
            {
                "key": "P1",
                "name": "workshop roof",
                "tilt_deg": 45,
                "azimuth_deg": 180,
                "width_m": 9,
                "height_m": 4,
                "load_kg_m2": 120,
                "pipe_m": 10,
                "rise_m": 4,
            }
        ],
    },
    "plane": {"on": "P1", "tilt_deg": 45, "azimuth_deg": 180},
}
FARM = {
    "demand": {"people": 5, "litres_per_person_day": 45, "tap_c": 45, "heating": {"fitted": True, "loss_w_k": 160}},
    "site": {
        "latitude_deg": 47.1,
        "longitude_deg": -9.8,
        "elevation_m": 640,
        "planes": [
            {
                "key": "P1",
                "name": "steep barn roof",
                "tilt_deg": 60,
                "azimuth_deg": 180,
                "width_m": 12,
                "height_m": 4,
                "load_kg_m2": 60,
                "pipe_m": 15,
                "rise_m": 5,
            }
        ],
    },
    "plane": {"on": "P1", "tilt_deg": 60, "azimuth_deg": 180},
    "system": {"kind": "combi"},
}
KINDS_DISPLAYED: dict[str, tuple[tuple[str, str, str, int], ...]] = {
    # project: kind, collector of the catalogue, name, number of collectors
    "Lantern Row workshop": (
        ("pumped_plate", "flat_selective", "plate exchanger", 2),
        ("pumped_passive", "flat_selective", "passive exchanger", 2),
        ("drainback", "flat_selective", "drainback", 2),
        ("drain_down", "flat_selective", "drain-down", 2),
        ("direct", "flat_selective", "direct", 2),
        ("seasonal_preheat", "site_parallel", "seasonal preheat", 2),
        ("thermosiphon_open", "site_parallel", "open thermosiphon", 2),
        ("thermosiphon_sealed", "flat_selective", "sealed thermosiphon", 2),
        ("batch_tank", "batch", "batch tank", 1),
        ("tube_bank", "batch", "tube bank", 1),
        ("bag", "batch", "water bag", 2),
    ),
    "Tarn Sound boathouse": (("pool_direct", "unglazed", "mats for the pool", 8),),
    "Hill farm, Upper Merrow": (("combi", "tube_heatpipe", "tubes", 5), ("combi", "flat_selective", "flat plates", 6)),
}
LITRES_M2 = 75.0
PROJECTS = (
    ("Hill farm, Upper Merrow", "Merrow hills (made up)", "merrow_hills", FARM),
    ("Lantern Row workshop", "Merrow coast (made up)", "merrow_coast", WORKSHOP),
    ("Tarn Sound boathouse", "Tarn Sound (made up)", "tarn_sound", BOATHOUSE),
    ("Gannet Terrace, house 4", "Merrow coast (made up)", "merrow_coast", TERRACE),
)


def show_kinds(project: Project, user: User) -> None:
    """Designs of other kinds beside a project's first one, sized by rule of thumb."""
    first = project.designs.get(letter="A")
    wishes = Wishes(people=project.survey["demand"]["people"], rooms=project.survey["demand"]["heating"]["fitted"])
    for kind, collector, name, count in KINDS_DISPLAYED.get(project.name, ()):
        document = sized(first.document(), Idea(kind, collector, name, ()), count, LITRES_M2, wishes)
        begin_design(design=first, author=user, name=name, note="", document=document, wanted={})


class Command(BaseCommand):
    help = "Load the demo data."

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument(
            "--weigh", action="store_true", help="ask its choices, maps and band too; a worker calculates them"
        )

    def handle(self, *args: Any, **options: Any) -> None:
        user, new = User.objects.get_or_create(username=NAME)
        if new:
            user.set_password(PASSWORD)
            user.save()
        for name, place, weather, document in PROJECTS:
            if not Project.objects.filter(owner=user, name=name).exists():
                project = create_project(
                    owner=user, name=name, place=place, weather=climate(weather), document=parse(document)
                )
                show_kinds(project, user)
        terrace = Project.objects.get(owner=user, name__startswith="Gannet Terrace")
        log_terrace(terrace)
        create_demo_firm(user, terrace, PASSWORD)
        if options["weigh"]:
            run_terrace_studies(Project.objects.get(pk=terrace.pk))
