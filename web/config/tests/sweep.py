"""What holds of every step, whatever the registry holds: its tab, number, addresses, owner, and what axe finds."""

from django.urls import get_resolver, reverse

from web.accounts.models import User
from web.projects.models import Project
from web.projects.tests.helpers import HTMX, DeskCase
from web.ui.tests.browser import DemoCase
from web.workspace.registry import steps
from web.workspace.routes import SHARED

OPEN_TO_ALL = {
    "client-page",
    "client-pdf",  # by an address nobody guesses, as the tests of paper show
    "take-readings",
    "upkeep-calendar",  # by a key, as the tests of logs show
    "health",
    "ready",
    "sign-in",
    "sign-out",
    "join",
    "password_reset",
    "password_reset_done",
    "password_reset_confirm",
    "password_reset_complete",
    "sign-in-code",
    "invited",
    "shared",
}
OWN = {
    "towns",
    "projects",
    "new-project",
    "bring-project",
    "delete-project",
    "units",
    "account",
    "second-factor",
    "sessions",
    "tokens",
    "api-docs",
    "people",
    "history",
    "glossary",
    "term",
    "now",
    "find",
    "comments",
    "firm",
    "new-firm",
    "password_change",
    "screen",
}
"""Names of what is a person's own, beside what the steps declare."""
CATALOGUE = {
    "catalogue",
    "builder",
    "keep-built",
    "standing",
    "save-entry",
    "entry-table",
    "entry-away",
    "entry-download",
}
"""The catalogue's names: it holds a person's own entries only, as its own tests show."""


class StepSweep(DeskCase):
    """To be inherited: every step as the settings name them.

    ``keys``: the steps whose pages are opened; all where none is named.
    """

    keys: tuple[str, ...] = ()

    def opened(self):
        return [step for step in steps() if not self.keys or step.key in self.keys]

    def addresses(self):
        """Method and address of everything below a design."""
        found = [("get", self.url(step.key)) for step in steps()]
        found += [("get", f"{self.url(step.key)}?view={view.key}") for step in steps() for view in step.views]
        found += [("post", self.url(name)) for name in SHARED]
        for step in steps():
            for part in (*step.actions, *step.fragments, *step.downloads):
                found.append(("post" if part in step.actions else "get", self.address(part)))
        return found

    def address(self, part):
        """Where a part stands; what its path holds stands for something that is there or not."""
        current = {"file": self.project.weather_id, "upload": 1, "kind": "csv"}
        more = {name: value for name, value in current.items() if f":{name}>" in part.path}
        return reverse(part.name, kwargs={"pk": self.project.pk, "letter": "A", **more})

    def test_tabs_and_numbers_in_order(self):
        page = self.client.get(self.url(steps()[0].key)).content.decode()
        for number, step in enumerate(steps(), start=1):
            self.assertRegex(page, rf"<small[^>]*>{number}</small>\s*{step.title}\s*</a>")
        self.assertIn(f"<td>1 to {len(steps())}</td>", page)

    def test_every_view_answers_its_owner(self):
        for step in self.opened():
            for address in [self.url(step.key), *(f"{self.url(step.key)}?view={view.key}" for view in step.views)]:
                with self.subTest(address=address):
                    self.assertContains(self.client.get(address), "<html")
                    self.assertNotContains(self.client.get(address, headers=HTMX), "<html")
            for part in (*step.fragments, *step.downloads):
                with self.subTest(address=part.name):
                    self.assertEqual(self.client.get(self.address(part)).status_code, 200)

    def test_strangers_find_nothing_and_change_nothing(self):
        self.client.force_login(User.objects.create_user("stranger"))
        before = self.document()
        for method, address in self.addresses():
            with self.subTest(address=address):
                answer = getattr(self.client, method)(address, {"path": "demand.people", "value": "9"})
                self.assertNotContains(answer, self.project.name, status_code=404)
        self.assertNotContains(self.client.get("/"), self.project.name)
        self.assertEqual((self.document(), Project.objects.get().revision), (before, 0))

    def test_visitors_are_sent_to_sign_in(self):
        self.client.logout()
        more = [("get", "/"), ("post", "/projects/new"), ("post", "/units")]
        for method, address in [*self.addresses(), *more]:
            with self.subTest(address=address):
                answer = getattr(self.client, method)(address)
                self.assertEqual(answer.status_code, 302)
                self.assertTrue(answer.url.startswith("/sign-in"))

    def test_no_address_is_beside_the_registry(self):
        declared = {part.name for step in steps() for part in (*step.actions, *step.fragments, *step.downloads)}
        names = {k for k in get_resolver().reverse_dict if isinstance(k, str)}
        self.assertEqual(names, OPEN_TO_ALL | OWN | CATALOGUE | set(SHARED) | declared)


class StepAxe(DemoCase):
    """To be inherited: the real browser finds every listed view accessible, and its number key leads there."""

    keys: tuple[str, ...] = ()

    def test_every_view_is_accessible_and_reached_by_its_number(self):
        self.open_scheme()
        for number, step in enumerate(steps(), start=1):
            if self.keys and step.key not in self.keys:
                continue
            if number < 10:  # a tenth step has no key of its own
                self.page.keyboard.press(str(number))
            else:
                self.page.goto(self.page.url.rpartition("/")[0] + f"/{step.key}")
            self.page.wait_for_url(f"**/{step.key}")
            for view in step.listed or step.views[:1]:
                with self.subTest(step=step.key, view=view.key):
                    self.page.goto(f"{self.page.url.split('?')[0]}?view={view.key}")
                    self.page.wait_for_selector(".tabs [aria-current]")
                    self.accessible()
