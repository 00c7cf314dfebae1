"""Every address by every kind of person: made from the table of addresses, so that a new one without an entry fails."""

from unittest.mock import patch

from django.http import Http404
from django.test import Client
from django.urls import get_resolver, reverse

from web.firms.services import invite
from web.projects.models import Project
from web.projects.permissions import GIVES, ORDER
from web.projects.services.sharing import share
from web.projects.tests.helpers import FirmCase
from web.workspace.registry import steps

READ, WRITE, BOTH = ("GET", "HEAD"), ("POST",), ("GET", "HEAD", "POST")
EVERY = ("GET", "HEAD", "POST", "PUT", "PATCH", "DELETE", "TRACE")
PROJECT = {
    "screen": ("view", READ),
    "now": ("view", READ),
    "find": ("view", READ),
    "comments": ("view", WRITE),
    "people": ("view", READ),
    "history": ("view", READ),
    "edit": ("survey", WRITE),
    "rows": ("survey", WRITE),
    "choose": ("survey", WRITE),
    "undo": ("survey", WRITE),
    "redo": ("survey", WRITE),
    "save": ("edit", WRITE),
    "designs": ("edit", WRITE),
    "delete-project": ("own", WRITE),
}
"""What each address of a project needs, beside those the steps declare."""
SIGNED = {
    "projects": READ,
    "new-project": WRITE,
    "bring-project": WRITE,
    "towns": READ,
    "glossary": READ,
    "term": READ,
    "units": WRITE,
    "account": BOTH,
    "password_change": BOTH,
    "new-firm": WRITE,
    "second-factor": BOTH,
    "sessions": BOTH,
    "tokens": BOTH,
    "api-docs": READ,
    "catalogue": READ,
    "builder": READ,
    "keep-built": WRITE,
    "standing": READ,
    "save-entry": WRITE,
    "entry-table": WRITE,
    "entry-away": WRITE,
    "entry-download": READ,
}
"""A person's own: whoever is signed in, each for themselves, as their own tests show."""
FIRM = {"firm": BOTH}
OPEN = {
    "health": READ,
    "ready": READ,
    "sign-in": BOTH,
    "sign-out": WRITE,
    "join": BOTH,
    "password_reset": BOTH,
    "password_reset_done": READ,
    "password_reset_confirm": BOTH,
    "password_reset_complete": READ,
    "client-page": READ,
    "client-pdf": READ,
    "upkeep-calendar": READ,
    "take-readings": WRITE,  # each by a key
    "invited": BOTH,
    "shared": BOTH,
    "sign-in-code": BOTH,
}
"""For anybody; what opens by a key opens by nothing else, as the keys' own tests show."""
RIGHTS = {
    "visitor": "",
    "stranger": "",
    "reader": "view",
    "viewer": GIVES["viewer"],
    "assessor": GIVES["assessor"],
    "designer": GIVES["designer"],
    "editor": "edit",
    "owner": GIVES["owner"],
}


class Inside(Exception):
    """The door was passed."""


def declared():
    """What each address of the steps needs."""
    found = {}
    for step in steps():
        found |= {action.name: (action.needs or step.needs, WRITE) for action in step.actions}
        found |= {part.name: (part.needs, READ) for part in (*step.fragments, *step.downloads)}
    return found


def addresses():
    """Every name of the table of addresses, each with the names its path holds."""
    resolver = get_resolver()
    return {
        name: resolver.reverse_dict.getlist(name)[0][0][0][1] for name in resolver.reverse_dict if isinstance(name, str)
    }


