"""The Demand step as pages: what each view says, lists and sets of values, refusals in place."""

from heat.ledger import accounts as acc
from web.editor.tests.helpers import DesignPageCase, built, figure
from web.presentation.cautions import cautions
from web.steps.demand.lists import CHOICES
from web.steps.demand.uses import USES


class SurveyCase(DesignPageCase):
    def rows(self, **post):
        return self.post("rows", screen="site", **post)

    def choose(self, name):
        return self.post("choose", preset=name, screen="demand")


class CutFirst(SurveyCase):
    def test_fixtures_are_added_cut_and_taken_away(self):
        self.rows(path="demand.fixtures", preset="shower")
        self.rows(path="demand.fixtures", preset="kitchen tap")
        page = self.context_of("demand", "cut")
        self.assertEqual((page["counted"], len(page["fixtures"])), ("fixtures", 2))
        self.assertEqual(figure(page["fixtures"][0]["before"]), 4 * 12 * 5)
        self.assertEqual(figure(page["fixtures"][0]["after"]), 4 * 7.5 * 5)
        self.assertTrue(page["saves"])
        self.assertGreater(figure(page["fraction_after"]), figure(page["fraction_before"]))
        by_name = {line["name"]: line for line in page["lines"]}
        heat = by_name["Heat of hot water, a year"]
        self.assertAlmostEqual(figure(heat["before"]) - figure(heat["after"]), figure(page["saved"]), delta=2)
        self.rows(path="demand.fixtures", index="1")
        self.rows(path="demand.fixtures", index="0")
        self.assertEqual(self.document()["demand"]["counted"], "person")

    def test_more_than_today_is_stated(self):
        page = self.context_of("demand", "cut", demand__leaks_l_day="20", demand__before__leaks_l_day="0")
        self.assertFalse(page["saves"] or page["nothing"])

    def test_no_water_from_any_fixture_is_refused_in_its_place(self):
        self.rows(path="demand.fixtures", preset="shower")
        answer = self.edit("demand.fixtures.0.flow_after_l_min", "0", screen="demand", view="view=cut")
        self.assertEqual(answer.status_code, 422)
        self.assertEqual(self.document()["demand"]["fixtures"][0]["flow_after_l_min"], 7.5)

    def test_a_row_that_is_gone_is_stated(self):
        answer = self.rows(path="demand.fixtures", index="7")
        self.assertContains(answer, "another tab took it away", status_code=422)
        self.assertEqual(self.rows(path="system.store", preset="x").status_code, 422)


