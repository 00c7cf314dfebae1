"""Inside the year: the carpet of any quantity, what to jump to, a day that closes, hours that add up."""

import csv
import io
import json
import tempfile
import zipfile
from urllib.parse import urlencode

import numpy as np
from django.core.management import call_command
from fastparquet import ParquetFile

from heat.design import parse
from heat.ledger import accounts as acc
from heat.ledger.events import events
from heat.ledger.year_book import BOUGHT, CARRIED, DELIVERED, SUN
from heat.simulation.year import simulate
from web.editor.design_page import DesignPage
from web.editor.tests.helpers import DesignPageCase, figure, observed
from web.presentation.moment import moment
from web.projects.models import Project
from web.simulations.weather import weather_year
from web.steps.year.days import Window, chosen_traces, days_picture, window
from web.steps.year.finding import EVENT_KINDS, first_sunny_day, jumps, longest_run
from web.steps.year.hours import carpet, day_account, hours_view
from web.steps.year.quantities import QUANTITIES, accounts, at_tap_c, every, quantities
from web.steps.year.shapes import shape_view
from web.ui.png import RED_TINTS, banded


class Inside(DesignPageCase):
    def hours(self, **query):
        return hours_view(self.page(urlencode(query)))

    def test_every_quantity_of_every_kind_of_system(self):
        call_command("load_demo")
        met = set()
        for project in Project.objects.select_related("weather").exclude(pk=self.project.pk):
            for design in project.designs.all():
                design.project = project
                design_page = DesignPage(design, project.owner)
                for key in quantities(design_page):
                    page = hours_view(observed(design_page, f"q={key}&day=20"))
                    self.assertTrue(page["carpet"].startswith("data:image/png"))
                    met.add(key)
                self.assertTrue(all(0 <= j["day"] < 365 and 0 <= j["hour"] < 24 for j in page["jumps"]))
                for key in accounts(design_page):
                    self.assertEqual(carpet(observed(design_page, f"q={key}"), moment(design_page))["key"], key)
        two = quantities(self.page(system__second_store__fitted="1"))
        self.assertEqual(met | set(two), set(QUANTITIES))

    def test_the_day_received_what_it_spent_and_is_the_sum_of_its_hours(self):
        page = self.page()
        book = page.year.book
        for day in (0, 100, 200, 364):
            account = day_account(page, book, moment(observed(page, f"day={day}")))
            self.assertEqual(account["in"], account["out"])
            self.assertLess(float(account["residual"]), 1e-9)
            received = {line["words"]: figure(line["text"].strip("()")) for line in account["received"]}
            hours = slice(24 * day, 24 * day + 24)
            self.assertAlmostEqual(received["Sun received"], book.hourly(*SUN)[hours].sum() / 1000, delta=0.006)
            self.assertAlmostEqual(received["Bought"], book.hourly(*BOUGHT)[hours].sum() / 1000, delta=0.006)

    def test_odd_addresses_show_a_page(self):
        for tail in ("q=gold", "day=-4&hour=99", "day=400", "day=²", "q=pool", "hour=x", "day=&q="):
            self.assertContains(self.client.get(self.url(f"year?{tail}")), "The year, hour by hour")
        self.assertEqual(self.hours(q="gold")["key"], "top")

    def test_the_table_of_hours_adds_up_to_the_account(self):
        book = self.page().year.book
        rows = list(csv.DictReader(io.StringIO(self.client.get(self.url("hours.csv")).content.decode())))
        self.assertEqual(len(rows), 8760)
        for name, column in (
            ("demand", acc.DEMAND),
            ("into_store", acc.INTO_STORE),
            ("bought_tankless", acc.BOUGHT_TANKLESS),
        ):
            self.assertAlmostEqual(sum(float(r[f"{name}_wh"]) for r in rows) / 1000, book.total(column), delta=1e-6)

    def test_extremes_are_what_they_state(self):
        page = self.page()
        found = {j["words"]: j for j in hours_view(page)["jumps"]}
        busiest = page.year.book.hourly(*BOUGHT).reshape(365, 24).sum(axis=1).argmax()
        self.assertEqual(found["most bought"]["day"], busiest)
        self.assertFalse(any("stagnation" in words for words in found))
        many = self.page(system__collector__count="8")
        self.assertTrue(any("stagnation" in j["words"] for j in hours_view(many)["jumps"]))
        self.assertGreater(len(jumps(many.year.book, weather_year(many.project.weather))), 4)

    def test_runs_and_weeks(self):
        self.assertEqual(longest_run(np.array([0, 1, 1, 0, 1, 1, 1], dtype=bool)), (4, 3))
        self.assertEqual(longest_run(np.zeros(5, dtype=bool)), (0, 0))
        sun = np.full(365, 10.0)
        self.assertIsNone(first_sunny_day(sun))
        sun[::2], sun[100:107], sun[107] = 20.0, 1.0, 30.0
        self.assertEqual(first_sunny_day(sun), 107)

    def test_colours_run_from_low_to_high(self):
        self.assertNotEqual(banded(np.zeros((2, 3)), 0, 1, RED_TINTS), banded(np.ones((2, 3)), 0, 1, RED_TINTS))
        self.assertEqual(banded(np.full((1, 1), 9.0), 0, 1, RED_TINTS), banded(np.full((1, 1), 1.0), 0, 1, RED_TINTS))

    def test_the_bundle_reads_back_and_sums_to_the_account(self):
        answer = self.client.get(self.url("year.zip"))
        book = self.page().year.book
        with zipfile.ZipFile(io.BytesIO(answer.content)) as archive:
            self.assertEqual(
                set(archive.namelist()),
                {
                    "hours.csv",
                    "hours.parquet",
                    "columns.csv",
                    "design.json",
                    "about.json",
                    "figures.csv",
                    "accounts.csv",
                },
            )
            text = {r["figure"]: r for r in csv.DictReader(io.StringIO(archive.read("figures.csv").decode()))}
            with tempfile.TemporaryDirectory() as folder:
                table = ParquetFile(archive.extract("hours.parquet", folder)).to_pandas()
            again = simulate(parse(json.loads(archive.read("design.json"))), weather_year(self.project.weather))
            about = json.loads(archive.read("about.json"))
            units = dict(line.split(",") for line in archive.read("columns.csv").decode().splitlines())
        self.assertAlmostEqual(table["demand_wh"].sum() / 1000, book.total(acc.DEMAND), delta=1e-6)
        self.assertAlmostEqual(again.total(*BOUGHT), book.total(*BOUGHT), delta=1e-9)
        self.assertEqual(about["weather"]["checksum_sha256"], weather_year(self.project.weather).checksum())
        self.assertAlmostEqual(float(text["bought_kwh"]["value"]), book.total(*BOUGHT))
        self.assertEqual(
            [
                text[name]["unit"]
                for name in ("bought_kwh", "fraction_at_use", "pump_h", "store_hottest_c", "yield_kwh_m2_gross")
            ],
            ["kWh", "1", "h", "degC", "kWh/m2"],
        )
        self.assertEqual((units["demand_wh"], units["layer_1_c"], units["pump_share"]), ("Wh", "degC", "1"))

    def test_frames_for_playing_are_the_hours(self):
        book = self.page().year.book
        frames = self.client.get(self.url("play?day=100")).json()
        self.assertEqual((frames["first"], len(frames["layers"])), (2400, 14 * 24 + 1))
        self.assertAlmostEqual(frames["layers"][5][-1], book.profile[2405, -1], delta=0.01)
        self.assertEqual(len(self.client.get(self.url("play?day=364")).json()["layers"]), 24)
        self.assertEqual(self.client.get(self.url("play?day=x")).json()["first"], 0)

    def test_us_units(self):
        self.user.units = "us"
        self.user.save()
        page = self.client.get(self.url("year?q=sun"))
        self.assertContains(page, "Btu/h ft²")


