"""A signed-in designer with a project in the made-up climate, made once a class."""

from django.test import TestCase

from web.accounts.models import User
from web.firms.models import Member
from web.firms.services import create_firm
from web.projects.climates import merrow_coast
from web.projects.models import Design
from web.projects.services.designs import create_project
from web.projects.services.sharing import give_to_firm, share, take_up

HTMX = {"HX-Request": "true"}


class DeskCase(TestCase):
    @classmethod
    def setUpTestData(cls):
        cls.user = User.objects.create_user("asta", password="quiet-harbour-9")
        cls.project = create_project(owner=cls.user, name="Tern Lane", place="Merrow coast", weather=merrow_coast())
        cls.design = cls.project.designs.get()

    def setUp(self):
        self.client.force_login(self.user)

    def assertContains(self, response, text, count=None, status_code=200):  # noqa: N802 - Django's name
        """As a reader sees it: runs of white space are one, in the page and in what is looked for."""
        self.assertEqual(response.status_code, status_code)
        page, wanted = " ".join(response.content.decode().split()), " ".join(str(text).split())
        if count is None:
            self.assertIn(wanted, page)
        else:
            self.assertEqual(page.count(wanted), count)

    def url(self, tail, project=None):
        return f"/projects/{(project or self.project).pk}/A/{tail}"

    def post(self, tail, view="", **values):
        """Post as the page does, from one of its views."""
        here = {"HX-Current-URL": f"http://testserver/x?{view}"} if view else {}
        return self.client.post(self.url(tail), {"screen": "scheme", **values}, headers={**HTMX, **here})

    def edit(self, path, value, view="", **more):
        """One edit over HTTP: what the page answers."""
        return self.post("edit", view, path=path, value=value, **more)

    def fresh(self):
        """The design as it is kept now."""
        return Design.objects.select_related("project__weather").get(pk=self.design.pk)

    def document(self):
        return self.fresh().document()


class FirmCase(DeskCase):
    """The same project in a firm: ``people`` by what they are in it, strangers and those it is shared with too."""

    @classmethod
    def setUpTestData(cls):
        super().setUpTestData()
        cls.firm = create_firm(owner=cls.user, name="Merrow Heat Works")
        give_to_firm(project=cls.project, author=cls.user, firm=cls.firm)
        cls.project.refresh_from_db()
        cls.people = {"owner": cls.user}
        for role in ("designer", "assessor", "viewer"):
            cls.people[role] = User.objects.create_user(role)
            Member.objects.create(firm=cls.firm, user=cls.people[role], role=role)
        for name, need in (("reader", "view"), ("editor", "edit")):
            cls.people[name] = User.objects.create_user(name)
            _share, token = share(project=cls.project, author=cls.user, need=need)
            take_up(token=token, user=cls.people[name])
        cls.people["stranger"] = User.objects.create_user("stranger")

    def as_(self, name):
        """Go on as somebody."""
        self.client.force_login(self.people[name])
        return self
