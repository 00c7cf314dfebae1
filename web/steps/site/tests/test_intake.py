"""What comes in: weather of every kind, twelve means, measured loads, and everything that is wrong with them."""

import json
from datetime import datetime, timedelta

import numpy as np
from django.core.files.uploadedfile import SimpleUploadedFile

from heat.tests.samples import raw
from heat.weather.readers import read_weather
from heat.weather.year import monthly_sums
from web.projects.models import Upload
from web.projects.tests.helpers import DeskCase
from web.simulations.rough import sun_uncertainty_text
from web.simulations.weather import weather_year

HTMX = {"HX-Request": "true"}
SUN = ("1.25", "2.1", "3,3", "4.6", "5.6", "6.1", "5.9", "5.0", "3.8", "2.4", "1.45", "1.05")
AIR = ("6.2", "6.4", "7.9", "9.8", "12.7", "15.6", "17.6", "17.8", "16.0", "12.9", "9.4", "7.1")


def table(separator=";", decimal=",", stamp="%d.%m.%Y %H:%M", sun=None):
    """A made-up hourly table as a spreadsheet exports it."""
    start = datetime(2023, 1, 1)
    lines = [separator.join(("Time", "Global", "Temperature"))]
    for hour in range(8760):
        height = max(0.0, np.sin((hour % 24 - 6) / 12 * np.pi)) * (
            260 + 200 * np.cos((hour / 24 - 172) / 365 * 2 * np.pi)
        )
        cells = [
            f"{start + timedelta(hours=hour):{stamp}}",
            f"{height if sun is None else sun:.1f}",
            f"{9 + hour % 5:.1f}",
        ]
        lines.append(separator.join([cells[0], *(c.replace(".", decimal) for c in cells[1:])]))
    return "\n".join(lines)


class WeatherCase(DeskCase):
    def upload(self, name, data, where="weather", follow=True):
        return self.client.post(self.url(where), {"file": SimpleUploadedFile(name, data)}, follow=follow)

    def use(self, **post):
        return self.client.post(self.url("weather/use"), post, follow=True)

    def file(self, **which):
        return self.project.weather_files.get(**which)