class Days(DesignPageCase):
    def days(self, query=""):
        return self.client.get(self.url(f"year?{query}")).context["y"]["day"]

    def test_a_window_holds_the_chosen_hour_and_stays_where_it_can(self):
        self.assertEqual(window(100, 24, None), Window(96, 24))
        self.assertEqual(window(100, 6, None), Window(97, 6))
        self.assertEqual(window(100, 72, 60), Window(60, 72))
        self.assertEqual(window(100, 24, 120), Window(96, 24))  # a day before: back to its own morning
        self.assertEqual(window(130, 72, 48), Window(72, 72))  # a day after: its day is the last
        self.assertEqual(window(5000, 72, 48), Window(4992, 72))  # far away: from its own morning
        for now in (0, 8759):
            for count in (0, 6, 24, 336, 9999):
                for start in (None, 0, 8759):
                    win = window(now, count, start)
                    self.assertTrue(0 <= win.first <= now < win.first + win.count <= 8760, (now, count, start, win))
                    self.assertTrue(6 <= win.count <= 336)

    def test_a_fortnight_at_the_end_of_the_year(self):
        for hours in (6, 24, 72, 168, 336):
            d = self.days(f"span={hours}&day=364&hour=23")
            self.assertEqual(d["first"], 8760 - hours)
            self.assertAlmostEqual(d["cursor"] + d["step"], d["right"], delta=0.02)

    def test_values_under_the_pointer_are_the_years(self):
        d = self.days("day=195&span=48&t=top,into_store,bought,delivered,gold")
        self.assertEqual(d["keys"], ["top", "into_store", "bought", "delivered"])
        payload, book = json.loads(d["values"]), self.page().year.book
        hours = slice(24 * 195, 24 * 197)
        self.assertEqual({len(v) for v in payload.values()}, {48})
        for n in (0, 13, 47):
            self.assertAlmostEqual(figure(payload["top"][n]), book.profile[hours][n, -1], delta=0.06)
            self.assertAlmostEqual(
                figure(payload["into_store"][n]), book.hourly(acc.INTO_STORE)[hours][n] / 1000, delta=0.006
            )
        self.assertTrue(all(label.startswith("(") for label in payload["bought"]))
        self.assertEqual(payload["delivered"][3], "–")  # nothing drawn at three in the morning

    def test_the_table_twin_states_what_the_picture_states(self):
        self.assertIsNone(self.days("day=195")["table"])
        d = self.days("day=195&span=48&table=1&t=top,sun")
        payload = json.loads(d["values"])
        self.assertEqual(
            [tuple(text for text, _red in line["cells"]) for line in d["table"]["lines"]],
            list(zip(payload["top"], payload["sun"], strict=True)),
        )
        self.assertEqual((d["table"]["lines"][-1]["date"], d["table"]["lines"][-1]["hour"]), ("16 Jul", 23))

    def test_no_more_traces_than_fit_and_never_none(self):
        has = list(every(self.page()))
        page = self.page()
        lines = [item.line for item in chosen_traces(observed(page, "t=" + ",".join(has))).values()]
        self.assertEqual((sum(lines), len(lines) - sum(lines)), (6, 6))
        for none in ("", "gold", ",,,", "x" * 500):
            self.assertIn("top", chosen_traces(observed(page, f"t={none}")))

    def test_what_happened_is_marked(self):
        page = self.page(
            system__collector__count="8",
            system__backup__element__fitted="1",
            system__backup__pasteurisation__fitted="1",
        )
        book, weather = page.year.book, weather_year(page.project.weather)
        lanes = set()
        for day in range(0, 365, 14):
            here = observed(page, f"span=336&day={day}")
            for lane in days_picture(here, book, weather, moment(here), events(book))["lanes"]:
                lanes.add(lane["key"])
                self.assertTrue(all(r["x"] > 33 and r["x"] + r["w"] < 407 for r in lane.get("runs", ())))
        self.assertLessEqual({"pump", "limit", "standing", "pasteurising"}, lanes)

    def test_the_table_is_what_is_displayed(self):
        query = "day=60&span=72&t=top,sun,store"
        for system, degree in (("si", "°C"), ("us", "°F")):
            self.user.units = system
            self.user.save()
            rows = list(csv.reader(io.StringIO(self.client.get(self.url(f"days.csv?{query}")).content.decode())))
            self.assertEqual((len(rows), rows[0][:3]), (73, ["hour_of_year", "date", "hour"]))
            self.assertIn(degree, rows[0][3])
            self.assertEqual(rows[1][:3], ["1440", "2 Mar", "0"])
        self.user.units = "si"
        self.user.save()
        rows = list(
            csv.reader(io.StringIO(self.client.get(self.url("days.csv?day=60&span=24&t=store")).content.decode()))
        )
        book = self.page().year.book
        self.assertAlmostEqual(sum(float(r[3]) for r in rows[1:]), book.hourly(acc.INTO_STORE)[1440:1464].sum() / 1000)

    def test_traces_are_remembered_until_others_are_chosen(self):
        self.assertEqual(self.days("t=sun,flow")["keys"], ["sun", "flow"])
        self.assertEqual(self.days("day=3")["keys"], ["sun", "flow"])
        rows = self.client.get(self.url("days.csv?day=3")).content.decode().splitlines()
        self.assertIn("Flow [", rows[0])
        self.assertIn("top", self.days("t=usual")["keys"])
        self.assertIn("top", self.days()["keys"])

    def test_dates_typed(self):
        page = self.client.get(self.url("year?date=20 Jul&hour=15"))
        self.assertEqual((page.context["y"]["now"].day, page.context["y"]["now"].hour), (200, 15))
        for none in ("31 Feb", "29 Feb", "x", "0 May", "²", "99999999"):
            page = self.client.get(self.url("year"), {"date": none})
            self.assertContains(page, "is not a day of the year")
            self.assertEqual(page.context["y"]["typed_date"], none)

    def test_the_carpets_values_in_words(self):
        payload = self.client.get(self.url("values?q=sun")).json()
        self.assertEqual((payload["words"], payload["sign"], len(payload["values"])), ("Sun", "W/m²", 8760))
        self.assertEqual(self.client.get(self.url("values?q=gold")).json()["words"], "Store top")

    def test_at_the_tap_is_the_requested_temperature_where_nothing_is_missing(self):
        book = self.page().year.book
        drawn = at_tap_c(book)
        np.testing.assert_allclose(drawn[np.isfinite(drawn)], book.design.demand.tap_c, atol=1e-6)
        short = self.page(system__backup__tankless__fitted="0").year.book
        self.assertLess(np.nanmin(at_tap_c(short)), book.design.demand.tap_c - 5)


