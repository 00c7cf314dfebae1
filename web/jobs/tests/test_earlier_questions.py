"""Questions asked before names changed: their numbers are found under the names of today."""

from importlib import import_module

from django.apps import apps

from web.jobs.models import Run
from web.projects.tests.helpers import DeskCase

VERSION_3 = import_module("web.jobs.migrations.0006_document_version_3")


class EarlierQuestions(DeskCase):
    def kept(self, question, best=None):
        document = self.document()
        document["version"] = 2
        document["reckoning"] = document.pop("numerics")
        run = Run.objects.create(
            project=self.project,
            letter="A",
            purpose="best",
            question=question,
            document=document,
            weather=self.project.weather,
            engine="0" * 16,
            key="1" * 64,
            size=3,
            best=best,
        )
        VERSION_3.bring_up(apps, None)
        run.refresh_from_db()
        return run

    def test_paths_and_figures_have_their_present_names(self):
        run = self.kept(
            {
                "free": [{"path": "reckoning.layers", "low": 5}, {"path": "system.store.volume_l"}],
                "limits": [{"figure": "missing_kwh", "most": 20}],
                "text": "missing",
            },
            best={"values": {"reckoning.layers": 12}, "figures": {"missing_kwh": 3.5, "fraction": 0.6}},
        )
        self.assertEqual([one["path"] for one in run.question["free"]], ["numerics.layers", "system.store.volume_l"])
        self.assertEqual(run.question["limits"], [{"figure": "unmet_kwh", "most": 20}])
        self.assertEqual(run.best["values"], {"numerics.layers": 12})
        self.assertEqual(run.best["figures"], {"unmet_kwh": 3.5, "fraction": 0.6})
        self.assertEqual(run.document, self.document())

    def test_what_has_todays_names_stays_and_no_best_stays_none(self):
        question = {"free": [{"path": "system.store.volume_l"}], "objective": "bought_kwh"}
        run = self.kept(question)
        self.assertEqual((run.question, run.best), (question, None))
        self.assertTrue(Run.objects.filter(pk=run.pk, best__isnull=True).exists())