class Permissions(FirmCase):
    def setUp(self):
        super().setUp()
        self.values = {
            "pk": self.project.pk,
            "letter": "A",
            "screen": "scheme",
            "file": self.project.weather_id,
            "upload": 1,
            "kind": "csv",
            "token": "none",
            "uidb64": "x",
            "group": "collector",
            "key": "own_1",
            "number": 1,
        }
        self.clients = {"visitor": Client()}

    def address(self, name, locked):
        values = {part: self.values[part] for part in locked}
        if name in FIRM:
            values["pk"] = self.firm.pk
        return reverse(name, kwargs=values)

    def require(self, name, locked, method, person):
        """Status of an answer; 200 where the door was passed."""
        if person not in self.clients or name in SIGNED:  # those may end the session
            self.clients[person] = Client()
            if person != "visitor":
                self.clients[person].force_login(self.people[person])
        with (
            patch("web.workspace.views.page_for", self.guarded),
            patch("web.workspace.presence.page_for", self.guarded),
        ):
            try:
                answer = self.clients[person].generic(method, self.address(name, locked))
            except Inside:
                return 200
        return 302 if answer.status_code == 302 and answer.url.startswith("/sign-in") else answer.status_code

    @staticmethod
    def guarded(request, pk, letter, need="view"):
        from web.projects.permissions import design_for

        design_for(request.user, pk, letter, need)
        raise Inside

    def test_every_address_has_an_entry(self):
        known = {*PROJECT, *SIGNED, *FIRM, *OPEN, *declared()}
        self.assertEqual(set(addresses()), known)

    def test_a_projects_addresses_by_right(self):
        count = 0
        for name, current in addresses().items():
            need, methods = (PROJECT | declared()).get(name, (None, None))
            if need is None:
                continue
            for person, right in RIGHTS.items():
                for method in methods:
                    status = self.require(name, current, method, person)
                    count += 1
                    with self.subTest(address=name, person=person, method=method):
                        if person == "visitor":
                            self.assertEqual(status, 302)
                        elif not right:
                            self.assertEqual(status, 404)
                        elif ORDER[right] < ORDER[need]:
                            self.assertIn(status, (403, 404) if name == "delete-project" else (403,))
                        else:
                            self.assertIn(status, (200, 302) if name == "delete-project" else (200,))
                            Project.objects.filter(pk=self.project.pk).update(deleted=None)
        self.assertGreater(count, 700)
        self.assertEqual(self.project.edits.count(), 0)

    def test_no_other_method_does_anything(self):
        tables = PROJECT | declared() | {name: ("", methods) for name, methods in (SIGNED | FIRM | OPEN).items()}
        for name, current in addresses().items():
            allowed = BOTH if name == "people" else tables[name][1]
            for method in set(EVERY) - set(allowed):
                for person in ("owner", "visitor"):
                    with self.subTest(address=name, method=method, person=person):
                        self.assertIn(self.require(name, current, method, person), (302, 403, 404, 405))
        self.assertEqual(self.project.edits.count(), 0)

    def test_ones_own_pages_are_for_the_signed_in(self):
        for name, current in addresses().items():
            if name in SIGNED or name in FIRM:
                for method in (SIGNED | FIRM)[name]:
                    with self.subTest(address=name, method=method):
                        self.assertEqual(self.require(name, current, method, "visitor"), 302)
        for person in ("stranger", "reader", "editor"):
            self.assertEqual(self.require("firm", {"pk"}, "GET", person), 404)
            self.assertEqual(self.require("firm", {"pk"}, "POST", person), 404)

    def test_what_a_key_opens_is_closed_without_it(self):
        for name in ("client-page", "client-pdf", "upkeep-calendar", "invited", "shared"):
            for person in ("visitor", "owner"):
                self.assertEqual(self.require(name, {"token"}, "GET", person), 404)
        self.assertEqual(self.require("take-readings", {"pk"}, "POST", "owner"), 401)

    def test_links_to_take_up_are_for_one_who_signs_in(self):
        _made, token = share(project=self.project, author=self.user, need="view")
        _requested, other = invite(firm=self.firm, author=self.user, role="viewer")
        self.client.logout()
        for address in (f"/shared/{token}", f"/invited/{other}"):
            self.assertContains(self.client.post(address), "Sign in")
        self.assertEqual(self.firm.members.count(), 4)
        with self.assertRaises(Http404):
            from web.projects.permissions import design_for

            design_for(self.people["stranger"], self.project.pk, "A")
