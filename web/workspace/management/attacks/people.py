"""People and projects made for the trials, and taken away again."""

from web.accounts.models import User
from web.firms.models import Firm
from web.projects.climates import merrow_coast
from web.projects.models import Design, Project
from web.projects.services.designs import create_project
from web.workspace.management.serving import Person, Server

NAME, PASSWORD = "attack", "bench-harbour-7"
LISTED = 500


def people(count: int) -> list[User]:
    """So many people, each with a project of their own."""
    Firm.objects.filter(head__username__startswith=NAME).delete()
    User.objects.filter(username__startswith=NAME).delete()
    return more_people(NAME, count)


def more_people(name: str, count: int) -> list[User]:
    """So many more, whose names begin so."""
    made = [User.objects.create_user(f"{name}{i}", password=PASSWORD) for i in range(count)]
    for user in made:
        create_project(owner=user, name="load", place="", weather=merrow_coast())
    return made


def long_list(user: User) -> None:
    """Many projects of one person, each another year."""
    first = Project.objects.get(owner=user)
    design = first.designs.get()
    projects = [
        Project(owner=user, name=f"project {i}", survey=first.survey, weather=first.weather) for i in range(LISTED - 1)
    ]
    for project in Project.objects.bulk_create(projects):
        scheme = {**design.scheme, "plane": {**design.scheme["plane"], "tilt_deg": 20 + project.pk % 500 / 10}}
        Design.objects.create(project=project, letter="A", name="one of many", scheme=scheme)


def at_work(server: Server, made: list[User], count: int) -> list[tuple[Person, str]]:
    """So many people, signed in, and the address of the design of each."""
    timings = []
    for user in made[:count]:
        project = Project.objects.filter(owner=user).order_by("pk")[0]
        person, base = Person(server.port).sign_in(user.username, PASSWORD), f"/projects/{project.pk}/A/"
        person.request("GET", base + "scheme")  # an edit comes from a page that was opened
        timings.append((person, base))
    return timings
