"""Choices: every combination once, what decides, limits, refusals in the table, and a row as a design."""

import csv
import io
from unittest.mock import patch

import numpy as np

from heat.design.changing import varied
from heat.studies.effects import effects
from heat.studies.outcome import KEYS, evaluate_design
from heat.studies.question import design_of, question_of
from web.accounts.models import User
from web.editor.design_page import DesignPage
from web.editor.tests.helpers import DesignPageCase, figure
from web.editor.view_state import parse
from web.jobs import services
from web.jobs.models import Run
from web.jobs.purposes import placed_document
from web.jobs.services import answer, simulate_chunk
from web.projects.documents import placed
from web.projects.models import Design
from web.projects.services.edits import change_values
from web.projects.tests.helpers import HTMX
from web.simulations.cache import simulate_uncached
from web.simulations.weather import weather_year
from web.steps.weigh.choices import choices_view, question_in
from web.steps.weigh.questions import known
from web.ui.tests.browser import DemoCase


class Choices(DesignPageCase):
    def require(self, *keys, status=302, **more):
        with patch.object(services, "AT_ONCE", 10_000):
            reply = self.client.post(self.url("weigh/choices"), {"ask": keys, "screen": "weigh", **more})
        self.assertEqual(reply.status_code, status)
        return reply

    def view(self, requested=""):
        return choices_view(self.page(f"view=choices&{requested}"))

    def test_what_decides_is_what_the_years_state(self):
        self.require("tilt", "store", "way")
        page, run = self.view(), Run.objects.get()
        question, levels = question_in(run)
        years = answer(run)
        self.assertEqual(run.size, int(np.prod(question.counts)))
        decided = effects(levels, question.counts, 100 * years["fraction"])
        shares = {q.name: found.share for q, found in zip(question.questions, decided.questions, strict=True)}
        self.assertEqual([d["name"] for d in page["deciding"]], sorted(shares, key=lambda n: -shares[n]))
        top = page["deciding"][0]
        rows = [i for i, row in enumerate(levels) if question.questions[1].answers[row[1]].name == "300 L"]
        store = next(d for d in page["deciding"] if d["name"] == "Store volume")
        mean = next(a for a in store["answers"] if a["name"] == "300 L")["mean"]
        self.assertAlmostEqual(figure(mean), 100 * years["fraction"][rows].mean(), delta=0.06)
        self.assertIn(top["name"] + " decides most", page["conclusion"])

    def test_the_best_is_the_least_bought_and_opens_as_that_design(self):
        self.require("collector", "tilt", "hours")
        page = self.view("of=bought")
        bought = [figure(row["cells"][1]) for row in page["rows"]]
        self.assertEqual(bought, sorted(bought))
        first, run = page["rows"][0], Run.objects.get()
        self.client.post(self.url("weigh/open"), {"run": run.pk, "row": first["index"], "screen": "weigh"})
        fresh = Design.objects.latest("pk")
        design_page = DesignPage(fresh, self.user)
        self.assertEqual(fresh.letter, "B")
        self.assertAlmostEqual(figure(design_page.bought_text.strip("()")), bought[0], delta=0.6)
        self.assertIn(first["names"][0][:20], fresh.name)
        self.client.post(f"/projects/{self.project.pk}/B/undo", {"screen": "scheme"}, headers=HTMX)  # the survey's edit

    def test_limits_leave_out_and_wrong_ones_are_reported(self):
        self.require("tilt", "number")
        every = self.view()
        few = self.view("least.fraction=75")
        self.assertTrue(0 < few["good"] < every["good"])
        self.assertTrue(all(figure(row["cells"][0]) >= 75 for row in few["rows"]))
        self.assertIn("No combination keeps", self.view("most.bought=0&least.fraction=99")["conclusion"])
        odd = self.client.get(self.url("weigh?view=choices&least.fraction=much&by=beauty&of=odd"))
        self.assertContains(odd, "“much” is not a number")

    def test_refused_combinations_are_in_the_table_with_their_reason(self):
        self.edit("system.loop.glycol_percent", "40")
        with patch("web.steps.weigh.choices.known") as offers:
            ways = [{"name": "coil", "kind": "pumped_coil"}, {"name": "drainback", "kind": "drainback"}]
            fluids = [{"name": f"{p} %", "set": {"system.loop.glycol_percent": p}} for p in (0, 40)]
            offers.return_value = {"way": ("Way", ways), "fluid": ("Fluid", fluids)}
            self.require("way", "fluid")
            page = self.view()
        self.assertEqual(page["refused"], 1)
        self.assertIn("holds plain water", page["why_refused"][0])
        text = self.client.get(self.url("weigh/choices.csv")).content.decode()
        rows = list(csv.DictReader(io.StringIO(text)))
        self.assertEqual(len(rows), 4)
        self.assertEqual([bool(r["refused"]) for r in rows].count(True), 1)

    def test_too_many_none_and_a_sample(self):
        self.assertContains(self.require(status=422), "Tick at least one", status_code=422)
        with patch("web.steps.weigh.choices.MOST_COMBINATIONS", 20):
            self.assertContains(
                self.require("tilt", "store", "number", status=422), "untick one or two", status_code=422
            )
        with patch("web.steps.weigh.choices.MOST", 12):
            self.require("tilt", "store", "number")
        page = self.view()
        self.assertEqual((page["size"], page["whole"]), (12, False))

    def test_names_follow_the_reader_and_the_question_stays_one(self):
        self.require("store", "hours")
        self.user.units = "us"
        self.user.save()
        self.require("store", "hours")
        self.assertEqual(Run.objects.count(), 1)
        page = choices_view(DesignPage(self.fresh(), User.objects.get(pk=self.user.pk), parse((("view", "choices"),))))
        store = next(d for d in page["deciding"] if d["name"] == "Store volume")
        self.assertEqual([a["name"] for a in store["answers"]][1], "79 gal")
        self.assertIn("gal", page["conclusion"])
        self.assertIn("gal", page["rows"][0]["names"][0])

    def test_any_number_is_requested_about_with_typed_answers(self):
        path = "system.loop.flow_kg_h"
        self.require("store", own=[path, ""], answers=["90; 180; 260", ""])
        page = self.view()
        self.assertEqual(page["size"], 3 * len(known(self.page())["store"][1]))
        flow = next(d for d in page["deciding"] if d["name"] == "Loop, flow")
        self.assertEqual([a["name"] for a in flow["answers"]], ["90 kg/h", "180 kg/h", "260 kg/h"])
        self.assertEqual(page["own"][0], [path, "90; 180; 260"])  # stands in the form to be changed
        for texts, words in ((["many; few"], "not a number"), (["90"], "two to 8 answers"), ([""], "two to 8 answers")):
            self.assertContains(self.require(own=[path], answers=texts, status=422), words, status_code=422)
        self.assertContains(
            self.require(own=["site.name"], answers=["1;2"], status=422), "Choose a number", status_code=422
        )

    def test_a_surveyed_plane_brings_its_own_tilt_and_is_alone(self):
        street = {"key": "P1", "name": "street side", "kind": "roof", "tilt_deg": 25.0, "azimuth_deg": 150.0}
        planes = [street, {**street, "key": "P2", "name": "yard", "tilt_deg": 55.0, "azimuth_deg": 240.0}]
        change_values(design=self.fresh(), author=self.user, changes={"site.planes": planes})
        self.require("plane")
        run, page = Run.objects.get(), self.page()
        there = placed(varied(page.document, {"plane.on": "P2"}))
        self.assertEqual(there["plane"]["tilt_deg"], 55.0)
        fraction = simulate_uncached(there, page.weather).fractions.at_tap
        self.assertAlmostEqual(answer(run)["fraction"][1], fraction, places=12)
        self.assertContains(self.require("plane", "tilt", status=422), "either the plane", status_code=422)

    def test_another_weather_year_is_another_year(self):
        mine = self.fresh().project.weather.checksum
        self.client.post(self.url("weather/use"), {"climate": "tarn_sound"})
        self.require("weather", "number")
        run = Run.objects.get()
        question, levels = question_in(run)
        at = [a.weather for a in question.questions[-1].answers].index(mine)
        row = next(i for i, row in enumerate(levels) if row[-1] == at)
        other = next(i for i, row in enumerate(levels) if row[-1] != at)
        own = simulate_uncached(design_of(run.document, question, levels[row]), self.project_year(mine))
        self.assertAlmostEqual(answer(run)["fraction"][row], own.fractions.at_tap, places=12)
        self.assertNotAlmostEqual(answer(run)["fraction"][row], answer(run)["fraction"][other], places=3)

    def project_year(self, checksum):
        return weather_year(self.project.weather_files.get(checksum=checksum))

    def test_what_size_buys_is_the_front_of_the_years(self):
        self.require("number", "tilt")
        page, years = self.view(), answer(Run.objects.get())
        rows = [row for _x, _y, row in page["front"]["best"]]
        area, bought = years["area_m2"], years["bought_kwh"]
        for row in rows:
            self.assertFalse(np.any((area <= area[row]) & (bought < bought[row] - 1e-9)))
        self.assertEqual(int(np.argmin(bought)), rows[-1])
        self.require("tilt", "hours")
        self.assertEqual(self.view()["front"], {})  # neither collectors nor store differ

    def test_money_is_reported_at_the_prices_that_now_are_without_another_year(self):
        self.require("number", "store")
        page, run = self.view("by=first&of=life"), Run.objects.get()
        costs = [figure(row["cells"][3]) for row in page["rows"]]
        self.assertEqual(costs, sorted(costs))
        self.assertEqual(page["front"]["title"].split(",")[0], "First cost")
        self.client.post(self.url("money/price"), {"item": "fitter", "value": "158", "screen": "money"}, headers=HTMX)
        with patch("heat.studies.outcome.simulate") as year, patch("web.simulations.cache.simulate") as other:
            dearer = self.view("by=first&of=life")
            self.assertEqual((year.call_count, other.call_count), (0, 0))
        self.assertTrue(dearer["fits"])
        self.assertGreater(figure(dearer["rows"][0]["cells"][3]), costs[0] + 900)
        question, levels = question_in(run)
        row = dearer["rows"][0]
        document = design_of(run.document, question, levels[row["index"]], placed_document)
        document = {**document, "offer": {**document["offer"], "prices": {"fitter": 158.0}}}
        figures = dict(zip(KEYS, evaluate_design(document, weather_year(run.weather))[0], strict=True))
        self.assertAlmostEqual(figure(row["cells"][3]), figures["first_cost"], delta=0.51)
        self.assertAlmostEqual(figure(row["cells"][4]), figures["life_cycle_cost"], delta=0.51)
        within = self.view(f"most.first={figure(row['cells'][3]) + 1:.0f}")
        self.assertLess(within["good"], run.size)
        self.edit("money.tariff", "6 0.4, 22 0.1")
        self.assertFalse(self.view()["fits"])  # hours are priced when they are calculated

    def test_every_answer_it_knows_can_be_simulated(self):
        for kind in ("pumped_coil", "combi"):
            self.client.post(self.url("choose"), {"preset": f"kind {kind}", "screen": "scheme"}, headers=HTMX)
            page = self.page()
            offers = known(page)
            self.assertTrue({"pipes", "start", "mirror", "litres"} <= set(offers), (kind, set(offers)))
            for key, (words, answers) in offers.items():
                requested = question_of({"questions": [{"name": words, "answers": answers}]})
                for k in range(len(answers)):
                    with self.subTest(kind=kind, key=key, answer=answers[k]["name"]):
                        evaluate_design(design_of(page.document, requested, [k], placed_document), page.weather)

    def test_every_kind_has_questions_to_request_and_odd_rows_are_reported(self):
        for kind in ("batch_tank", "pool_direct", "thermosiphon_sealed", "combi"):
            self.client.post(self.url("choose"), {"preset": f"kind {kind}", "screen": "scheme"}, headers=HTMX)
            self.assertTrue({"number", "tilt"} <= set(known(self.page())), kind)
            self.assertEqual(self.client.get(self.url("weigh?view=choices")).status_code, 200)
        self.require("tilt")
        run = Run.objects.get()
        for row in ("99", "x", ""):
            reply = self.client.post(self.url("weigh/open"), {"run": run.pk, "row": row, "screen": "weigh"})
            self.assertIn(reply.status_code, (302, 422))
        self.assertEqual(self.client.post(self.url("weigh/open"), {"run": "0", "row": "0"}).status_code, 404)