class Uses(SurveyCase):
    def test_every_use_has_its_page(self):
        for switch in ("heating", "fresh_air", "circulation", "pool", "showers", "process"):
            self.edit(f"demand.{switch}.fitted", "1", screen="demand")
        for key, (name, _, _, fields) in USES.items():
            with self.subTest(use=key):
                page = self.context_of("demand", "uses", f"use={key}")
                self.assertEqual((page["use"]["key"], page["use"]["name"]), (key, name))
                self.assertTrue(1 <= len(page["use"]["fields"]) <= len(fields))
                self.assertEqual(self.client.get(self.url(f"demand?view=uses&use={key}")).status_code, 200)
        self.assertEqual(len(page["uses"]), 8)
        self.assertEqual(page["offers"], [])

    def test_the_last_use_cannot_be_taken_away(self):
        page = self.context_of("demand", "uses")
        self.assertFalse(page["uses"][0]["removable"])
        answer = self.edit("demand.hot_water", "0", screen="demand")
        self.assertContains(answer, "No use of heat is left", status_code=422)

    def test_bars_share_out_the_day(self):
        page = self.context_of("demand", "uses", "use=water", demand__hour_shape=" ".join(["1"] * 24))
        self.assertEqual({b["height"] for b in page["bars"]["bars"]}, {110.0})
        self.assertEqual({b["litres"] for b in page["bars"]["bars"]}, {"7.5"})

    def test_a_load_has_its_power_by_the_hour_in_the_readers_units(self):
        self.edit("demand.process.fitted", "1", screen="demand")
        self.user.units = "us"
        self.user.save()
        self.edit("demand.process.hourly_kw", " ".join(["10"] * 24), screen="demand")
        self.assertAlmostEqual(self.document()["demand"]["process"]["hourly_kw"][5], 2.931, places=3)
        page = self.context_of("demand", "uses", "use=load")
        self.assertEqual(page["bars"]["bars"][5]["weight"], "10")
        self.assertContains(
            self.edit("demand.process.hourly_kw", "1 2", screen="demand"), "24, 168 or 8760", status_code=422
        )

    def test_presets_set_what_they_name(self):
        self.edit("demand.heating.fitted", "1", screen="demand")
        self.choose("floor")
        heating = self.document()["demand"]["heating"]
        self.assertEqual((heating["supply_c"], heating["return_c"]), (35, 28))
        self.choose("weekend of its own")
        self.assertEqual(self.document()["demand"]["weekend_shape"], self.document()["demand"]["hour_shape"])
        self.assertIn("weekend_bars", self.context_of("demand", "uses", "use=water"))
        self.choose("pool by month")
        self.assertEqual(self.document()["demand"]["pool"]["set_by_month"], [27] * 12)
        for name in CHOICES:
            with self.subTest(preset=name):
                self.assertEqual(self.choose(name).status_code, 200)
        self.assertEqual(self.choose("sauna").status_code, 422)

    def test_last_years_fuel(self):
        page = self.context_of(
            "demand",
            "uses",
            "use=rooms",
            demand__heating__fitted="1",
            demand__heating__source="fuel",
            demand__heating__fuel="natural gas, m³",
            demand__heating__fuel_year="1500",
        )
        self.assertIn("the building loses", page["says"])
        paths = [p.path for p in page["use"]["fields"]]
        self.assertIn("demand.heating.fuel_year", paths)
        self.assertNotIn("demand.heating.loss_w_k", paths)
        answer = self.edit("demand.heating.fuel_other", "1600", screen="demand")
        self.assertContains(answer, "Less than all of the fuel", status_code=422)

    def test_a_pool_without_exchanger_is_a_caution(self):
        self.assertTrue(any("pool has no exchanger" in c.text for c in cautions(self.page(demand__pool__fitted="1"))))

    def test_a_pattern_of_the_standard_rules_over_the_bars(self):
        page = self.context_of("demand", "uses", "use=water", demand__pattern="M")
        self.assertTrue(page["patterned"])


class TheYear(SurveyCase):
    def test_uses_are_stacked_and_ranked(self):
        page = self.context_of("demand", "year", demand__heating__fitted="1", demand__circulation__fitted="1")
        carried = [figure(r["carried"]) for r in page["ranking"]]
        self.assertEqual(carried, sorted(carried, reverse=True))
        self.assertEqual([r["use"] for r in page["ranking"]], ["hot water", "circulation", "rooms"])
        self.assertIn("dark months", page["ranking"][-1]["reason"])
        for column in page["columns"]:
            self.assertEqual(len(column["parts"]), 3)
            self.assertAlmostEqual(sum(p["h"] for p in column["parts"]), 166 - column["parts"][-1]["y"], delta=0.3)
        self.assertAlmostEqual(sum(figure(c["need"]) for c in page["columns"]), figure(page["need_year"]), delta=7)
        self.assertEqual(len(page["areas"]), 3)

    def test_wanted_is_the_years_demand(self):
        design_page = self.page("view=year")
        page = built(design_page, "demand")
        self.assertAlmostEqual(figure(page["need_year"]), design_page.year.book.total(acc.DEMAND), delta=1)

    def test_a_year_in_which_nothing_is_wanted_is_stated(self):
        for month in range(12):
            self.edit(f"demand.month_factors.{month}", "0", screen="demand")
        for view in ("cut", "uses", "year"):
            page = self.client.get(self.url(f"demand?view={view}"))
            self.assertContains(page, "Nothing is wanted in this year yet")
            self.assertNotRegex(page.content.decode(), r"(?<![\w-])nan(?![\w-])")  # keys of forms may hold its letters

    def test_a_week_of_any_day(self):
        self.assertEqual(self.context_of("demand", "year", "day=364")["week_of"], "25 Dec")
