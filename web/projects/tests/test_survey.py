"""The Demand and Site steps as pages: what each view says, lists and presets, both hemispheres, refusals in place."""

import numpy as np

from heat import accounts as acc
from heat.design.place import Plane, Site
from heat.ledger import SUN
from web.projects.cautions import cautions
from web.projects.demand_page import USES, demand_page
from web.projects.horizon import scale_of
from web.projects.horizon import sheet as sky_sheet
from web.projects.lists import PRESETS
from web.projects.site_page import chosen_plane, site_page
from web.projects.tests.test_pages import SheetCase, figure

HTMX = {"HX-Request": "true"}


class SurveyCase(SheetCase):
    def page(self, screen, view, chosen="", **values):
        sheet = self.sheet(**values)
        sheet.view, sheet.chosen = view, chosen
        return (demand_page if screen == "demand" else site_page)(sheet)

    def rows(self, **post):
        return self.client.post(self.url("rows"), {"screen": "site", **post}, headers=HTMX)

    def choose(self, name):
        return self.client.post(self.url("choose"), {"preset": name, "screen": "demand"}, headers=HTMX)


class CutFirst(SurveyCase):
    def test_fixtures_are_added_cut_and_taken_away(self):
        self.rows(path="demand.fixtures", preset="shower")
        self.rows(path="demand.fixtures", preset="kitchen tap")
        page = self.page("demand", "cut")
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

    def test_more_than_today_is_said(self):
        page = self.page("demand", "cut", demand__leaks_l_day="20", demand__before__leaks_l_day="0")
        self.assertFalse(page["saves"] or page["nothing"])

    def test_no_water_from_any_fixture_is_refused_in_its_place(self):
        self.rows(path="demand.fixtures", preset="shower")
        answer = self.edit("demand.fixtures.0.flow_after_l_min", "0", screen="demand", **{"from": "?view=cut"})
        self.assertEqual(answer.status_code, 422)
        self.assertEqual(self.document()["demand"]["fixtures"][0]["flow_after_l_min"], 7.5)

    def test_a_row_that_is_gone_is_said(self):
        answer = self.rows(path="demand.fixtures", index="7")
        self.assertContains(answer, "another tab took it away", status_code=422)
        self.assertEqual(self.rows(path="system.store", preset="x").status_code, 422)


class Uses(SurveyCase):
    def test_every_use_has_its_page(self):
        for switch in ("heating", "circulation", "pool", "showers", "process"):
            self.edit(f"demand.{switch}.fitted", "1", screen="demand")
        for key, (name, _, _, fields) in USES.items():
            with self.subTest(use=key):
                page = self.page("demand", "uses", key)
                self.assertEqual((page["use"]["key"], page["use"]["name"]), (key, name))
                self.assertTrue(1 <= len(page["use"]["pens"]) <= len(fields))
                self.assertEqual(self.client.get(self.url(f"demand?view=uses&use={key}")).status_code, 200)
        self.assertEqual(len(page["uses"]), 7)
        self.assertEqual(page["offers"], [])

    def test_the_last_use_cannot_be_taken_away(self):
        page = self.page("demand", "uses")
        self.assertFalse(page["uses"][0]["removable"])
        answer = self.edit("demand.hot_water", "0", screen="demand")
        self.assertContains(answer, "No use of heat is left", status_code=422)

    def test_bars_share_out_the_day(self):
        page = self.page("demand", "uses", "water", demand__hour_shape=" ".join(["1"] * 24))
        self.assertEqual({b["height"] for b in page["bars"]["bars"]}, {110.0})
        self.assertEqual({b["litres"] for b in page["bars"]["bars"]}, {"7.5"})

    def test_a_load_has_its_power_by_the_hour_in_the_readers_units(self):
        self.edit("demand.process.fitted", "1", screen="demand")
        self.user.units = "us"
        self.user.save()
        self.edit("demand.process.hourly_kw", " ".join(["10"] * 24), screen="demand")
        self.assertAlmostEqual(self.document()["demand"]["process"]["hourly_kw"][5], 2.931, places=3)
        page = self.page("demand", "uses", "load")
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
        self.assertIn("weekend_bars", self.page("demand", "uses", "water"))
        self.choose("pool by month")
        self.assertEqual(self.document()["demand"]["pool"]["set_by_month"], [27] * 12)
        for name in PRESETS:
            with self.subTest(preset=name):
                self.assertEqual(self.choose(name).status_code, 200)
        self.assertEqual(self.choose("sauna").status_code, 422)

    def test_last_years_fuel(self):
        page = self.page("demand", "uses", "rooms", demand__heating__fitted="1", demand__heating__source="fuel",
                         demand__heating__fuel="natural gas, m³", demand__heating__fuel_year="1500")  # fmt: skip
        self.assertIn("the building loses", page["says"])
        paths = [p.path for p in page["use"]["pens"]]
        self.assertIn("demand.heating.fuel_year", paths)
        self.assertNotIn("demand.heating.loss_w_k", paths)
        answer = self.edit("demand.heating.fuel_other", "1600", screen="demand")
        self.assertContains(answer, "Less than all of the fuel", status_code=422)

    def test_a_pool_without_exchanger_is_a_caution(self):
        self.assertTrue(any("pool has no exchanger" in c.text for c in cautions(self.sheet(demand__pool__fitted="1"))))

    def test_a_pattern_of_the_standard_rules_over_the_bars(self):
        page = self.page("demand", "uses", "water", demand__pattern="M")
        self.assertTrue(page["patterned"])


