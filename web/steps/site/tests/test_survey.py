"""The Site step as pages: what each view says, planes and trees, both hemispheres, refusals in place."""

import numpy as np

from heat.design.place import Plane, Site
from heat.ledger.year_book import SUN
from web.editor.tests.helpers import DesignPageCase, built, figure
from web.places.tests.samples import made_up_towns
from web.presentation.sky import scale_of, sun_path_chart
from web.projects.models import Project, WeatherFile
from web.projects.tests.helpers import HTMX
from web.steps.site.planes import chosen_plane


class SurveyCase(DesignPageCase):
    def rows(self, **post):
        return self.post("rows", screen="site", **post)

    def choose(self, name):
        return self.post("choose", preset=name, screen="demand")


class Planes(SurveyCase):
    def test_the_first_plane_is_the_designs_own(self):
        self.page(plane__tilt_deg="33")
        self.rows(path="site.planes", preset="roof")
        self.rows(path="site.planes", preset="wall")
        document = self.document()
        self.assertEqual([(p["key"], p["tilt_deg"]) for p in document["site"]["planes"]], [("P1", 33), ("P2", 90)])
        self.assertEqual(document["plane"]["on"], "P1")
        page = self.context_of("site", "planes", "plane=P2")
        self.assertEqual((page["chosen"].key, [r["here"] for r in page["rows"]]), ("P2", [True, False]))
        self.assertGreater(figure(page["rows"][1]["below"]), figure(page["rows"][0]["below"]))

    def test_a_design_is_where_it_is_reported_and_takes_the_pipe_along(self):
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
        page = self.context_of("site", "planes")
        shift = figure(page["declination"].split("°")[0]) * (1 if "east" in page["declination"] else -1)
        self.assertAlmostEqual(figure(page["compass_field"].text), (180 - shift) % 360, delta=0.11)

    def test_the_best_way_to_face_and_what_it_costs_to_face_away(self):
        page = self.context_of("site", "planes")
        self.assertLess(figure(page["below_best"]), 2)
        page = self.context_of("site", "planes", plane__azimuth_deg="90", plane__tilt_deg="60")
        self.assertGreater(figure(page["below_best"]), 15)
        self.assertEqual((page["off"], page["off_side"]), ("90", "east"))

    def test_sun_of_the_months_is_the_accounts_sun(self):
        page = self.page("view=planes")
        on_plane = sum(figure(m["plane"]) for m in built(page, "site")["months"])
        area = page.year.book.design.system.collector.total_area_m2
        self.assertAlmostEqual(on_plane, page.year.book.total(*SUN) / area, delta=7)


