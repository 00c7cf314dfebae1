"""Cautions on the page: each with what helps, ticked off and back when its number moves; parts sized beside it."""

import re

from heat.design import parse
from heat.sizing.vessel import expansion_vessel
from heat.sizing.wind import wind_load
from web.editor.tests.helpers import DesignPageCase, figure
from web.presentation.acknowledged import answered
from web.presentation.cautions import cautions
from web.presentation.loads import load_view
from web.presentation.sized import loop_view, pressure_view
from web.projects.tests.helpers import HTMX
from web.steps.cautions.hygiene import hygiene_view
from web.steps.cautions.listing import list_view
from web.ui.tests.browser import DemoCase


class CautionCase(DesignPageCase):
    def do(self, action, status=200, **values):
        reply = self.client.post(self.url(f"cautions/{action}"), {"screen": "cautions", **values}, headers=HTMX)
        self.assertEqual(reply.status_code, status, reply.content[:300])
        return reply

    def found(self):
        return {caution.key: caution for caution in cautions(self.page())}

    def open(self):
        return {one.caution.key for one in answered(self.page()) if one.open}


class Listing(CautionCase):
    def test_each_has_a_number_a_reason_a_rule_and_a_place(self):
        self.edit("system.tempering_valve", "0")
        self.edit("safety.vessel_l", "8")
        self.edit("exposure.wind_m_s", "60")
        found = self.found()
        self.assertTrue({"scald", "legionella", "vessel", "fixings", "one wall"} <= set(found), set(found))
        for caution in found.values():
            with self.subTest(caution=caution.key):
                self.assertTrue(caution.proof and caution.text and caution.name)
                self.assertTrue(caution.why or caution.key.startswith("consider"))
                if caution.at:
                    self.assertEqual(self.client.get(self.url(caution.at)).status_code, 200, caution.at)
        gravities = [caution.gravity for caution in cautions(self.page())]
        self.assertEqual(gravities, sorted(gravities))
        self.assertIn("can hurt someone", list_view(self.page())["conclusion"])

    def test_what_was_found_well_is_beside_and_goes_when_it_is_a_caution(self):
        names = lambda state: {row["name"] for row in list_view(self.page())[state]}
        self.assertTrue({"Scald", "Frost"} <= names("well"))
        self.assertEqual(names("unseen"), {"Wind", "Snow", "Weight", "Dead leg", "Vessel"})
        for path, value in (("exposure.wind_m_s", "22"), ("safety.branch_m", "6"), ("safety.vessel_l", "25")):
            self.edit(path, value)
        self.assertEqual(names("unseen"), {"Snow", "Weight"})
        self.assertTrue({"Wind", "Dead leg", "Vessel"} <= names("well"))
        self.assertContains(self.client.get(self.url("cautions")), "the snow on the ground by the local code")
        self.edit("system.tempering_valve", "0")
        self.assertNotIn("Scald", {row["name"] for row in list_view(self.page())["well"]})

    def test_ticked_off_taken_back_and_back_again_when_its_number_moves(self):
        self.assertIn("legionella", self.open())
        self.assertContains(self.do("answer", 422, caution="legionella", name=" "), "Who answers", status_code=422)
        page = self.do("answer", caution="legionella", name="Ada Holm", remark="<b>weekly</b> by hand")
        self.assertContains(page, "Ada Holm")
        self.assertContains(page, "&lt;b&gt;weekly")
        self.assertNotIn("legionella", self.open())
        self.assertContains(self.client.get(self.url("scheme")), f"{len(self.open())} open caution")
        self.do("answer", caution="legionella", name="Ada Holm", stands="0")
        self.assertIn("legionella", self.open())
        self.do("answer", caution="legionella", name="Ada Holm")
        self.edit("system.store.volume_l", "150")
        self.assertIn("legionella", self.open())
        self.assertContains(self.client.get(self.url("cautions")), "the number behind it has changed")
        self.assertEqual(len(self.fresh().answers["legionella"]), 3)  # a log: nothing is changed
        self.assertContains(self.do("answer", 422, caution="gold", name="x"), "not there any more", status_code=422)

    def test_a_copy_answers_for_itself_and_a_stranger_for_nothing(self):
        self.do("answer", caution="legionella", name="Ada Holm")
        self.client.post(self.url("designs"), {"do": "copy", "screen": "scheme"}, headers=HTMX)
        copy = self.project.designs.get(letter="B")
        self.assertEqual(copy.answers, {})

    def test_remedies_are_one_edit_that_undo_takes_back(self):
        self.edit("system.tempering_valve", "0")
        self.assertIn("scald", self.found())
        self.do("remedy", caution="scald", n="0")
        self.assertNotIn("scald", self.found())
        self.client.post(self.url("undo"), {"screen": "cautions"}, headers=HTMX)
        self.assertIn("scald", self.found())
        for n in ("7", "x", "-1", ""):
            self.do("remedy", 422, caution="scald", n=n)

    def test_every_remedy_of_every_kind_can_be_done_and_helps(self):
        for kind in ("pumped_coil", "direct", "batch_tank", "thermosiphon_open", "pool_direct", "drainback", "combi"):
            self.client.post(self.url("choose"), {"preset": f"kind {kind}", "screen": "scheme"}, headers=HTMX)
            self.edit("exposure.wind_m_s", "55")
            for key, caution in self.found().items():
                for n in range(len(caution.remedies)):
                    with self.subTest(kind=kind, caution=key, n=n):
                        cost = self.client.get(self.url(f"cautions/cost?caution={key}&n={n}"))
                        self.assertEqual(cost.status_code, 200)
                        self.assertNotContains(cost, "cannot be done")
                        self.do("remedy", caution=key, n=str(n))
                        after = self.found()
                        self.assertTrue(key not in after or after[key].proof != caution.proof, after.get(key))
                        self.client.post(self.url("undo"), {"screen": "cautions"}, headers=HTMX)

    def test_what_a_remedy_costs_the_year(self):
        text = self.client.get(self.url("cautions/cost?caution=legionella&n=0")).content.decode()
        self.assertRegex(text, r"\d kWh (more|less) bought, .* points, heated through \d+ times of \d+; this caution")
        self.assertEqual(self.fresh().document()["system"]["backup"]["pasteurisation"]["fitted"], False)
        self.edit("safety.vessel_l", "8")
        self.assertContains(self.client.get(self.url("cautions/cost?caution=vessel&n=0")), "the year stays as it is")