class TheYear(SurveyCase):
    def test_uses_are_stacked_and_ranked(self):
        page = self.page("demand", "year", demand__heating__fitted="1", demand__circulation__fitted="1")
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
        sheet = self.sheet()
        sheet.view = "year"
        page = demand_page(sheet)
        self.assertAlmostEqual(figure(page["need_year"]), sheet.year.book.total(acc.DEMAND), delta=1)

    def test_a_year_in_which_nothing_is_wanted_is_said(self):
        for month in range(12):
            self.edit(f"demand.month_factors.{month}", "0", screen="demand")
        for view in ("cut", "uses", "year"):
            page = self.client.get(self.url(f"demand?view={view}"))
            self.assertContains(page, "Nothing is wanted in this year yet")
            self.assertNotContains(page, "nan")

    def test_a_week_of_any_day(self):
        sheet = self.sheet()
        sheet.view, sheet.day = "year", 364
        self.assertEqual(demand_page(sheet)["week_of"], "25 Dec")


class Planes(SurveyCase):
    def test_the_first_plane_is_the_designs_own(self):
        self.sheet(plane__tilt_deg="33")
        self.rows(path="site.planes", preset="roof")
        self.rows(path="site.planes", preset="wall")
        document = self.document()
        self.assertEqual([(p["key"], p["tilt_deg"]) for p in document["site"]["planes"]], [("P1", 33), ("P2", 90)])
        self.assertEqual(document["plane"]["on"], "P1")
        page = self.page("site", "planes", "P2")
        self.assertEqual((page["chosen"].key, [r["here"] for r in page["rows"]]), ("P2", [True, False]))
        self.assertGreater(figure(page["rows"][1]["below"]), figure(page["rows"][0]["below"]))

    def test_a_design_stands_where_it_is_told_and_takes_the_pipe_along(self):
        self.rows(path="site.planes", preset="roof")
        self.rows(path="site.planes", preset="wall")
        self.edit("site.planes.1.pipe_m", "25", screen="site")
        self.edit("site.planes.1.pipe_runs", "buried", screen="site")
        self.choose("stand on P2")
        document = self.document()
        self.assertEqual((document["plane"]["on"], document["plane"]["tilt_deg"]), ("P2", 90))
        pipe = document["system"]["loop"]["supply_pipe"]
        self.assertEqual((pipe["length_m"], pipe["buried"], pipe["outdoors"]), (25, True, False))
        self.assertEqual(self.choose("stand on P9").status_code, 422)
        self.client.post(self.url("undo"), {"screen": "site"}, headers=HTMX)
        self.assertEqual(self.document()["plane"]["on"], "P1")

    def test_the_needle_and_the_true_bearing_differ_by_the_declination(self):
        page = self.page("site", "planes")
        shift = figure(page["declination"].split("°")[0]) * (1 if "east" in page["declination"] else -1)
        self.assertAlmostEqual(figure(page["compass_pen"].text), (180 - shift) % 360, delta=0.11)

    def test_the_best_way_to_face_and_what_it_costs_to_face_away(self):
        page = self.page("site", "planes")
        self.assertLess(figure(page["below_best"]), 2)
        page = self.page("site", "planes", plane__azimuth_deg="90", plane__tilt_deg="60")
        self.assertGreater(figure(page["below_best"]), 15)
        self.assertEqual((page["off"], page["off_side"]), ("90", "east"))

    def test_sun_of_the_months_is_the_accounts_sun(self):
        sheet = self.sheet()
        sheet.view = "planes"
        on_plane = sum(figure(m["plane"]) for m in site_page(sheet)["months"])
        area = sheet.year.book.design.system.collector.total_area_m2
        self.assertAlmostEqual(on_plane, sheet.year.book.total(*SUN) / area, delta=7)