class NoLongerValid(DesignPageCase):
    """A design kept by an older version, or mended by hand, that the core now refuses."""

    def setUp(self):
        super().setUp()
        design = self.fresh()
        design.scheme["system"]["store"]["volume_l"] = -5
        design.save()

    def test_pages_state_what_where_and_the_range(self):
        for view in ("hours", "shape", "faults"):
            page = self.client.get(self.url(f"year?view={view}&q=gold&date=31 Feb"))
            self.assertContains(page, "system.store.volume_l")
            self.assertContains(page, "5 to 100000")

    def test_it_is_mended_in_its_place_and_other_projects_stay_in_sight(self):
        self.assertContains(self.client.get("/"), "not calculated")
        self.assertContains(self.client.get(self.url("scheme")), 'data-path="system.store.volume_l"')
        form = {"path": "system.store.volume_l", "value": "280", "screen": "year"}
        self.assertContains(
            self.client.post(self.url("edit"), form, headers={"HX-Request": "true"}), "The day’s account"
        )
        self.assertEqual(self.document()["system"]["store"]["volume_l"], 280)

    def test_a_sound_design_is_not_blamed_for_the_one_it_is_compared_with(self):
        sound = self.project.designs.get()
        sound.pk, sound.letter = None, "B"
        sound.scheme["system"]["store"]["volume_l"] = 300
        sound.save()
        page = self.client.get(f"/projects/{self.project.pk}/B/scheme?against=A")
        self.assertContains(page, "Design A is not calculated.")
        self.assertNotContains(page, "mending")
        self.assertContains(self.client.get(f"/projects/{self.project.pk}/B/year"), "The day’s account")

    def test_nothing_is_exported(self):
        for name in ("hours.csv", "days.csv", "figures.csv", "accounts.csv", "year.zip", "play?day=3", "values?q=sun"):
            answer = self.client.get(self.url(name))
            self.assertContains(answer, "system.store.volume_l", status_code=422)


