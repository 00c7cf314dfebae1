"""A signed-in designer with a project in the made-up climate."""

from django.test import TestCase

from web.accounts.models import User
from web.demo.climates import merrow_coast
from web.projects.services import create_project


class DeskCase(TestCase):
    def setUp(self):
        self.user = User.objects.create_user("asta", password="quiet-harbour-9")
        self.project = create_project(owner=self.user, name="Tern Lane", place="Merrow coast", weather=merrow_coast())
        self.design = self.project.designs.get()
        self.client.force_login(self.user)

    def url(self, tail, project=None):
        return f"/projects/{(project or self.project).pk}/A/{tail}"

    def edit(self, path, value, **more):
        self.design.refresh_from_db()
        post = {"path": path, "value": value, "screen": "scheme", **more}
        return self.client.post(self.url("edit"), post, headers={"HX-Request": "true"})

    def document(self):
        from web.projects.models import Design

        return Design.objects.select_related("project").get(pk=self.design.pk).document()