class Weather(WeatherCase):
    def test_a_year_is_looked_at_before_it_is_used(self):
        page = self.upload("year.csv", raw("pvgis_tmy_45N_8E.csv"))
        self.assertContains(page, "Not in use yet")
        self.assertContains(page, "Stamps are UTC; moved by +1 h")
        self.assertNotContains(page, 'name="take_place" value="1"\n            checked')  # the project has a place
        self.assertRegex(page.content.decode(), r"1.\d{3} km from Merrow coast")
        self.project.refresh_from_db()
        self.assertTrue(self.project.weather.made_up)
        self.use(use=self.file(kind="PVGIS").pk, take_place="1")
        self.project.refresh_from_db()
        self.assertEqual((self.project.weather.kind, self.document()["site"]["latitude_deg"]), ("PVGIS", 45.0))
        self.client.post(self.url("undo"), {"screen": "site"}, headers=HTMX)
        self.project.refresh_from_db()
        self.assertTrue(self.project.weather.made_up)
        self.assertEqual(self.document()["site"]["latitude_deg"], 46.4)

    def test_three_formats_of_one_year_agree_within_a_percent(self):
        sums = {}
        for suffix in ("csv", "json", "epw"):
            self.upload(f"year.{suffix}", raw(f"pvgis_tmy_45N_8E.{suffix}"))
            sums[suffix] = monthly_sums(weather_year(self.project.weather_files.last()).ghi_w_m2)
        np.testing.assert_allclose(sums["json"], sums["csv"], rtol=0.01)
        np.testing.assert_allclose(sums["epw"], sums["csv"], rtol=0.01)

    def test_utc_stamps_are_offered_a_shift(self):
        page = self.upload("year.epw", raw("pvgis_tmy_45N_8E.epw"))
        self.assertContains(page, "the stamps may be UTC")
        self.assertContains(page, "Move its clock by 1 h")
        page = self.client.post(self.url("weather/shift"), {"file": self.file(kind="EPW").pk}, follow=True)
        self.assertNotContains(page, "may be UTC")
        self.assertContains(page, "moved +1 h")
        self.assertContains(page, "Not in use yet")

    def test_refusals_keep_the_year_before(self):
        pvgis = raw("pvgis_tmy_45N_8E.csv").split(b"\n")
        first = next(i for i, line in enumerate(pvgis) if line.startswith(b"time(UTC)")) + 1
        february = pvgis[first + 744 : first + 1416]
        twice = pvgis[: first + 1416] + february + pvgis[first + 1416 :]
        for name, data, words in (
            ("shopping.csv", b"bread,milk\n1,2\n", "not a weather file we know"),
            ("photo.epw", b"\x89PNG\x00\x00\x00", "binary file"),
            ("photo.epw", b"\x89PNG\r\n\x1a\n" + bytes(range(1, 255)) * 40, "photo.epw"),
            ("nothing.csv", b"", "the file is empty"),
            ("gap.csv", b"\n".join(pvgis[:4000]), "may have been cut off"),
            ("twice.csv", b"\n".join(twice), "line"),
        ):
            with self.subTest(name=name, words=words):
                page = self.upload(name, data)
                self.assertContains(page, words, status_code=422)
                self.assertContains(page, "The year before still stands", status_code=422)
        self.project.refresh_from_db()
        self.assertTrue(self.project.weather.made_up)

    def test_no_file_and_too_large_a_file(self):
        self.assertContains(self.client.post(self.url("weather")), "required", status_code=422)
        page = self.upload("big.epw", b"x" * 20_000_000)
        self.assertContains(page, "20 MB is too large", status_code=422)
        page = self.upload("huge.epw", b"x" * 50_000_000)
        self.assertContains(page, "larger than 24 MB, the most that is taken at once", status_code=413)

    def test_stored_years_can_be_swapped_and_no_one_elses(self):
        first = self.project.weather_id
        self.upload("year.csv", raw("pvgis_tmy_45N_8E.csv"))
        self.use(use=self.file(kind="PVGIS").pk)
        self.use(use=first)
        self.project.refresh_from_db()
        self.assertEqual(self.project.weather_id, first)
        self.assertEqual(self.use(use=999999).status_code, 404)
        for odd in ("999999", "²", "9" * 40, "-1"):
            self.assertEqual(
                self.client.get(self.url(f"site?view=weather&look={odd}&upload={odd}")).status_code, 200, odd
            )
            self.assertEqual(self.use(use=odd).status_code, 404, odd)

    def test_the_rough_climate_of_the_place_is_marked_wherever_a_figure_rests_on_it(self):
        self.edit("site.latitude_deg", "44", screen="site")
        self.edit("site.longitude_deg", "4.5", screen="site")
        place = self.client.get(self.url("site?view=place"))
        self.assertContains(place, "take the rough climate of this place")
        self.assertContains(self.client.get(self.url("scheme")), "Made-up climate")
        page = self.use(rough="1")
        file = self.fresh().project.weather
        self.assertEqual((file.kind, file.made_up), ("rough", False))
        self.assertEqual(weather_year(file).utc_offset_h, 1.0)
        off = sun_uncertainty_text(self.fresh().project.weather)
        self.assertContains(page, f"its sun {off}")
        self.assertContains(page, f"a rough climate, its sun {off}")
        scheme = self.client.get(self.url("scheme"))
        self.assertContains(scheme, "Rough climate")
        self.assertNotContains(scheme, "Made-up climate")
        self.assertRegex(scheme.content.decode(), r"\d+ to \d+, rough")
        why = self.client.get(self.url("scheme?view=accounts"))
        self.assertContains(why, "of sun in its months")
        self.upload("pvgis.epw", raw("pvgis_tmy_45N_8E.epw"))
        measured = self.fresh().project.weather_files.exclude(kind="rough").latest("pk")
        self.use(use=str(measured.pk), take_place="1")
        scheme = self.client.get(self.url("scheme"))
        for mark in ("Rough climate", ", rough", off):
            self.assertNotContains(scheme, mark)
            self.assertNotContains(self.client.get(self.url("scheme?view=accounts")), mark)

    def test_made_up_climates(self):
        page = self.use(climate="tarn_sound", take_place="1")
        self.assertContains(page, "Tarn Sound")
        document = self.document()
        self.assertEqual((document["site"]["latitude_deg"], document["plane"]["azimuth_deg"]), (-33.2, 0))
        self.assertEqual(self.use(climate="elsewhere").status_code, 404)

    def test_a_stored_year_goes_out_and_comes_back(self):
        file = self.project.weather
        epw = self.client.get(self.url(f"weather/{file.pk}.epw"))
        self.assertIn("merrow-coast", epw["Content-Disposition"])
        again = read_weather("again.epw", epw.content)
        np.testing.assert_allclose(monthly_sums(again.ghi_w_m2), monthly_sums(weather_year(file).ghi_w_m2), rtol=1e-3)
        lines = self.client.get(self.url(f"weather/{file.pk}.csv")).content.decode().splitlines()
        self.assertEqual(len(lines), 8763)
        self.assertEqual(self.client.get(self.url(f"weather/{file.pk}.exe")).status_code, 404)