class Questions(DesignPageCase):
    def requested(self, key, **more):
        query = {"ask": key, **more}
        return self.client.get(self.url("year"), query).context["y"]["answer"]

    def test_each_question_leads_through_its_hours(self):
        self.assertEqual(set(EVENT_KINDS), set(events(self.page().year.book)))
        for key in EVENT_KINDS:
            answer = self.requested(key, day=100, hour=3)
            self.assertEqual(answer["any"], answer["hours"] != "0")
            self.assertEqual(answer["veil"].startswith("data:image/png"), answer["any"])
        self.assertIsNone(self.requested("gold"))
        self.assertContains(self.client.get(self.url("year?ask=frozen")), "Never in this year.")

    def test_the_next_and_the_one_before(self):
        self.client.post(
            self.url("edit"), {"path": "system.backup.tankless.fitted", "value": "0"}, headers={"HX-Request": "true"}
        )
        cold = self.page().year.book.traces[:, acc.COLD_TAP_SHARE] > 0
        answer = self.requested("cold_tap", day=100, hour=12)
        at = lambda query: [int(part.partition("=")[2]) for part in query.split("&")]
        day, hour = at(answer["after"])
        after = 24 * day + hour
        self.assertTrue(cold[after] and not cold[after - 1] and after > 2412)
        self.assertEqual(answer["hours"].replace("\u202f", ""), str(int(cold.sum())))
        back = self.requested("cold_tap", day=day, hour=hour)
        self.assertEqual(back["after"] != answer["after"], True)
        day, hour = at(back["before"])
        self.assertLess(24 * day + hour, after)