class Horizon(SurveyCase):
    def test_a_typed_skyline_takes_its_share_of_the_sun(self):
        free = self.page("site", "horizon")
        self.assertTrue(free["is_clear"])
        self.assertEqual(figure(free["lost_year"]), 0.0)
        page = self.page("site", "horizon", site__skyline="bearing altitude\n90 25, 180 25, 270 25".replace(", ", "\n"))
        self.assertFalse(page["is_clear"])
        december, june = figure(page["months"][11]["share"]), figure(page["months"][5]["share"])
        self.assertGreater(december, 40)
        self.assertLess(june, 25)
        self.assertEqual(self.sheet().pen("site.skyline").text, "90 25, 180 25, 270 25")

    def test_a_skyline_that_cannot_be_read_keeps_what_was_typed(self):
        answer = self.client.post(self.url("edit"), {"path": "site.skyline", "value": "90 12, east 20", "screen": "site"},
                                  headers={**HTMX, "HX-Current-URL": "http://testserver/x?view=horizon"})  # fmt: skip
        self.assertContains(answer, "Point 2, “east 20”", status_code=422)
        self.assertContains(answer, "90 12, east 20</textarea>", status_code=422)
        high = self.edit("site.skyline", "90 95", screen="site")
        self.assertEqual(high.status_code, 422)

    def test_trees_and_obstacles_take_their_own_share(self):
        self.rows(path="site.trees")
        page = self.page("site", "horizon")
        self.assertGreater(float(page["months"][11]["tree_h"]), 0)
        self.assertEqual(float(page["months"][11]["sky_h"]), 0)
        self.rows(path="site.obstacles")
        page = self.page("site", "horizon", site__obstacles__0__distance_m="3")
        self.assertGreater(float(page["months"][0]["sky_h"]), 0)
        self.edit("site.obstacles.0.bearing_deg", "5", screen="site")
        self.assertEqual(self.page("site", "horizon")["behind_names"], ["house"])

    def test_a_preview_answers_without_keeping(self):
        answer = self.client.post(
            self.url("edit"), {"path": "site.skyline", "value": "180 30", "screen": "site", "preview": "1"},
            headers={**HTMX, "HX-Current-URL": "http://testserver/x?view=horizon"},
        )  # fmt: skip
        self.assertNotContains(answer, "<b data-lost>0.0 %</b>")
        self.assertEqual(self.document()["site"]["skyline"], [])

    def test_bearings_read_by_compass_are_turned(self):
        self.edit("site.skyline", "359 10, 180 8", screen="site")
        self.choose("skyline from compass")
        turned = [p["bearing_deg"] for p in self.document()["site"]["skyline"]]
        self.assertNotEqual(turned, [359, 180])
        self.assertAlmostEqual((turned[0] - turned[1]) % 360, 179, delta=0.01)

    def test_the_sheet_shows_the_sky_as_it_is(self):
        """46° N: the June sun at noon at 67.1°, sunrise 55.7° (cos A = sin d/cos L) on the left; paths start on the ground."""
        drawn = sky_sheet(Site(latitude_deg=46), Plane())
        scale = drawn["scale"]
        self.assertAlmostEqual(drawn["curves"][0]["y"], scale.y(67.45), delta=0.2)
        first = drawn["curves"][0]["d"][1:].split("L")[0].split(",")
        sunrise = np.degrees(np.arccos(np.sin(np.radians(23.45)) / np.cos(np.radians(46))))
        self.assertAlmostEqual(float(first[0]), scale.x(sunrise), delta=1.5)
        self.assertAlmostEqual(float(first[1]), scale.y(0), delta=1)
        self.assertEqual([h["hour"] for h in drawn["hour_lines"] if h["bold"]], [9, 15])

    def test_every_latitude_fits_its_sheet(self):
        for latitude in (-66, -33, -23.4, -5, 0, 12, 23.4, 47, 66):
            scale = scale_of(latitude)
            drawn = sky_sheet(Site(latitude_deg=latitude), Plane(tilt_deg=60, azimuth_deg=200))
            self.assertTrue(all(c["d"] for c in drawn["curves"][:1]) and scale.reach <= 180 and scale.top <= 90)
            self.assertEqual(drawn["toward"], "south" if latitude >= 0 else "north")