class Horizon(SurveyCase):
    def test_a_typed_skyline_takes_its_share_of_the_sun(self):
        free = self.context_of("site", "horizon")
        self.assertTrue(free["is_clear"])
        self.assertEqual(figure(free["lost_year"]), 0.0)
        page = self.context_of(
            "site", "horizon", site__skyline="bearing altitude\n90 25, 180 25, 270 25".replace(", ", "\n")
        )
        self.assertFalse(page["is_clear"])
        december, june = figure(page["months"][11]["share"]), figure(page["months"][5]["share"])
        self.assertGreater(december, 40)
        self.assertLess(june, 25)
        self.assertEqual(self.page().field("site.skyline").text, "90 25, 180 25, 270 25")

    def test_a_skyline_that_cannot_be_read_keeps_what_was_typed(self):
        answer = self.client.post(
            self.url("edit"),
            {"path": "site.skyline", "value": "90 12, east 20", "screen": "site"},
            headers={**HTMX, "HX-Current-URL": "http://testserver/x?view=horizon"},
        )
        self.assertContains(answer, "Point 2, “east 20”", status_code=422)
        self.assertContains(answer, "90 12, east 20</textarea>", status_code=422)
        high = self.edit("site.skyline", "90 95", screen="site")
        self.assertEqual(high.status_code, 422)

    def test_trees_and_obstacles_take_their_own_share(self):
        self.rows(path="site.trees")
        page = self.context_of("site", "horizon")
        self.assertGreater(float(page["months"][11]["tree_h"]), 0)
        self.assertEqual(float(page["months"][11]["sky_h"]), 0)
        self.rows(path="site.obstacles")
        page = self.context_of("site", "horizon", site__obstacles__0__distance_m="3")
        self.assertGreater(float(page["months"][0]["sky_h"]), 0)
        self.edit("site.obstacles.0.bearing_deg", "5", screen="site")
        self.assertEqual(self.context_of("site", "horizon")["behind_names"], ["house"])

    def test_a_preview_answers_without_storing(self):
        answer = self.client.post(
            self.url("edit"),
            {"path": "site.skyline", "value": "180 30", "screen": "site", "preview": "1"},
            headers={**HTMX, "HX-Current-URL": "http://testserver/x?view=horizon"},
        )
        self.assertNotContains(answer, "<b data-lost>0.0 %</b>")
        self.assertEqual(self.document()["site"]["skyline"], [])

    def test_bearings_read_by_compass_are_turned(self):
        self.edit("site.skyline", "359 10, 180 8", screen="site")
        self.choose("skyline from compass")
        turned = [p["bearing_deg"] for p in self.document()["site"]["skyline"]]
        self.assertNotEqual(turned, [359, 180])
        self.assertAlmostEqual((turned[0] - turned[1]) % 360, 179, delta=0.01)

    def test_the_page_shows_the_sky_as_it_is(self):
        """46° N: the June sun at noon at 67.1°, sunrise 55.7° (cos A = sin d/cos L) on the left; paths start on the
        ground."""
        drawn = sun_path_chart(Site(latitude_deg=46), Plane())
        scale = drawn["scale"]
        self.assertAlmostEqual(drawn["curves"][0]["y"], scale.y(67.45), delta=0.2)
        first = drawn["curves"][0]["d"][1:].split("L")[0].split(",")
        sunrise = np.degrees(np.arccos(np.sin(np.radians(23.45)) / np.cos(np.radians(46))))
        self.assertAlmostEqual(float(first[0]), scale.x(sunrise), delta=1.5)
        self.assertAlmostEqual(float(first[1]), scale.y(0), delta=1)
        self.assertEqual([h["hour"] for h in drawn["hour_lines"] if h["bold"]], [9, 15])

    def test_every_latitude_fits_its_page(self):
        for latitude in (-66, -33, -23.4, -5, 0, 12, 23.4, 47, 66):
            scale = scale_of(latitude)
            drawn = sun_path_chart(Site(latitude_deg=latitude), Plane(tilt_deg=60, azimuth_deg=200))
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
        page = self.page("view=horizon")
        drawn = built(page, "site")["sky"]
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
        self.assertEqual(chosen_plane(page).plane.azimuth_deg, 0)

    def test_a_plane_that_faces_away_is_reported(self):
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
        page = self.context_of("site", "place")
        self.assertFalse(page["apart"] or page["clock_differs"])  # the rough climate of the place came along
        self.assertEqual(Project.objects.get().weather.kind, "rough")
        self.client.post(self.url("undo"), {"screen": "site"}, headers=HTMX)
        self.assertEqual(self.document()["site"]["elevation_m"], 20)
        self.assertTrue(Project.objects.get().weather.made_up)
        far = self.client.post(self.url("place"), {"latitude": "80", "longitude": "8", "screen": "site"}, headers=HTMX)
        self.assertContains(far, "lies beyond 66°", status_code=422)
        for odd in ("x", "nan", "inf", ""):
            self.assertEqual(self.client.post(self.url("place"), {"latitude": odd, "longitude": "8"}).status_code, 404)

    def test_a_town_by_name_brings_its_rough_climate_and_undo_takes_all_back(self):
        made_up_towns()
        before = Project.objects.get()
        answer = self.client.post(self.url("place"), {"place": "askerby", "screen": "site"}, headers=HTMX)
        self.assertContains(answer, "Askerby, Upper Merrow")
        project = Project.objects.get()
        self.assertEqual((project.weather.kind, project.place), ("rough", "Askerby, Upper Merrow, Merrow"))
        self.assertEqual(project.weather.about["latitude_deg"], 51.3)
        self.client.post(self.url("undo"), {"screen": "site"}, headers=HTMX)
        project = Project.objects.get()
        self.assertEqual((project.weather_id, project.place), (before.weather_id, before.place))

    def test_a_town_that_is_unclear_is_requested_about_and_nothing_lost(self):
        made_up_towns()
        for text, words in (
            ("tarn head", "2 places are called"),
            ("Askreby", "Is it one of these?"),
            ("Zzqqx", "No town is called"),
            ("89 N 10 E", "beyond 66°"),
            ("", "No town"),
        ):
            answer = self.client.post(self.url("place"), {"place": text, "screen": "site"}, headers=HTMX)
            self.assertContains(answer, words, status_code=422)
            self.assertContains(answer, f'value="{text}"', status_code=422)
        self.assertEqual(self.document()["site"]["elevation_m"], 20)

    def test_a_place_at_sea_and_one_across_the_date_line(self):
        for text, words in (("0 N, 30 W", "does it lie at sea?"), ("-17.0, 180", "Rough climate"), ("-17, -180", "")):
            self.client.post(self.url("place"), {"place": text, "screen": "site"}, headers=HTMX)
            self.assertContains(self.client.get(self.url("site?view=place")), words)
            self.assertEqual(self.client.get(self.url("scheme")).status_code, 200)

    def test_a_rough_climate_follows_coordinates_typed_one_by_one_and_a_file_stays(self):
        made_up_towns()
        self.client.post(self.url("place"), {"place": "askerby", "screen": "site"}, headers=HTMX)
        self.edit("site.latitude_deg", "45 N", screen="site")
        self.assertEqual(Project.objects.get().weather.about["latitude_deg"], 45)
        self.assertEqual(len(self.context_of("site", "weather")["files"]), 2)  # rough ones left behind are not listed
        WeatherFile.objects.filter(pk=Project.objects.get().weather_id).update(kind="EPW")
        self.edit("site.latitude_deg", "44 N", screen="site")
        self.client.post(self.url("place"), {"place": "askerby", "screen": "site"}, headers=HTMX)
        self.assertEqual(Project.objects.get().weather.kind, "EPW")

    def test_mains_fields_follow_their_source(self):
        self.assertEqual(self.context_of("site", "place")["mains_fields"], [])
        page = self.context_of("site", "place", site__mains__source="monthly")
        self.assertEqual([p.label for p in page["mains_fields"]][:2], ["Jan", "Feb"])
        answer = self.edit("site.mains.monthly_c.0", "5.5", screen="site")
        self.assertContains(answer, 'value="5.5"')
        answer = self.edit("site.mains.monthly_c.0", "90", screen="site")
        self.assertContains(answer, "Allowed: -2 to 35 °C", status_code=422)
        self.assertEqual(len(self.context_of("site", "place", site__mains__source="wave")["mains_fields"]), 3)