class Sizing(CautionCase):
    def test_the_pages_show_what_the_core_states(self):
        design = parse(self.fresh().document())
        rows = {row["words"]: row["value"] for g in pressure_view(self.page())["groups"] for row in g["rows"]}
        self.assertAlmostEqual(
            figure(rows["vessel, at least"].split()[0]), expansion_vessel(design).least_l, delta=0.06
        )
        rows = {row["words"]: row["value"] for g in load_view(self.page())["groups"] for row in g["rows"]}
        self.assertAlmostEqual(
            figure(rows["pull on each fixing"].split()[0]), wind_load(design).per_fixing_kg, delta=0.6
        )
        year = self.page().year
        self.edit("safety.relief_bar", "3")
        self.edit("exposure.wind_m_s", "40")
        self.assertIs(self.page().year, year)  # no year depends on them
        self.assertNotEqual(wind_load(parse(self.fresh().document())).force_kn, wind_load(design).force_kn)

    def test_the_pumps_curve_is_drawn_with_the_loops(self):
        self.assertEqual(loop_view(self.page())["picture"]["pump"], "")
        self.edit("system.loop.drive.curve", "0 4, 600 3, 1200 1")
        page = loop_view(self.page())
        self.assertTrue(page["picture"]["pump"])
        self.assertEqual(len([size for size in page["sizes"] if size["best"]]), 1)
        self.assertEqual(sum(size["now"] for size in page["sizes"]), 1)

    def test_what_sizes_do_to_the_year(self):
        text = self.client.get(self.url("cautions/sizes")).content.decode()
        self.assertIn("pipes of 22 mm", text)
        self.assertNotIn("pipes of 18 mm", text)  # drawn
        before = self.page().bought_kwh
        rows = dict(re.findall(r'scope="row">\s*([^<]*?)\s*</th>\s*<td\s+class="num">([^<]*)</td>', text))
        self.edit("system.coil.ua_w_k", "700")
        self.assertAlmostEqual(figure(rows["twice the exchanger"]), self.page().bought_kwh - before, delta=0.6)
        self.choose_batch()
        self.assertEqual(self.client.get(self.url("cautions/sizes")).status_code, 200)

    def choose_batch(self):
        self.client.post(self.url("choose"), {"preset": "kind batch_tank", "screen": "scheme"}, headers=HTMX)

    def test_guidelines_are_years_with_their_money(self):
        page = hygiene_view(self.page())
        drawn, daily, weekly, coil = page["guidelines"]
        self.assertEqual(figure(drawn["bought"]), figure(self.page().bought_text.strip("()")))
        self.assertGreater(daily["kwh"], weekly["kwh"])
        self.assertEqual(coil["cold"], "none stored")
        self.assertRegex(daily["reached"], "^36[3-5] of 365$")
        self.assertIn("daily", page["conclusion"])

    def test_clearances_are_typed_and_become_cautions(self):
        self.client.post(
            self.url("rows"), {"path": "exposure.clearances", "preset": "flue", "screen": "cautions"}, headers=HTMX
        )
        self.edit("exposure.clearances.0.limit_m", "2")
        self.assertTrue(any("was not measured" in c.text for c in self.found().values()))
        self.edit("exposure.clearances.0.measured_m", "1.5")
        self.assertTrue(any("measures 1.50 m" in c.text for c in self.found().values()))
        self.edit("exposure.clearances.0.measured_m", "2.5")
        self.assertFalse(any(c.name == "Clearance" for c in self.found().values()))

    def test_every_view_of_every_kind_in_both_units(self):
        for kind in (
            "pumped_plate",
            "batch_tank",
            "thermosiphon_sealed",
            "thermosiphon_open",
            "pool_direct",
            "bag",
            "drainback",
            "seasonal_preheat",
        ):
            self.client.post(self.url("choose"), {"preset": f"kind {kind}", "screen": "scheme"}, headers=HTMX)
            for system in ("si", "us"):
                self.user.units = system
                self.user.save()
                for view in ("list", "loop", "pressure", "load", "hygiene"):
                    with self.subTest(kind=kind, view=view, units=system):
                        self.assertEqual(self.client.get(self.url(f"cautions?view={view}")).status_code, 200)

    def test_wrong_numbers_are_reported_where_they_are(self):
        self.assertContains(self.edit("safety.relief_bar", "0"), "Allowed: 1 to 20 bar", status_code=422)
        self.assertContains(self.edit("exposure.wind_m_s", "fast"), "not a number", status_code=422)