class Tables(WeatherCase):
    def columns(self, upload, **change):
        columns = {f"column-{k}": v for k, v in upload.layout["columns"].items()}
        layout = {k: v for k, v in upload.layout.items() if k != "columns"}
        return self.client.post(self.url(f"weather/table/{upload.pk}"), {**layout, **columns, **change}, follow=True)

    def test_a_spreadsheet_of_weather_in_latin_1(self):
        text = table().replace("Temperature", "Temperatur (°C)")
        page = self.upload("sheet.csv", text.encode("latin-1"))
        self.assertContains(page, "What the columns hold")
        upload = Upload.objects.get()
        self.assertEqual(upload.layout["decimal"], ",")
        self.assertEqual(upload.layout["columns"], {"1": "ghi W/m2", "2": "air degC"})
        page = self.columns(upload, do="use")
        self.assertContains(page, "Not in use yet")
        level = weather_year(self.project.weather_files.last()).ghi_w_m2.sum() / 1000
        by_hand = sum(float(line.split(";")[1].replace(",", ".")) for line in text.splitlines()[1:]) / 1000
        self.assertAlmostEqual(level, by_hand, delta=0.001 * by_hand)

    def test_columns_that_are_not_reported_are_requested_for(self):
        self.upload("sheet.csv", table().encode())
        upload = Upload.objects.get()
        page = self.columns(upload, do="use", **{"column-1": ""})
        self.assertContains(page, "no column holds the sun", status_code=422)
        page = self.columns(upload, do="use", utc_offset_h="noon")
        self.assertContains(page, "does not fit the table", status_code=422)
        page = self.columns(upload, do="use", utc_offset_h="nan")
        self.assertContains(page, "does not fit the table", status_code=422)
        page = self.columns(upload, do="use", stamp_format="%Y")
        self.assertContains(page, "stamp cannot be read", status_code=422)


class Means(WeatherCase):
    def form(self, **change):
        values = {f"sun.{m}": SUN[m] for m in range(12)} | {f"air.{m}": AIR[m] for m in range(12)}
        return {"title": "Skerry light, twelve means", "unit": "day"} | values | change

    def test_twelve_means_become_a_year_with_its_spread(self):
        page = self.client.post(self.url("weather/means"), self.form(), follow=True)
        self.assertContains(page, "Not in use yet")
        file = self.project.weather_files.last()
        self.assertEqual((file.kind, file.made_up, file.name), ("synthetic", False, "Skerry light, twelve means"))
        days = (
            monthly_sums(weather_year(file).ghi_w_m2)
            / 1000
            / np.array([31, 28, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31])
        )
        np.testing.assert_allclose(days, [float(s.replace(",", ".")) for s in SUN], rtol=1e-3)
        self.assertContains(self.client.get(self.url("weather/spread")), "±")
        self.use(use=file.pk)
        self.project.refresh_from_db()
        self.assertEqual(self.project.weather_id, file.pk)

    def test_what_is_half_typed_is_stored(self):
        self.assertEqual(self.client.post(self.url("weather/draft"), {"sun.3": "4.4", "evil": "x"}).status_code, 204)
        self.assertContains(self.client.get(self.url("site?view=weather")), 'name="sun.3" value="4.4"')
        self.project.refresh_from_db()
        self.assertEqual(self.project.drafts, {"means": {"sun.3": "4.4"}})
        self.client.post(self.url("weather/draft"), {"sun.3": "9" * 5000})
        self.project.refresh_from_db()
        self.assertEqual(self.project.drafts, {"means": {"sun.3": "4.4"}})

    def test_wrong_means_are_reported_by_month_and_column(self):
        for change, words in (
            ({"sun.4": ""}, "column Sun on level ground: May has no value"),
            ({"air.7": "warm"}, "column Air: “warm” is not a number (Aug)."),
            ({"sun.0": "40"}, "40 in Jan is outside 0.05 to 12"),
            ({"sun.0": "1,250", "sun.1": "2.100"}, "“1,250” can be read as 1.25 or as 1250"),
            ({"sun.11": "6.5"}, "the sun of Dec is more or less than this latitude can have"),
            ({"humidity.2": "70"}, "column Humidity: Jan has no value"),
        ):
            with self.subTest(words=words):
                page = self.client.post(self.url("weather/means"), self.form(**change))
                self.assertContains(page, words, status_code=422)
                self.assertContains(page, 'value="3,3"', status_code=422)
                self.assertContains(page, 'id="means-problem"', status_code=422)
                self.assertNotContains(page, 'id="weather-problem"', status_code=422)

    def test_other_units(self):
        monthly = {f"sun.{m}": str(round(float(SUN[m].replace(",", ".")) * 30.4, 1)) for m in range(12)}
        page = self.client.post(self.url("weather/means"), self.form(unit="month", **monthly), follow=True)
        self.assertContains(page, "Not in use yet")

    def test_json_of_means_still_reads(self):
        means = {
            "kind": "monthly means",
            "name": "x",
            "latitude_deg": 46,
            "longitude_deg": -11,
            "elevation_m": 5,
            "utc_offset_h": -1,
            "ghi_kwh_m2_day": [float(s.replace(",", ".")) for s in SUN],
            "air_c": [10] * 12,
        }
        self.assertContains(self.upload("means.json", json.dumps(means).encode()), "Not in use yet")
        means["ghi_kwh_m2_day"][0] = 11
        self.assertContains(self.upload("means.json", json.dumps(means).encode()), "cannot be used", status_code=422)