class ChoicesInTheBrowser(DemoCase):
    def test_request_filter_and_open_a_row(self):
        self.open_scheme()
        self.page.goto(self.page.url.split("/scheme")[0] + "/weigh?view=choices")
        self.page.wait_for_selector(".ask-choices")
        self.accessible()
        ticked = self.page.locator(".ask-choices input[type=checkbox]:checked")
        while ticked.count():
            ticked.first.uncheck()
        for key in ("tilt", "store", "number"):
            self.page.check(f"input[name=ask][value={key}]")
        with patch.object(services, "AT_ONCE", 1):
            self.page.click("text=Run the comparison")
            self.page.wait_for_selector(".run")
        run = Run.objects.get()
        for index in run.chunks.values_list("index", flat=True):
            simulate_chunk(run.pk, index)
        self.page.wait_for_selector(".deciding")
        self.accessible()
        stored = "() => document.querySelector('[aria-label=\"The best\"] .head .label').textContent"
        before = self.page.evaluate(stored)
        self.page.fill("#limit-fraction", "85")
        self.page.press("#limit-fraction", "Tab")
        self.page.wait_for_function(f"before => ({stored})() !== before", arg=before)
        promised = self.page.inner_text(".rows tbody tr:first-child td:nth-child(4)")
        self.page.click(".rows tbody tr:first-child button")
        self.page.wait_for_selector("svg.scheme")
        self.assertEqual(self.figure().split()[0], promised)