class South(SurveyCase):
    def test_all_words_and_pictures_turn_to_the_north(self):
        self.rows(path="site.planes", preset="roof")
        self.rows(path="site.trees")
        leaf = self.document()["site"]["trees"][0]["leaf_months"]
        self.edit("site.latitude_deg", "-33", screen="site")
        document = self.document()
        self.assertEqual(document["plane"]["azimuth_deg"], 0)
        self.assertEqual(document["site"]["trees"][0]["leaf_months"], leaf[6:] + leaf[:6])
        place = self.client.get(self.url("site?view=place"))
        self.assertContains(place, "southern hemisphere: the sun stands towards north (0°)")
        planes = self.client.get(self.url("site?view=planes"))
        self.assertContains(planes, "Straight north, at the equator.")
        horizon = self.client.get(self.url("site?view=horizon"))
        self.assertContains(horizon, "over the northern sky")
        self.assertContains(horizon, "21 Dec")
        sheet = self.sheet()
        sheet.view = "horizon"
        drawn = site_page(sheet)["sky"]
        self.assertEqual(drawn["scale"].centre, 0.0)
        top = min(drawn["curves"], key=lambda c: float(c["d"].split(",")[1].split("L")[0]) if c["d"] else 999)
        self.assertTrue(top["name"])
        highest = min(
            drawn["curves"], key=lambda c: min(float(p.split(",")[1]) for p in c["d"][1:].replace("M", "L").split("L"))
        )
        self.assertEqual(highest["name"], "21 Dec")
        wall = self.rows(path="site.planes", preset="wall")
        self.assertEqual(wall.status_code, 200)
        self.assertEqual(self.document()["site"]["planes"][1]["azimuth_deg"], 0)
        self.assertEqual(chosen_plane(sheet).plane.azimuth_deg, 0)

    def test_a_plane_that_faces_away_is_told(self):
        self.edit("site.latitude_deg", "-38", screen="site")
        self.edit("plane.azimuth_deg", "180", screen="site")
        self.assertContains(self.client.get(self.url("site?view=planes")), "This plane looks away from the equator")


class Place(SurveyCase):
    def test_a_click_on_the_outline_moves_site_height_and_clock(self):
        answer = self.client.post(
            self.url("place"), {"latitude": "46.5", "longitude": "8.4", "screen": "site"}, headers=HTMX
        )
        self.assertEqual(answer.status_code, 200)
        site = self.document()["site"]
        self.assertEqual((site["latitude_deg"], site["longitude_deg"]), (46.5, 8.4))
        self.assertTrue(1200 < site["elevation_m"] < 3000, site["elevation_m"])
        page = self.page("site", "place")
        self.assertTrue(page["apart"] and page["clock_differs"])
        self.client.post(self.url("undo"), {"screen": "site"}, headers=HTMX)
        self.assertEqual(self.document()["site"]["elevation_m"], 20)
        far = self.client.post(self.url("place"), {"latitude": "80", "longitude": "8", "screen": "site"}, headers=HTMX)
        self.assertContains(far, "Not done. Allowed:", status_code=422)
        for odd in ("x", "nan", "inf", ""):
            self.assertEqual(self.client.post(self.url("place"), {"latitude": odd, "longitude": "8"}).status_code, 404)

    def test_mains_pens_follow_their_source(self):
        self.assertEqual(self.page("site", "place")["mains_pens"], [])
        page = self.page("site", "place", site__mains__source="monthly")
        self.assertEqual([p.label for p in page["mains_pens"]][:2], ["Jan", "Feb"])
        answer = self.edit("site.mains.monthly_c.0", "5.5", screen="site")
        self.assertContains(answer, 'value="5.5"')
        answer = self.edit("site.mains.monthly_c.0", "90", screen="site")
        self.assertContains(answer, "Allowed: -2 to 35 °C", status_code=422)
        self.assertEqual(len(self.page("site", "place", site__mains__source="wave")["mains_pens"]), 3)
