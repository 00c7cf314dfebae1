"""What once let somebody in, or lost something, by the request that showed it: each must be shut."""

import json
import sys
from collections.abc import Iterator
from uuid import uuid4

from django.utils import timezone
from django_otp.plugins.otp_totp.models import TOTPDevice

from web.accounts.models import User
from web.accounts.tokens import make_token
from web.firms.models import Firm, Member
from web.firms.services import create_firm as create_demo_firm
from web.firms.services import invite
from web.logs.services import begin_log, new_token
from web.logs.upkeep import open_calendar
from web.projects.models import Design, Project
from web.projects.services.deletion import delete_project
from web.projects.services.sharing import end_share, give_to_firm, hand_over, let_go, share, take_up
from web.reports.models import Report
from web.reports.services import open_to_client
from web.workspace.management.attacks.people import NAME, PASSWORD, more_people
from web.workspace.management.serving import Person, Server

Line = tuple[str, bool]
"""What was tried, and whether it is shut."""


def lines(server: Server, _made: list[User]) -> dict[str, float]:
    """Every line, and how many are open."""
    made = more_people(f"{NAME} line ", 7)
    tried = [*_people(server, made), *_handed_out(server, made), *_programs(server, made)]
    for name, shut in tried:
        if not shut:
            print(f"line: {name} is open", file=sys.stderr)
    return {"lines": len(tried), "lines_open": sum(not shut for _name, shut in tried)}


def _signed_in(server: Server, user: User) -> Person:
    return Person(server.port).sign_in(user.username, PASSWORD)


def _people(server: Server, made: list[User]) -> Iterator[Line]:
    """Who carries off, comes back, or takes the second factor away."""
    owner, designer, second, stranger = made[:4]
    project = Project.objects.filter(owner=owner)[0]
    firm = create_demo_firm(owner=owner, name="attack lines")
    give_to_firm(project=project, author=owner, firm=firm)
    for user, role in ((designer, "designer"), (second, "owner")):
        Member.objects.create(firm=firm, user=user, role=role)
    hand_over(project=Project.objects.get(pk=project.pk), author=owner, member=firm.members.get(user=designer))
    mine = create_demo_firm(owner=designer, name="attack mine")
    people = f"/projects/{project.pk}/people"
    status = _signed_in(server, designer).request("POST", people, {"do": "give", "firm": mine.pk})[0]
    yield "a designer carries a project off", status == 403
    yield "its owner still has it", _signed_in(server, owner).request("GET", people)[0] == 200

    fresh = Project.objects.get(pk=project.pk)
    by_second = invite(firm=firm, author=second, role="owner")[1]
    by_owner = invite(firm=firm, author=owner, role="owner")[1]
    link = share(project=fresh, author=second, need="edit")[1]
    let_go(member=Member.objects.select_related("firm__head", "user").get(firm=firm, user=second), author=owner)
    back, other = _signed_in(server, second), _signed_in(server, stranger)
    yield "back by an invitation of one's own", back.request("POST", f"/invited/{by_second}", {})[0] == 404
    yield "back by another's invitation of before", back.request("POST", f"/invited/{by_owner}", {})[0] == 404
    yield "back by a share of one's own", back.request("POST", f"/shared/{link}", {})[0] == 404
    yield "a stranger by the link of one let go", other.request("POST", f"/shared/{link}", {})[0] == 404
    device = TOTPDevice.objects.create(user=stranger, name="x", confirmed=True)
    form = {"do": "off", "password": PASSWORD}
    yield "second factor off by the password", other.request("POST", "/account/second", form)[0] == 422
    device.delete()
    Firm.objects.filter(pk__in=(firm.pk, mine.pk)).delete()


def _handed_out(server: Server, made: list[User]) -> Iterator[Line]:
    """What a share to look hands out, and what goes on after it."""
    owner, reader = made[4:6]
    project = Project.objects.select_related("weather", "owner", "firm").filter(owner=owner)[0]
    design = project.designs.get()
    begin_log(design=design, author=owner)
    report = Report.objects.create(
        project=project, number=1, title="R", letters="A", html="", client="", pdf=b"%PDF", requested={}, inputs={}
    )
    open_to_client(report=report, author=owner)
    made_share, token = share(project=project, author=owner, need="edit")
    take_up(token=token, user=reader)
    calendar = open_calendar(project=project, author=reader)
    end_share(share=made_share, author=owner)
    anybody = Person(server.port)
    yield "a calendar after its share", anybody.request("GET", f"/upkeep/{calendar.token}.ics")[0] == 404
    _share, token = share(project=project, author=owner, need="view")
    take_up(token=token, user=reader)
    reader_client, base = _signed_in(server, reader), f"/projects/{project.pk}/A/"
    for tail in ("paper/project.zip", "money/prices.csv", "money/prices.xlsx"):
        yield f"{tail} by a look", reader_client.request("GET", base + tail)[0] == 403
    yield "a client's address by a look", report.token not in reader_client.request("GET", base + "paper")[1]
    delete_project(project=project, author=owner, deleted=True)
    yield "a deleted project's client page", anybody.request("GET", f"/read/{report.token}/")[0] == 404


def _programs(server: Server, made: list[User]) -> Iterator[Line]:
    """Programs and loggers: twice, garbled, moved, or without a key."""
    user = made[6]
    project = Project.objects.select_related("weather", "owner", "firm").filter(owner=user)[0]
    _token, key = make_token(user=user, name="attack", scopes=["read", "write", "simulate"])
    program = Person(server.port)
    headers = {"Authorization": f"Bearer {key}", "Content-Type": "application/json", "Idempotency-Key": uuid4().hex}
    text = json.dumps({"name": "twice \U0001f31e"}).encode()
    numbers = [json.loads(program.requested("POST", "/api/projects", text, headers)[1])["number"] for _ in range(2)]
    yield "a project made twice", numbers[0] == numbers[1]
    yield "emoji are taken", Project.objects.filter(pk=numbers[0], name="twice \U0001f31e").exists()
    yield "openapi.json without a key", Person(server.port).request("GET", "/api/openapi.json")[0] == 401
    log = begin_log(design=project.designs.get(), author=user)
    posted = {"Authorization": f"Bearer {new_token(log=log, author=user)}", "Content-Type": "application/json"}
    rows = [{"at": "0001-01-01T00:00:00+23:59"}, {"at": timezone.now().isoformat(), "collector": 40.0, "remark": "a\0"}]
    status = program.requested("POST", f"/log/{log.pk}/readings", json.dumps({"readings": rows}).encode(), posted)[0]
    yield "one bad row loses the others", status == 200 and log.readings.count() == 1
    Design.objects.filter(project=project).update(name="=1+1")
    table = _signed_in(server, user).request("GET", f"/projects/{project.pk}/A/weigh/side.csv")[1]
    yield "a formula in a table", "\n=1+1" not in table and ",=1+1" not in table
