"""Every service about people, shares and firms, asked by every kind of person: by whom, from where, to where.

The table in docs/security.md is what this test sees. After a change: ``LEDGER_WRITE_DOCS=1 ./ledger test
web.workspace.tests.test_sharing_table`` writes it anew.
"""

import os
from dataclasses import dataclass
from pathlib import Path

from django.core.exceptions import PermissionDenied
from django.db import transaction

from heat.errors import HeatError
from web.accounts.models import User
from web.firms.models import Member
from web.firms.services import call_back, come, create_firm, invite, rename, set_head
from web.logs.upkeep import open_calendar
from web.projects.climates import merrow_coast
from web.projects.models import Project, Share
from web.projects.services import sharing
from web.projects.services.deletion import delete_project
from web.projects.services.designs import create_project
from web.projects.tests.helpers import FirmCase
from web.reports.models import Report
from web.reports.services import close_to_client, open_to_client

DOCS = Path(__file__).resolve().parents[3] / "docs" / "security.md"
START, END = "<!-- people: written by web.workspace.tests.test_sharing_table -->", "<!-- /people -->"
WORDS = {
    "stranger": "stranger",
    "reader": "shared to look",
    "editor": "shared to change",
    "viewer": "viewer",
    "assessor": "assessor",
    "designer": "designer",
    "in hand": "designer who has it in hand",
    "owner": "owner",
    "elsewhere": "designer here, owner elsewhere",
    "let go": "owner until let go",
}
OWNS, RUNS, EDITS = {"in hand", "owner"}, {"owner"}, {"editor", "designer", "in hand", "owner", "elsewhere"}
INSIDE = {"viewer", "assessor", "designer", "in hand", "owner", "elsewhere"}


@dataclass(frozen=True)
class Service:
    """One service with who may, and what it moves from where to where."""

    name: str
    moves: str
    may: set
    run: object


