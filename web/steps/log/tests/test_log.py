"""The log's pages: lines typed and brought, days beside the design, causes, fit, meters; bad input refused in words."""

import io
from datetime import datetime, timedelta
from itertools import pairwise

import numpy as np
from django.test import Client
from openpyxl import Workbook
from PIL import Image

from heat.design import parse
from heat.monitoring.faults import faulty_document
from heat.monitoring.plant import Sensors, read
from heat.simulation.year import simulate
from web.editor.tests.helpers import DesignPageCase
from web.logs.models import Log, moment_of
from web.logs.services import IncomingReading, add_readings, begin_log
from web.projects.tests.helpers import HTMX
from web.simulations.weather import weather_year

FIRST = datetime(2026, 3, 10)


def fill(log, sizes=None, days=3, every_h=0.5):
    """Days of readings in a log, made by the engine with known truth."""
    hour = 24 * (FIRST - datetime(2026, 1, 1)).days
    document = faulty_document(log.document, sizes, hour // 24 - 1) if sizes else log.document
    weather = weather_year(log.weather)
    rows = read(
        simulate(parse(document), weather),
        weather,
        hour,
        24 * days,
        np.random.default_rng(5),
        Sensors(every_h=every_h),
        tuple(log.heights),
    )
    readings = []
    for i, at in enumerate(rows.hour):
        values = {name: float(row[i]) for name, row in rows.readings.items() if name != "draw" or row[i] > 0.0}
        values |= {f"s{k}": float(row[i]) for k, row in enumerate(rows.store_c)}
        readings.append(
            IncomingReading(moment_of(FIRST + timedelta(hours=round((at - hour) * 4) / 4), log.offset_h), values)
        )
    add_readings(log=log, author=log.project.owner, readings=readings, source="table")


class LogPage(DesignPageCase):
    def setUp(self):
        super().setUp()
        self.log = begin_log(design=self.fresh(), author=self.user, heights=[0.0, 0.85])

    def do(self, action, status=200, **values):
        payload = {"screen": "log", "log": self.log.pk, **values}
        reply = self.client.post(self.url(f"log/{action}"), payload, headers=HTMX)
        self.assertEqual(reply.status_code, status, reply.content[:400])
        return reply

    def typed(self, status=200, **values):
        return self.do("line", status, **{"day": "2026-05-02", "clock": "14:05", **values})


class Typed(LogPage):
    def test_a_line_in_the_units_of_who_types(self):
        self.typed(s1="48.5", s0="21", collector="67,3", pump="on", flow="3.5", draw="a shower", remark="hazy")
        reading = self.log.readings.get()
        self.assertEqual(
            reading.values, {"s1": 48.5, "s0": 21.0, "collector": 67.3, "pump": 1.0, "flow": 210.0, "draw": 40.0}
        )
        self.assertEqual(
            (reading.at, reading.remark), (moment_of(datetime(2026, 5, 2, 14, 5), self.log.offset_h), "hazy")
        )
        self.user.units = "us"
        self.user.save()
        self.typed(clock="2:35 pm", s1="140", flow="1", draw="10")
        values = self.log.readings.last().values
        self.assertEqual((values["s1"], round(values["flow"], 1), round(values["draw"], 2)), (60.0, 227.1, 37.85))

    def test_what_cannot_be_read_is_reported_and_stays_typed(self):
        for values, words in (
            ({"s1": "hot"}, "Store at 85 %"),
            ({"clock": "25:00", "s1": "4"}, "14:05"),
            ({"day": "May", "s1": "4"}, "28 Nov 2026"),
            ({}, "holds no value"),
            ({"collector": "900"}, "between"),
            ({"day": "2099-01-01", "s1": "5"}, "future"),
            ({"day": "0001-01-01", "s1": "5"}, "between 1990"),
            ({"day": "9999-12-31", "s1": "5"}, "between 1990"),
        ):
            with self.subTest(words=words):
                page = self.typed(422, **{"air": "12.5", **values} if values else {})
                self.assertContains(page, words, status_code=422)
                if values:
                    self.assertContains(page, "12.5", status_code=422)
        self.assertEqual(self.log.readings.count(), 0)
        self.typed(s1="40")
        self.typed(s1="40")  # sent twice: the same
        self.assertContains(self.typed(422, s1="41"), "correct it below", status_code=422)

    def test_the_day_stays_for_the_next_line_and_a_line_is_corrected(self):
        page = self.typed(s1="40")
        self.assertContains(page, 'value="2026-05-02"')
        self.assertContains(page, "autofocus")
        self.assertContains(page, 'placeholder="40.0"')  # the last value is offered
        old = self.log.readings.get()
        page = self.client.get(self.url(f"log?view=day&correct={old.pk}"))
        self.assertContains(page, 'value="2 May 2026"')
        self.assertContains(page, 'value="14:05"')
        self.typed(s1="44", instead=old.pk)
        old.refresh_from_db()
        self.assertEqual((old.values, old.why), ({"s1": 40.0}, "corrected"))
        self.assertEqual(self.log.readings.get(struck=None).values, {"s1": 44.0})
        self.assertContains(self.typed(422, s1="45", instead=old.pk), "not there any more", status_code=422)
        self.assertContains(
            self.typed(422, s1="900", instead=self.log.readings.get(struck=None).pk), "between", status_code=422
        )
        self.assertEqual(self.log.readings.filter(struck=None).count(), 1)  # what is refused strikes nothing out

    def test_struck_out_with_a_reason(self):
        self.typed(s1="40")
        pk = self.log.readings.get().pk
        self.assertContains(self.do("strike", 422, reading=pk, why=""), "reason is needed", status_code=422)
        self.assertContains(self.do("strike", reading=pk, why="wrong tank"), "wrong tank")
        self.do("strike", 404, reading=999_999, why="x")

    def test_photographs_are_stored_and_displayed_to_their_owner_alone(self):
        out = io.BytesIO()
        Image.new("RGB", (80, 60), "#886644").save(out, "JPEG")
        out.name = "tank.jpg"
        out.seek(0)
        self.do("photo", remark="gauge at 1.5 bar", photo=out)
        photo = self.log.photos.get()
        answer = self.client.get(self.url(f"log/picture?photo={photo.pk}"))
        self.assertEqual((answer["Content-Type"], answer.content[:2]), ("image/jpeg", b"\xff\xd8"))
        self.assertEqual(Client().get(self.url(f"log/picture?photo={photo.pk}")).status_code, 302)
        bad = io.BytesIO(b"GIF89a")
        bad.name = "x.jpg"
        self.assertContains(self.do("photo", 422, photo=bad), "no JPEG or PNG", status_code=422)

    def test_sensors_are_reported(self):
        self.do("sensors", height=["0.1", "0.5", "0.9", ""], litres=["90", "110", "100", ""], sensor_k="1")
        log = Log.objects.get()
        self.assertEqual((log.heights, log.litres, log.sensor_k), ([0.1, 0.5, 0.9], [90.0, 110.0, 100.0], 1.0))
        self.do("sensors", 422, height=["0.5", "0.1"], litres=["90", "110"], sensor_k="1")
        self.do("sensors", 422, height=["half"], litres=["90"], sensor_k="1")

    def test_a_design_changed_since_is_reported(self):
        self.edit("system.store.volume_l", "555")
        self.assertContains(self.client.get(self.url("log")), "keep the design of their day")
        self.client.post(self.url("log/begin"), {"screen": "log"}, headers=HTMX)
        self.assertEqual(Log.objects.first().document["system"]["store"]["volume_l"], 555.0)


TABLE = """time;collector °F;tank bottom;tank top;pump
2026-03-10 10:00;120.2;21,5;40,1;on
2026-03-10 10:15;140.0;22,5;41,0;on
2026-03-10 10:30;;23,5;;off
"""


class Brought(LogPage):
    def bring(self, text, status=302):
        return self.do("bring", status, pasted=text)

    def take(self, answer, **more):
        page = self.client.get(answer["Location"])
        upload = page.context["g"]["upload"]
        columns = {f"column-{c['index']}": c["meaning"] for c in page.context["g"]["columns"] if c["meaning"]}
        return page, self.do("columns", upload=upload.pk, take="1", **{**columns, **more})

    def test_pasted_with_columns_guessed_and_stored(self):
        _page, text = self.take(self.bring(TABLE.replace(",", ".")))
        self.assertContains(text, "3 readings are kept")
        first = self.log.readings.first()
        self.assertEqual(first.values, {"collector": 49.0, "s0": 21.5, "s1": 40.1, "pump": 1.0})
        self.assertEqual(first.at, moment_of(datetime(2026, 3, 10, 10, 0), self.log.offset_h))
        self.assertEqual(self.log.readings.last().values, {"s0": 23.5, "pump": 0.0})
        again, text = self.take(self.bring(TABLE.replace(",", ".")))
        self.assertContains(again, "columns as named last")
        self.assertContains(text, "3 were known")

    def test_days_and_times_in_two_columns(self):
        lines = [f"10.03.2026;{hour}:30;{20 + hour};{40 + hour}" for hour in range(8, 20)]
        table = "\n".join(
            ["Date;Time;store bottom;collector", *lines[:5], "10.03.2026;soon;1;2", *lines[5:], "11.03.2026;7:30;;"]
        )
        _page, text = self.take(self.bring(table))
        self.assertContains(text, "12 readings are kept")
        self.assertContains(
            text,
            "2 of 14 lines are left out: line 7: “10.03.2026 soon” is no day and time; line 15: it holds no reading",
        )
        first = self.log.readings.first()
        self.assertEqual(first.at, moment_of(datetime(2026, 3, 10, 8, 30), self.log.offset_h))
        self.assertEqual(first.values, {"s0": 28.0, "collector": 48.0})
        us = "\n".join(["date,time,panel", *(f"03/12/2026,{h}:05 PM,{50 + h}" for h in range(1, 9))])
        self.take(self.bring(us))
        self.assertEqual(self.log.readings.last().values, {"collector": 58.0})

    def test_a_spreadsheet(self):
        book = Workbook()
        for row in (
            ("time", "air", "tank top"),
            (datetime(2026, 3, 10, 10, 0), 4.5, 40.0),
            (datetime(2026, 3, 10, 11, 0), 5, 41),
        ):
            book.active.append(row)
        out = io.BytesIO()
        book.save(out)
        out.seek(0)
        out.name = "log.xlsx"
        self.take(self.do("bring", 302, file=out))
        self.assertEqual(
            [r.values for r in self.log.readings.all()], [{"air": 4.5, "s1": 40.0}, {"air": 5.0, "s1": 41.0}]
        )

    def test_what_views_wrong_is_requested_before_it_is_taken(self):
        rows = "\n".join(f"2026-03-10 {h:02d}:00;{60 + h};0;300" for h in range(24))
        page = self.client.get(self.bring(f"time;air;pump;sun\n{rows}\n")["Location"])
        self.assertContains(page, "is this column in °F?")
        self.assertContains(page, "sun at night")
        back = "time;air\n2026-03-10 10:00;5\n2026-03-10 12:00;6\n2026-03-10 09:00;4\n2026-03-10 08:00;4\n"
        self.assertContains(self.client.get(self.bring(back)["Location"]), "run backwards")
        self.assertEqual(self.log.readings.count(), 0)

    def test_an_hour_that_is_twice(self):
        lines = [
            "2026-10-25 01:30",
            "2026-10-25 02:00",
            "2026-10-25 02:30",
            "2026-10-25 02:00",
            "2026-10-25 02:30",
            "2026-10-25 03:00",
        ]
        text = "time;air\n" + "\n".join(f"{line};{5 + i}" for i, line in enumerate(lines)) + "\n"
        answer = self.bring(text)
        self.assertContains(self.client.get(answer["Location"]), "does this clock have summer time?")
        self.take(answer, clock="summer")
        stored = [reading.at for reading in self.log.readings.all()]
        self.assertEqual([b - a for a, b in pairwise(stored)], [timedelta(minutes=30)] * 5)

    def test_bad_tables_are_refused_in_words(self):
        for text, words in (
            ("", "choose a file"),
            ("only words here", "no line of numbers"),
            ("a;b\n" + "1;2\n" * 200_000, "more than"),
        ):
            with self.subTest(words=words):
                self.assertContains(self.do("bring", 422, pasted=text), words, status_code=422)
        no_time = self.client.get(self.bring("a;b\n1.5;2\n3.5;4\n")["Location"])
        self.assertContains(no_time, "No column of days and times")
        both = self.bring(TABLE.replace(",", "."))
        upload = self.client.get(both["Location"]).context["g"]["upload"]
        same = {"column-1": "s0 degC", "column-2": "s0 degC"}
        self.assertContains(self.do("columns", 422, upload=upload.pk, **same), "hold the same", status_code=422)
        self.assertContains(self.do("columns", 422, upload=99999), "bring it again", status_code=422)

    def test_a_key_is_displayed_once_and_taken_back(self):
        page = self.do("key")
        self.assertContains(page, "data-token")
        self.assertNotContains(self.client.get(self.url("log?view=bring")), "data-token")
        self.do("key", end="1")
        self.assertIsNone(Log.objects.get().token)
        self.typed(s1="40", remark="=cmd()")
        text = self.client.get(self.url("log/readings.csv")).content.decode().splitlines()
        self.assertEqual(text[0], "at,source,s1,struck,remark")
        self.assertTrue(text[1].endswith(",typed,40.0,,'=cmd()"), text[1])


class WildAddresses(LogPage):
    def test_no_address_breaks_a_page(self):
        fill(self.log, days=1)
        for requested in (
            "log=99999999999999999999",
            "days=-3&day=2026-02-30",
            "day=0001-01-01",
            "day=9999-12-31&days=14",
            "view=months&year=99999999999",
            "view=sums&from=0001-01-01T00:00&to=9999-12-31T23:59",
            "view=sums&b_litres=1e400&b_rise=1&b_minutes=1&b_area=1",
            "view=sums&d_pairs=1 2 3",
            "view=sums&from=2026-03-10T10:00%2B02:00",
            "view=measured&fit=gold&days=1",
        ):
            with self.subTest(requested=requested):
                self.assertEqual(self.client.get(self.url(f"log?{requested}")).status_code, 200)


class SimulatedYear(LogPage):
    def test_sound_days_are_within_expectation(self):
        fill(self.log)
        page = self.context_of("log", "day", "days=3")
        self.assertTrue(page["within"])
        self.assertEqual(
            {row["words"] for row in page["comparison"]}, {"collector", "pump", "store, floor", "store at 85 %"}
        )
        self.assertContains(self.client.get(self.url("log?days=3")), "within the uncertainty of both")

    def test_no_sun_and_a_guess_of_the_clouds_are_reported(self):
        for values, words in (
            ({"s1": 40.0}, "No sun was read"),
            ({"s1": 40.0, "cloud": 6.0}, "an assumption of the clouds"),
        ):
            readings = [
                IncomingReading(moment_of(FIRST + timedelta(hours=h), self.log.offset_h), values) for h in range(24)
            ]
            self.log.readings.all().delete()
            add_readings(log=self.log, author=self.user, readings=readings, source="table")
            self.assertIn(words, self.context_of("log", "day", "days=1")["guess"])

    def test_a_fault_is_found_and_reported_in_words(self):
        fill(self.log, {"valve": 1.0})
        requested = self.context_of("log", "diagnosis", "days=3")
        self.assertNotIn("ranked", requested)
        page = self.context_of("log", "diagnosis", "days=3&ask=1")
        self.assertEqual(page["ranked"][0]["words"], "no check valve")
        self.assertIn("Most likely", page["concluded"])
        self.assertRegex(page["ranked"][0]["cost"], r"\d+ kWh")
        self.assertRegex(page["apart"], r"day \d, \d+ h")

    def test_a_hidden_fault_is_reported_once_it_is_named(self):
        fill(self.log, {"valve": 1.0})
        Log.objects.update(secret={"valve": 1.0})
        page = self.client.get(self.url("log?view=diagnosis&days=3&ask=1"))
        self.assertNotContains(page, "Most likely")
        self.assertContains(self.do("name", cause="air"), "That is not it")
        self.assertContains(self.do("name", cause="valve"), "That is it")
        self.assertContains(self.client.get(self.url("log?view=diagnosis&days=3")), "It was: no check valve")

    def test_fitted_and_opened_as_a_design(self):
        fill(self.log)
        page = self.context_of("log", "measured", "days=3&fit=eta0&fit=a1")
        self.assertEqual(len(page["rows"]), 2)
        answer = self.client.post(
            self.url("log/measured?view=measured&days=3"), {"screen": "log", "fit": ["eta0", "a1"]}
        )
        self.assertEqual(answer.status_code, 302)
        made = self.project.designs.get(letter="B")
        self.assertEqual(made.name, "A as measured")
        self.assertNotEqual(
            made.document()["system"]["collector"]["eta0"], self.log.document["system"]["collector"]["eta0"]
        )
        self.assertEqual(self.client.post(self.url("log/measured"), {"screen": "log"}).status_code, 422)
        self.assertIn(
            "A day of readings", self.context_of("log", "measured", "day=2026-03-12&days=1&fit=eta0").get("problem", "")
        )

    def test_sums_between_two_moments(self):
        fill(self.log)
        page = self.context_of("log", "sums", "days=3&from=2026-03-10T08:00&to=2026-03-10T15:00")
        before, after = (
            self.log.readings.get(at=moment_of(FIRST + timedelta(hours=h), self.log.offset_h)) for h in (8, 15)
        )
        exact = sum(v * (after.values[f"s{i}"] - before.values[f"s{i}"]) for i, v in enumerate(self.log.litres))
        self.assertAlmostEqual(page["layers"]["value"], exact * 4.186 / 3600.0, delta=0.02)
        self.assertEqual(page["from"], "2026-03-10T08:00")
        self.assertEqual([row["day"] for row in page["by_day"]], ["10 Mar", "11 Mar", "12 Mar"])
        self.assertIn(
            "after the first", self.context_of("log", "sums", "from=2026-03-10T15:00&to=2026-03-10T08:00")["wrong"]
        )

    def test_a_bucket_and_a_draw_as_typed(self):
        page = self.context_of(
            "log", "sums", "b_litres=20&b_rise=15&b_minutes=30&b_area=2&b_sun=800&d_pairs=10 60, 20 58&d_cold=10"
        )
        self.assertEqual(page["bucket"]["watts"], "698 W")
        self.assertIn("full sun", page["bucket"]["words"])
        self.assertEqual(page["draw"]["usable"], "28 L")
        wrong = self.context_of("log", "sums", "b_litres=x&b_rise=15&b_minutes=30&b_area=2&d_pairs=hot")
        self.assertTrue(wrong["bucket"]["wrong"] and wrong["draw"]["wrong"])

    def test_meters_by_month(self):
        self.do("meters", month="2026-05", solar_kwh="150", fuel_kwh="60", litres="5500")
        page = self.context_of("log", "months")
        self.assertEqual((page["months"][0]["name"], page["months"][0]["solar"]), ("May 2026", "150"))
        self.assertTrue(page["fraction"])
        for payload in (
            {"month": "May"},
            {"month": "2026-05"},
            {"month": "2026-05", "litres": "many"},
            {"month": "2026-05", "litres": "-4"},
        ):
            self.do("meters", 422, **payload)

    def test_upkeep_is_done(self):
        self.do("done", task="leaks", on="2026-03-01", name="Ada", remark="dry")
        self.assertContains(self.client.get(self.url("log?view=upkeep")), "Ada")
        self.do("done", 422, task="leaks", on="soon", name="Ada")
        self.do("calendar", open="1")
        self.assertContains(self.client.get(self.url("log?view=upkeep")), ".ics")
        self.do("calendar", open="0")
