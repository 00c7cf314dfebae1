"""Inside the year: the carpet of any quantity, what to jump to, a day that closes, hours that add up."""

import csv
import io
import json
import tempfile
import zipfile

import numpy as np
from django.core.management import call_command
from fastparquet import ParquetFile

from heat import accounts as acc
from heat.design import parse
from heat.ledger import BOUGHT, CARRIED, DELIVERED, SUN
from heat.year import simulate
from web.projects.mistakes import MISTAKES, mistakes_page, possible, secret_mistake
from web.projects.models import Project
from web.projects.reckon import weather_year
from web.projects.shapes import shapes_page
from web.projects.sheet import Sheet
from web.projects.tests.test_pages import SheetCase, figure
from web.projects.year_page import QUANTITIES, day_account, first_sunny_day, jumps, longest_run, quantities, year_page
from web.ui.png import RED_TINTS, banded


class Inside(SheetCase):
    def page(self, **query):
        sheet = self.sheet()
        sheet.chosen, sheet.day, sheet.hour = query.get("q", ""), query.get("day"), query.get("hour", 10)
        return year_page(sheet)

    def test_every_quantity_of_every_kind_of_system(self):
        call_command("load_demo")
        seen = set()
        for project in Project.objects.select_related("weather").exclude(pk=self.project.pk):
            for design in project.designs.all():
                design.project = project
                sheet = Sheet(design, project.owner)
                for key in quantities(sheet):
                    sheet.chosen, sheet.day = key, 20
                    page = year_page(sheet)
                    self.assertTrue(page["carpet"].startswith("data:image/png"))
                    seen.add(key)
                self.assertTrue(all(0 <= j["day"] < 365 and 0 <= j["hour"] < 24 for j in page["jumps"]))
        self.assertEqual(seen, set(QUANTITIES))

    def test_the_day_received_what_it_spent_and_is_the_sum_of_its_hours(self):
        sheet = self.sheet()
        book = sheet.year.book
        for day in (0, 100, 200, 364):
            sheet.day = day
            account = day_account(sheet, book, year_page(sheet)["now"])
            self.assertEqual(account["in"], account["out"])
            self.assertLess(float(account["residual"]), 1e-9)
            received = {line["words"]: figure(line["text"].strip("()")) for line in account["received"]}
            hours = slice(24 * day, 24 * day + 24)
            self.assertAlmostEqual(received["Sun received"], book.hourly(*SUN)[hours].sum() / 1000, delta=0.006)
            self.assertAlmostEqual(received["Bought"], book.hourly(*BOUGHT)[hours].sum() / 1000, delta=0.006)

    def test_odd_addresses_show_a_page(self):
        for tail in ("q=gold", "day=-4&hour=99", "day=400", "day=²", "q=pool", "hour=x", "day=&q="):
            self.assertContains(self.client.get(self.url(f"year?{tail}")), "The year, hour by hour")
        self.assertEqual(self.page(q="gold")["key"], "top")

    def test_the_table_of_hours_adds_up_to_the_account(self):
        book = self.sheet().year.book
        rows = list(csv.DictReader(io.StringIO(self.client.get(self.url("hours.csv")).content.decode())))
        self.assertEqual(len(rows), 8760)
        for name, column in (
            ("demand", acc.DEMAND),
            ("into_store", acc.INTO_STORE),
            ("bought_tankless", acc.BOUGHT_TANKLESS),
        ):
            self.assertAlmostEqual(sum(float(r[f"{name}_wh"]) for r in rows) / 1000, book.total(column), delta=1e-6)

    def test_extremes_are_what_they_say(self):
        sheet = self.sheet()
        found = {j["words"]: j for j in year_page(sheet)["jumps"]}
        busiest = sheet.year.book.hourly(*BOUGHT).reshape(365, 24).sum(axis=1).argmax()
        self.assertEqual(found["most bought"]["day"], busiest)
        self.assertFalse(any("stagnation" in words for words in found))
        many = self.sheet(system__collector__count="8")
        self.assertTrue(any("stagnation" in j["words"] for j in year_page(many)["jumps"]))
        self.assertTrue(
            any(
                "below its temperature" in j["words"]
                for j in year_page(self.sheet(system__backup__tankless__fitted="0"))["jumps"]
            )
        )
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

    def test_a_fortnight_and_its_end_of_the_year(self):
        for days in (1, 3, 7, 14):
            page = self.client.get(self.url(f"year?days={days}&day=364&hour=23"))
            self.assertContains(page, "The day’s account")
        sheet = self.sheet()
        sheet.days, sheet.day, sheet.hour = 14, 364, 23
        picture = year_page(sheet)["day"]
        self.assertEqual(picture["first"], 24 * (365 - 14))
        self.assertAlmostEqual(picture["cursor"] + picture["step"], 60 + 504, delta=0.01)

    def test_the_bundle_reads_back_and_sums_to_the_account(self):
        answer = self.client.get(self.url("year.zip"))
        book = self.sheet().year.book
        with zipfile.ZipFile(io.BytesIO(answer.content)) as archive:
            self.assertEqual(
                set(archive.namelist()), {"hours.csv", "hours.parquet", "columns.csv", "design.json", "about.json"}
            )
            with tempfile.TemporaryDirectory() as folder:
                table = ParquetFile(archive.extract("hours.parquet", folder)).to_pandas()
            again = simulate(parse(json.loads(archive.read("design.json"))), weather_year(self.project.weather))
            about = json.loads(archive.read("about.json"))
            units = dict(line.split(",") for line in archive.read("columns.csv").decode().splitlines())
        self.assertAlmostEqual(table["demand_wh"].sum() / 1000, book.total(acc.DEMAND), delta=1e-6)
        self.assertAlmostEqual(again.total(*BOUGHT), book.total(*BOUGHT), delta=1e-9)
        self.assertEqual(about["weather"]["checksum_sha256"], weather_year(self.project.weather).checksum())
        self.assertEqual((units["demand_wh"], units["layer_1_c"], units["pump_share"]), ("Wh", "degC", "1"))

    def test_frames_for_playing_are_the_hours(self):
        book = self.sheet().year.book
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