class Shape(DesignPageCase):
    def test_the_stream_is_as_wide_as_what_it_carries(self):
        design_page = self.page()
        page = shape_view(design_page)["flow"]
        book = design_page.year.book
        self.assertEqual(figure(page["sun"]), round(book.total(*SUN)))
        lost = sum(figure(b["text"]) for b in page["bands"])
        into = book.total(*SUN) - lost + book.total(*BOUGHT)
        self.assertAlmostEqual(into - book.total(*CARRIED), book.total(*DELIVERED), delta=4)
        self.assertAlmostEqual(page["end_h"] / page["sun_h"], into / book.total(*SUN), delta=0.01)

    def test_sorted_months_and_seasons(self):
        design_page = self.page()
        page = shape_view(design_page)
        free, _run = design_page.year.book.days_without_backup()
        self.assertEqual((sum(m["free"] for m in page["months"]), sum(m["days"] for m in page["months"])), (free, 365))
        requested = np.mean([figure(row["requested"]) for row in page["seasons"]])
        self.assertAlmostEqual(requested, design_page.year.book.total(acc.DEMAND) / 365, delta=0.1)
        for line in page["sorted"]["lines"]:
            heights = [float(p.split(",")[1]) for p in line["d"][1:].split("L")]
            self.assertEqual(heights, sorted(heights))

    def test_it_is_drawn_for_other_kinds(self):
        for kind in ("pool_direct", "bag", "combi"):
            self.client.post(
                self.url("choose"), {"preset": f"kind {kind}", "screen": "scheme"}, headers={"HX-Request": "true"}
            )
            answer = self.client.get(self.url("year?view=shape"))
            self.assertContains(answer, "From sun to use")
            self.assertNotRegex(answer.content.decode(), r'(width|height)="-|[=, L]nan')
