"""Every kind of upload, mangled, through HTTP: taken or refused in words, never a fault; and what is kept opens."""

from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client

from web.logs.archive import logs_file
from web.logs.services import begin_log
from web.prices.books import csv_of, prices_of
from web.projects.archive import project_file
from web.projects.models import Project
from web.projects.services.designs import save_version
from web.projects.tests.helpers import DeskCase
from web.workspace.management.uploads import KINDS, Sound, upload
from web.workspace.registry import steps

TRIED = 200
"""Uploads tried here; ``./ledger attack --only uploads`` tries thousands."""


class Mangled(DeskCase):
    def setUp(self):
        super().setUp()
        self.client = Client(raise_request_exception=False)
        self.client.force_login(self.user)
        self.log = begin_log(design=self.fresh(), author=self.user)
        save_version(design=self.fresh(), author=self.user)
        raw = project_file(self.project, csv_of(prices_of(self.user), "EUR"), logs_file(self.project))
        self.sound = Sound(self.url(""), self.log.pk, raw)

    def send(self, one):
        form = {**one.form, one.input: SimpleUploadedFile(one.name, one.raw), "screen": "scheme"}
        return self.client.post(one.at if one.at.startswith("/") else self.url(one.at), form, follow=True)

    def test_taken_or_refused_in_words(self):
        met = {kind: set() for kind in KINDS}
        known = set(Project.objects.values_list("pk", flat=True))
        for number in range(TRIED):
            one = upload(number, self.sound)
            answer = self.send(one)
            met[one.kind].add(answer.status_code)
            with self.subTest(number=number, kind=one.kind):
                self.assertIn(answer.status_code, (200, 422, 400, 413))
            for fresh in set(Project.objects.values_list("pk", flat=True)) - known:
                known.add(fresh)
                self.opens(number, Project.objects.get(pk=fresh))
        self.assertTrue(all(met.values()), met)

    def opens(self, number, project):
        """What was kept opens on every step."""
        letter = project.designs.all()[0].letter
        for step in steps():
            with self.subTest(number=number, step=step.key):
                self.assertEqual(self.client.get(f"/projects/{project.pk}/{letter}/{step.key}").status_code, 200)
        for view in ("log?view=diagnosis", "log?view=months", "log?view=upkeep", "paper/project.zip"):
            with self.subTest(number=number, view=view):
                self.assertLess(self.client.get(f"/projects/{project.pk}/{letter}/{view}").status_code, 500)