class Table(FirmCase):
    @classmethod
    def setUpTestData(cls):
        super().setUpTestData()
        for name in ("in hand", "elsewhere", "let go"):
            cls.people[name] = User.objects.create_user(name.replace(" ", "-"))
        for name in ("in hand", "elsewhere"):
            Member.objects.create(firm=cls.firm, user=cls.people[name], role="designer")
        cls.other = create_firm(owner=cls.people["elsewhere"], name="Tarn Works")
        Project.objects.filter(pk=cls.project.pk).update(owner=cls.people["in hand"])
        gone = Member.objects.create(firm=cls.firm, user=cls.people["let go"], role="owner")
        cls.links = {
            "invitation": invite(firm=cls.firm, author=cls.people["let go"], role="owner")[1],
            "share": sharing.share(project=cls.project, author=cls.people["let go"], need="edit")[1],
            "others invitation": invite(firm=cls.firm, author=cls.user, role="owner")[1],
            "others share": sharing.share(project=cls.project, author=cls.user, need="edit")[1],
        }
        sharing.let_go(member=gone, author=cls.user)
        cls.requested = invite(firm=cls.firm, author=cls.user, role="viewer")[0]
        cls.report = Report.objects.create(
            project=cls.project, number=1, title="R", letters="A", requested={}, inputs={}, html="", client=""
        )

    def member(self, name):
        return Member.objects.select_related("firm__head", "user").get(firm=self.firm, user=self.people[name])

    def fresh_project(self):
        return Project.objects.get(pk=self.project.pk)

    def elsewhere_of(self, user):
        """A firm of somebody's own."""
        return user.memberships.filter(role="owner").exclude(firm=self.firm).first() or Member(
            firm=create_firm(owner=user, name="Own"), user=user, role="owner"
        )

    def services(self):
        firm = self.firm
        own = lambda user: create_project(owner=user, name="Own", place="", weather=merrow_coast())
        shared = lambda: Share.objects.get(project=self.project, user=self.people["reader"])
        return (
            Service(
                "share",
                "a firm's project → whoever takes the link up",
                OWNS,
                lambda u: sharing.share(project=self.fresh_project(), author=u, need="edit"),
            ),
            Service(
                "end_share",
                "another's share → nobody",
                OWNS | {"reader"},
                lambda u: sharing.end_share(share=shared(), author=u),
            ),
            Service(
                "give_to_firm",
                "a firm's project → a firm of one's own",
                RUNS,
                lambda u: sharing.give_to_firm(project=self.fresh_project(), author=u, firm=self.elsewhere_of(u).firm),
            ),
            Service(
                "give_to_firm",
                "one's own project → the firm",
                {"designer", "in hand", "owner", "elsewhere"},
                lambda u: sharing.give_to_firm(project=own(u), author=u, firm=firm),
            ),
            Service(
                "take_out",
                "a firm's project → oneself",
                RUNS,
                lambda u: sharing.take_out(project=self.fresh_project(), author=u),
            ),
            Service(
                "hand_over",
                "a firm's project → another of its designers",
                OWNS,
                lambda u: sharing.hand_over(project=self.fresh_project(), author=u, member=self.member("designer")),
            ),
            Service(
                "hand_over",
                "a firm's project → one outside its firm",
                set(),
                lambda u: sharing.hand_over(
                    project=self.fresh_project(), author=u, member=Member.objects.get(firm=self.other)
                ),
            ),
            Service(
                "delete_project",
                "a firm's project → its 30 days",
                OWNS,
                lambda u: delete_project(project=self.fresh_project(), author=u, deleted=True),
            ),
            Service(
                "invite",
                "the firm → whoever takes the link up",
                RUNS,
                lambda u: invite(firm=firm, author=u, role="owner"),
            ),
            Service(
                "call_back", "an invitation → nobody", RUNS, lambda u: call_back(invitation=self.requested, author=u)
            ),
            Service(
                "change_role",
                "a viewer → owner",
                RUNS,
                lambda u: sharing.change_role(member=self.member("viewer"), author=u, role="owner"),
            ),
            Service(
                "set_head",
                "prices, letterhead and projects of those who leave → an owner",
                RUNS,
                lambda u: set_head(firm=firm, author=u, member=self.member("owner")),
            ),
            Service("rename", "the firm's name", RUNS, lambda u: rename(firm=firm, author=u, name="Other")),
            Service(
                "let_go",
                "a viewer → outside",
                RUNS | {"viewer"},
                lambda u: sharing.let_go(member=self.member("viewer"), author=u),
            ),
            Service(
                "let_go",
                "oneself → outside",
                INSIDE - {"owner"},  # the head stays
                lambda u: sharing.let_go(member=Member.objects.get(firm=firm, user=u), author=u),
            ),
            Service(
                "close_firm",
                "the projects of a firm with others in it → oneself",
                set(),
                lambda u: sharing.close_firm(firm=firm, author=u),
            ),
            Service(
                "come",
                "by an invitation of one who was let go",
                set(),
                lambda u: come(token=self.links["invitation"], user=u),
            ),
            Service(
                "come",
                "by an owner's invitation, older than being let go",
                {"stranger", "reader", "editor"},
                lambda u: come(token=self.links["others invitation"], user=u),
            ),
            Service(
                "take_up",
                "by a link of one who was let go",
                set(),
                lambda u: sharing.take_up(token=self.links["share"], user=u),
            ),
            Service(
                "take_up",
                "by an owner's link, older than being let go",
                {"stranger", "reader", "viewer", "assessor"},
                lambda u: sharing.take_up(token=self.links["others share"], user=u),
            ),
            Service(
                "open_to_client",
                "a report → whoever has its address",
                EDITS,
                lambda u: open_to_client(report=self.report, author=u),
            ),
            Service(
                "close_to_client",
                "a report's address → nobody",
                EDITS,
                lambda u: close_to_client(report=self.report, author=u),
            ),
            Service(
                "open_calendar",
                "upkeep → one's own address, while one may look",
                EDITS | {"assessor"},
                lambda u: open_calendar(project=self.fresh_project(), author=u),
            ),
        )

    def allowed(self, service, name):
        """Whether a service did what this person asked; all is as before afterwards."""
        user = User.objects.get(pk=self.people[name].pk)
        try:
            with transaction.atomic():
                service.run(user)
                transaction.set_rollback(True)
        except (HeatError, PermissionDenied, Member.DoesNotExist):
            return False
        return True

    def test_by_whom_from_where_to_where(self):
        rows = []
        for service in self.services():
            may = {name for name in self.people if self.allowed(service, name)}
            with self.subTest(service=service.name, moves=service.moves):
                self.assertEqual(may, service.may)
            words = ", ".join(WORDS[name] for name in WORDS if name in may) or "nobody"
            rows.append(f"| `{service.name}` | {service.moves} | {words} |")
        head = ["| Service | From → to | Done for |", "| --- | --- | --- |"]
        table = "\n".join([START, "", *head, *rows, "", END])
        text = DOCS.read_text()
        begin, end = text.index(START), text.index(END) + len(END)
        if os.environ.get("LEDGER_WRITE_DOCS") == "1":
            DOCS.write_text(text[:begin] + table + text[end:])
        else:
            self.assertEqual(text[begin:end], table)