class Mistakes(SheetCase):
    def rows(self, **query):
        return {r["key"]: r for r in mistakes_page(self.sheet(), query, query.pop("m", []))["rows"]}

    def test_each_mistake_costs_what_choosing_it_shows_and_changes_nothing(self):
        before = self.document()
        rows = self.rows()
        self.assertEqual(set(rows), set(MISTAKES))
        for key in ("boiler", "air", "dirt", "high"):
            page = mistakes_page(self.sheet(), {}, [key])
            self.assertEqual(page["together"]["bought"], rows[key]["kwh"])
            self.assertTrue(page["together"]["closed"])
            lines = sum(figure(line["text"]) for line in page["together"]["lines"])
            self.assertAlmostEqual(lines, figure(rows[key]["kwh"]), delta=4)
        self.assertGreater(figure(rows["boiler"]["kwh"]), figure(rows["air"]["kwh"]))
        self.assertTrue(
            all(figure(rows[k]["kwh"]) > 20 for k in ("boiler", "valve", "high", "low", "feels", "air", "dirt", "tree"))
        )
        self.assertEqual(rows["dirt"]["moves"], "lost: optics")
        self.assertEqual(self.document(), before)

    def test_a_later_date_costs_less_and_several_cost_more(self):
        whole, half = (figure(self.rows(**q)["air"]["kwh"]) for q in ({}, {"from": "1 Jul"}))
        self.assertTrue(0.2 * whole < half < 0.9 * whole)
        both = mistakes_page(self.sheet(), {}, ["dirt", "valve"])["together"]
        self.assertGreater(figure(both["bought"]), figure(self.rows()["dirt"]["kwh"]))

    def test_readings_show_the_sign(self):
        page = mistakes_page(self.sheet(), {}, ["air"])
        self.assertEqual([r["words"] for r in page["readings"]], ["Collector", "Store top", "Store bottom", "Pump"])
        self.assertTrue(all(r["usual"] != r["odd"] for r in page["readings"]))

    def test_kinds_without_a_pump_suffer_fewer(self):
        for kind, count in (("batch_tank", 2), ("thermosiphon_sealed", 5)):
            self.client.post(
                self.url("choose"), {"preset": f"kind {kind}", "screen": "scheme"}, headers={"HX-Request": "true"}
            )
            self.assertEqual(len(possible(self.sheet())), count)
            self.assertContains(self.client.get(self.url("year?view=mistakes&m=dirt")), "dirt on the glass")

    def test_the_game_hides_a_mistake_and_explains_it(self):
        sheet = self.sheet()
        hidden = {secret_mistake(sheet, n) for n in range(60)}
        self.assertGreater(len(hidden), 8)
        key = secret_mistake(sheet, 7)
        asked = self.client.get(self.url("year?view=mistakes&find=7"))
        self.assertNotContains(asked, MISTAKES[key].sign)
        other = next(k for k in MISTAKES if k != key)
        self.assertContains(
            self.client.get(self.url(f"year?view=mistakes&find=7&guess={other}")), f"it is {MISTAKES[key].words}"
        )
        self.assertContains(
            self.client.get(self.url(f"year?view=mistakes&find=7&guess={key}")), f"Yes: {MISTAKES[key].words}"
        )

    def test_odd_addresses_are_borne(self):
        for tail in (
            "from=31 Feb",
            "from=x",
            "m=gold&m=dirt",
            "find=²",
            "find=99999999999",
            "find=1&guess=gold",
            "m=dirt&day=364",
        ):
            self.assertEqual(self.client.get(self.url(f"year?view=mistakes&{tail}")).status_code, 200, tail)
        self.assertContains(self.client.get(self.url("year?view=mistakes&from=31 Feb")), "not a day of the year")


class Shape(SheetCase):
    def test_the_stream_is_as_wide_as_what_it_carries(self):
        sheet = self.sheet()
        page = shapes_page(sheet)["flow"]
        book = sheet.year.book
        self.assertEqual(figure(page["sun"]), round(book.total(*SUN)))
        lost = sum(figure(b["text"]) for b in page["bands"])
        into = book.total(*SUN) - lost + book.total(*BOUGHT)
        self.assertAlmostEqual(into - book.total(*CARRIED), book.total(*DELIVERED), delta=4)
        self.assertAlmostEqual(page["end_h"] / page["sun_h"], into / book.total(*SUN), delta=0.01)

    def test_sorted_months_and_seasons(self):
        sheet = self.sheet()
        page = shapes_page(sheet)
        free, _run = sheet.year.book.days_without_backup()
        self.assertEqual((sum(m["free"] for m in page["months"]), sum(m["days"] for m in page["months"])), (free, 365))
        asked = np.mean([figure(row["asked"]) for row in page["seasons"]])
        self.assertAlmostEqual(asked, sheet.year.book.total(acc.DEMAND) / 365, delta=0.1)
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
