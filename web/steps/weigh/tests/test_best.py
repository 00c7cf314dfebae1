"""Find the best: what is asked, the search kept round by round, limits, and the best as a design."""

import numpy as np

from heat.studies.outcome import KEYS
from web.editor.design_page import DesignPage
from web.editor.tests.helpers import DesignPageCase, figure
from web.jobs.fair_share import work_next
from web.jobs.models import Run
from web.jobs.services import progress, stop_run
from web.projects.models import Design
from web.steps.weigh.best import best_view
from web.ui.tests.browser import DemoCase

REQUESTED = {
    "goal": "bought",
    "free": ["plane.tilt_deg", "system.store.volume_l"],
    "low plane.tilt_deg": "20",
    "high plane.tilt_deg": "70",
    "low system.store.volume_l": "200",
    "high system.store.volume_l": "400",
    "most stagnation": "400",
    "screen": "weigh",
}


class Best(DesignPageCase):
    def require(self, status=302, **more):
        reply = self.client.post(self.url("weigh/best"), {**REQUESTED, **more})
        self.assertEqual(reply.status_code, status)
        return reply

    def searched(self, rounds=2):
        run = Run.objects.get(purpose="best", stopped=None)
        with self.rounds(rounds):
            while work_next():
                pass
        run.refresh_from_db()
        return run

    def rounds(self, count):
        from functools import partial
        from unittest.mock import patch

        from heat.studies.search import search

        return patch("web.jobs.search.search", partial(search, rounds=count))

    def test_the_search_betters_the_design_within_its_limits_and_opens_as_that_design(self):
        self.require()
        run = self.searched()
        self.assertTrue(progress(run).finished)
        self.assertTrue(run.best["ended"])
        self.assertEqual(run.size, sum(run.chunks.values_list("count", flat=True)))
        bought = run.best["figures"]["bought_kwh"]
        design_page = self.page()
        self.assertLess(bought, design_page.bought_kwh)
        self.assertLessEqual(run.best["figures"]["stagnation_h"], 400)
        self.assertTrue(20 <= run.best["values"]["plane.tilt_deg"] <= 70)
        years = np.concatenate([np.frombuffer(bytes(c.figures)).reshape(c.count, -1) for c in run.chunks.all()])
        allowed = years[years[:, 9] <= 400]
        self.assertEqual(bought, allowed[:, 2].min())
        page = best_view(self.page())
        self.assertIn(design_page.show(bought, "kWh", 0), page["conclusion"])
        self.assertEqual([m["name"] for m in page["moved"]], ["tilt from horizontal", "store, volume"])
        self.client.post(self.url("weigh/open-best"), {"run": run.pk, "screen": "weigh"})
        fresh = Design.objects.latest("pk")
        self.assertIn("→", fresh.note)
        self.assertAlmostEqual(figure(DesignPage(fresh, self.user).bought_text.strip("()")), bought, delta=0.6)

    def test_a_search_taken_up_again_reads_its_rounds_and_goes_on(self):
        self.require()
        run = self.searched(rounds=2)
        whole, chunks = run.best, list(run.chunks.values_list("figures", flat=True))
        Run.objects.filter(pk=run.pk).update(best=None, size=9999)
        run.chunks.filter(index__gt=0).delete()  # as a killed worker leaves it
        run = self.searched(rounds=2)
        self.assertEqual(run.best, whole)
        self.assertEqual([bytes(c) for c in run.chunks.values_list("figures", flat=True)], [bytes(c) for c in chunks])

    def test_a_stopped_search_keeps_its_best(self):
        self.require()
        run = Run.objects.get()
        run_best = {
            "values": {"plane.tilt_deg": 45.0, "system.store.volume_l": 320.0},
            "years": 8,
            "rested": False,
            "figures": self.searched(rounds=1).best["figures"],
            "ended": False,
        }
        Run.objects.filter(pk=run.pk).update(best=run_best, size=500)
        stop_run(run=Run.objects.get(), author=self.user)
        page = best_view(self.page())
        self.assertTrue(page["progress"].stopped)
        self.assertIn("so far", page["conclusion"])

    def test_impossible_limits_and_wrong_numbers_are_reported(self):
        self.require(**{"most stagnation": "", "least fraction": "100"})
        self.searched(rounds=1)
        self.assertIn("loosen one", best_view(self.page())["conclusion"])
        for more, words in (
            ({"low system.store.volume_l": "much"}, "not a number"),
            ({"high system.store.volume_l": "100"}, "above the lower"),
            ({"high plane.tilt_deg": "200"}, "Allowed: 0 to 90"),
            ({"most stagnation": "few"}, "not a number"),
            ({"free": []}, "Tick what may move"),
            ({"goal": "luck"}, "Name what"),
        ):
            with self.subTest(words=words):
                self.assertContains(self.require(422, **more), words, status_code=422)

    def test_another_number_comes_on_the_list(self):
        reply = self.require(200, another="system.loop.supply_pipe.insulation_mm", add="1")
        self.assertContains(reply, 'name="low system.loop.supply_pipe.insulation_mm"')
        self.assertEqual(Run.objects.count(), 0)


class Searching(DemoCase):
    def test_enter_begins_and_what_is_found_goes_on_while_it_runs(self):
        self.open_scheme()
        self.page.goto(self.page.url.rsplit("/", 1)[0] + "/weigh?view=best")
        self.page.fill("[name='most stagnation']", "400")
        self.page.press("[name='most stagnation']", "Enter")
        self.page.wait_for_selector(".run[hx-get]")
        run = Run.objects.get(purpose="best", stopped=None)
        paths = {free["path"]: free["now"] for free in run.question["free"]}
        figures = dict.fromkeys(KEYS, 1.0)
        for tilt, bought in ((41.0, 333.0), (43.0, 222.0)):
            values = paths | {"plane.tilt_deg": tilt}
            best = {"values": values, "figures": figures | {"bought_kwh": bought}, "years": 8, "rested": False}
            Run.objects.filter(pk=run.pk).update(best=best | {"ended": False})
            self.page.wait_for_selector(f"#best-head:has-text('{bought:.0f}')")
            self.page.wait_for_selector(f"#best-found:has-text('{tilt:g}')")