class CautionsInTheBrowser(DemoCase):
    def test_a_remedy_at_one_touch_ticked_off_and_open_again(self):
        self.open_scheme()
        self.page.keyboard.press("7")
        self.page.wait_for_selector(".caution")
        self.accessible()
        self.page.wait_for_function(
            "() => [...document.querySelectorAll('.helps .label')].every(e => !e.innerText.includes('calculated …'))"
        )
        before = self.page.locator(".caution").count()
        wall = "#caution-one-wall"
        self.updated(lambda: self.page.click(f"{wall} .remedy"))
        self.assertEqual(self.page.locator(wall).count(), 0)
        self.page.keyboard.press("Control+z")
        self.page.wait_for_selector(wall)
        self.assertEqual(self.page.locator(".caution").count(), before)
        self.page.fill(f"{wall} [name=remark]", "two walls on order")
        self.page.click(f"{wall} .button")
        self.page.wait_for_selector(f"{wall} .ticked")
        self.assertIn("two walls on order", self.page.inner_text(wall))
        self.page.click(f"{wall} .ticked .link")
        self.page.wait_for_selector(f"{wall} .button")
        for view in ("loop", "pressure", "load", "hygiene"):
            self.page.goto(self.page.url.split("?")[0] + f"?view={view}")
            self.page.wait_for_selector(".goes-by")
            self.accessible()
