"""Logs: readings kept as facts, a logger heard by its key alone, photographs without their place, upkeep by date."""

import io
import json
from datetime import UTC, date, datetime, timedelta

import icalendar
import numpy as np
from django.core.exceptions import PermissionDenied
from django.test import Client, SimpleTestCase
from django.utils import timezone
from PIL import Image

from heat.errors import HeatError
from web.accounts.models import User
from web.logs.models import Calendar, Log, Reading, hour_of, local_of, moment_of
from web.logs.reading import changed_since, rows_of, window_of
from web.logs.services import (
    MOST_READINGS,
    IncomingReading,
    add_photo,
    add_readings,
    begin_log,
    end_token,
    even,
    meters_of,
    name_secret,
    new_token,
    set_meter,
    set_sensors,
    strike,
)
from web.logs.stand_in import Logger, hidden, lines_of
from web.logs.upkeep import close_calendar, due_of, open_calendar, record_done
from web.projects.tests.helpers import DeskCase
from web.simulations.weather import weather_year
from web.ui.pictures import PHOTO, drawn_anew

NOON = datetime(2026, 5, 2, 12, 0, tzinfo=UTC)


class Clocks(SimpleTestCase):
    def test_hours_of_the_year_in_standard_time(self):
        self.assertEqual(hour_of(datetime(2026, 1, 1, 1, 30, tzinfo=UTC), -1.0), 0.5)
        self.assertEqual(hour_of(datetime(2026, 12, 31, 23, 0, tzinfo=UTC), 0.0), 8759.0)
        self.assertEqual(hour_of(datetime(2028, 3, 1, 0, 0, tzinfo=UTC), 0.0), 24 * 59)  # after 29 February
        local = datetime(2026, 7, 1, 14, 5)
        self.assertEqual(local_of(moment_of(local, 5.5), 5.5), local)


class LogCase(DeskCase):
    def setUp(self):
        super().setUp()
        self.log = begin_log(design=self.fresh(), author=self.user, heights=[0.0, 0.5, 0.85])

    def save(self, *payload, source="typed"):
        return add_readings(
            log=self.log,
            author=self.user,
            readings=[IncomingReading(at, values) for at, values in payload],
            source=source,
        )


class Facts(LogCase):
    def test_readings_are_added_struck_out_and_never_changed(self):
        self.assertEqual(self.save((NOON, {"collector": 60.0, "s0": 30.0})).stored, 1)
        self.assertEqual(self.save((NOON, {"collector": 99.0})).known, 1)
        reading = self.log.readings.get()
        self.assertEqual(reading.values, {"collector": 60.0, "s0": 30.0})
        with self.assertRaisesMessage(HeatError, "reason"):
            strike(reading=reading, author=self.user, why=" ")
        strike(reading=reading, author=self.user, why="the sensor hung in the air")
        strike(reading=reading, author=self.user, why="another word")
        self.assertEqual(Reading.objects.get().why, "the sensor hung in the air")
        self.assertIsNone(rows_of(self.log, window_of(self.log)))  # nothing stands any more

    def test_what_no_reading_can_be_is_refused_with_why(self):
        now = timezone.now()
        for at, values, words in (
            (now + timedelta(days=3), {"air": 5.0}, "future"),
            (now - timedelta(days=5000), {"air": 5.0}, "ten years"),
            (NOON, {}, "holds no value"),
            (NOON, {"gold": 1.0}, "no “gold”"),
            (NOON, {"s7": 20.0}, "3 sensors"),
            (NOON, {"collector": 900.0}, "between"),
            (NOON, {"air": float("nan")}, "no number"),
            (NOON, {"pump": True}, "no number"),
        ):
            with self.subTest(words=words):
                result = self.save((at, values))
                self.assertEqual(result.stored, 0)
                self.assertIn(words, result.refused[0])

    def test_a_log_has_its_limit(self):
        many = [IncomingReading(NOON + timedelta(seconds=i), {"air": 5.0}) for i in range(MOST_READINGS + 1)]
        with self.assertRaisesMessage(HeatError, "120,000"):
            add_readings(log=self.log, author=self.user, readings=many, source="table")

    def test_another_person_may_neither_add_nor_strike(self):
        other = User.objects.create_user("other")
        with self.assertRaises(PermissionDenied):
            add_readings(log=self.log, author=other, readings=[IncomingReading(NOON, {"air": 1.0})], source="typed")
        for act in (
            lambda: new_token(log=self.log, author=other),
            lambda: set_meter(log=self.log, author=other, month=date(2026, 5, 1), values={"litres": 1.0}),
        ):
            with self.assertRaises(PermissionDenied):
                act()

    def test_readings_keep_the_design_of_their_day(self):
        self.save((NOON, {"air": 5.0}))
        self.assertFalse(changed_since(self.log, self.fresh().document()))
        design = self.fresh()
        design.scheme["system"]["store"]["volume_l"] = 500.0
        design.save()
        self.assertTrue(changed_since(self.log, self.fresh().document()))
        self.assertNotEqual(Log.objects.get().document["system"]["store"]["volume_l"], 500.0)

    def test_sensors_are_for_their_water(self):
        self.assertEqual(even([0.0, 0.5, 1.0], 400.0), [100.0, 200.0, 100.0])
        set_sensors(log=self.log, author=self.user, heights=[0.1, 0.9], litres=[200.0, 100.0], sensor_k=1.0)
        for heights, litres, sure in (
            ([0.9, 0.1], [1.0, 1.0], 0.5),
            ([0.1], [1.0, 2.0], 0.5),
            ([0.1], [0.0], 0.5),
            ([0.1], [5.0], 50.0),
        ):
            with self.assertRaises(HeatError):
                set_sensors(log=self.log, author=self.user, heights=heights, litres=litres, sensor_k=sure)

    def test_a_window_of_days(self):
        self.save(*((NOON + timedelta(days=d), {"air": 5.0 + d, "s0": 20.0}) for d in range(5)))
        window = window_of(self.log, days="2")
        self.assertEqual((window.first, window.days), (date(2026, 5, 5), 2))
        rows = rows_of(self.log, window)
        self.assertEqual(rows.hour.size, 2)
        self.assertEqual(rows.readings["air"].tolist(), [8.0, 9.0])
        self.assertTrue(np.isnan(rows.store_c[1]).all())
        self.assertIsNone(rows_of(self.log, window_of(self.log, day="2026-01-01")))
        self.assertEqual(window_of(self.log, day="nonsense", days="99").days, 14)

    def test_meters_of_a_month_the_last_word_is(self):
        for litres in (3000.0, 3100.0):
            set_meter(log=self.log, author=self.user, month=date(2026, 5, 9), values={"litres": litres})
        self.assertEqual(meters_of(self.log), {date(2026, 5, 1): {"litres": 3100.0}})
        for values in ({}, {"gold": 1.0}, {"litres": -1.0}, {"sun_kwh_m2_day": 20.0}):
            with self.assertRaises(HeatError):
                set_meter(log=self.log, author=self.user, month=date(2026, 5, 1), values=values)

    def test_a_hidden_fault_is_stored_until_it_is_named(self):
        Log.objects.update(secret={"valve": 1.0})
        self.assertFalse(name_secret(log=self.log, author=self.user, key="air"))
        self.assertTrue(name_secret(log=self.log, author=self.user, key="valve"))
        log = Log.objects.get()
        self.assertEqual((log.tries, log.named is not None), (2, True))


class Photographs(LogCase):
    def test_place_and_camera_are_taken_out_and_it_is_scaled(self):
        exif = Image.Exif()
        exif[0x010F] = "a camera"
        exif[0x8825] = {1: "N", 2: (46.0, 24.0, 0.0)}
        out = io.BytesIO()
        Image.new("RGB", (3000, 1000), "#886644").save(out, "JPEG", exif=exif)
        self.assertIn(b"a camera", out.getvalue())
        made = drawn_anew(out.getvalue(), PHOTO)
        with Image.open(io.BytesIO(made)) as picture:
            self.assertEqual((picture.size, dict(picture.getexif())), ((1600, 533), {}))
        self.assertNotIn(b"a camera", made)

    def test_what_is_no_photograph_is_refused(self):
        for raw in (b"", b"\xff\xd8\xff rubbish", b"<svg/>", b"0" * 15_000_001):
            with self.assertRaises(HeatError):
                drawn_anew(raw, PHOTO)
        with self.assertRaises(HeatError):
            add_photo(log=self.log, author=self.user, remark=" ", picture=None)


class ALogger(LogCase):
    def setUp(self):
        super().setUp()
        self.token = new_token(log=self.log, author=self.user)
        self.logger = Client(enforce_csrf_checks=True)

    def post(self, payload, token=None, pk=None):
        body = payload if isinstance(payload, str | bytes) else json.dumps({"readings": payload})
        return self.logger.post(
            f"/log/{pk or self.log.pk}/readings",
            body,
            "application/json",
            headers={"Authorization": f"Bearer {token or self.token}"},
        )

    def test_posts_are_stored_once_however_often_they_come(self):
        line = {"at": "2026-05-02T10:15:00", "collector": 54.2, "store": [31, None, 42], "pump": 1}
        self.assertEqual(self.post([line, line]).json()["kept"], 1)
        self.assertEqual(
            self.post([line]).json(), {"stored": 0, "kept": 0, "known": 1, "refused": [], "refused_count": 0}
        )
        late = {"at": "2026-05-01T10:15:00+02:00", "air": 7}
        self.assertEqual(self.post([late]).json()["kept"], 1)
        reading = self.log.readings.last()
        self.assertEqual(reading.values, {"collector": 54.2, "s0": 31.0, "s2": 42.0, "pump": 1.0})
        self.assertEqual(local_of(reading.at, self.log.offset_h), datetime(2026, 5, 2, 10, 15))

    def test_only_its_own_key_opens_a_log(self):
        other = begin_log(design=self.fresh(), author=self.user)
        line = [{"at": "2026-05-02T10:15:00", "air": 5}]
        for pk, token in ((other.pk, self.token), (self.log.pk, "wrong"), (999_999, self.token)):
            self.assertEqual(self.post(line, token, pk).status_code, 401)
        self.assertEqual(self.logger.post(f"/log/{self.log.pk}/readings").status_code, 401)
        self.assertEqual(self.logger.get(f"/log/{self.log.pk}/readings").status_code, 405)
        fresh = new_token(log=self.log, author=self.user)
        self.assertEqual(self.post(line).status_code, 401)  # the one before has ended
        self.assertEqual(self.post(line, fresh).status_code, 200)
        end_token(log=self.log, author=self.user)
        self.assertEqual(self.post(line, fresh).status_code, 401)
        self.assertNotIn(fresh, str(Log.objects.values()))  # only its digest is kept

    def test_bad_posts_are_reported_and_good_lines_stored(self):
        for body in ("", "[]", "{", '{"readings": 5}', '{"readings": [' + "[" * 500, b"\xff\xfe"):
            with self.subTest(body=body[:20]):
                self.assertEqual(self.post(body).status_code, 422)
        bad = [{"at": "yesterday"}, {"air": 5}, 7, {"at": "2026-05-02T10:15:00", "air": "warm"}]
        later = [{"at": "2026-05-02T10:20:00", "air": 5}, {"at": "2126-05-02T10:20:00", "air": 5}]
        answer = self.post([*bad, *later]).json()
        self.assertEqual((answer["kept"], answer["refused_count"]), (1, 5))
        self.assertEqual(self.post("x" * 2_000_001).status_code, 413)
        self.assertEqual(self.post([{"at": "2026-05-02T10:15:00", "air": 5}] * 5001).status_code, 422)

    def test_a_are_in_keeps_what_the_server_did_not_take(self):
        lines = lines_of(
            self.log.document,
            weather_year(self.log.weather),
            {"valve": 1.0},
            datetime(2026, 3, 1),
            2,
            5,
            tuple(self.log.heights),
        )
        self.assertTrue(540 < len(lines) <= 576)  # every five minutes, a few lost
        taken = []
        logger = Logger("http://127.0.0.1:9/log/1/readings", "key", taken.append)
        logger.waiting.extend(lines[:20])
        self.assertFalse(logger.post())
        self.assertEqual((len(logger.waiting), len(logger.posted)), (20, 0))
        logger.posted = lines
        day = logger.last_day().splitlines()
        self.assertIn("store 3", day[0])
        self.assertLessEqual(len(day), 290)
        self.assertEqual(self.post(lines[:100]).json()["kept"], 100)
        import random

        self.assertEqual(len(hidden(self.log.document, random.Random(1))), 1)


class Upkeep(LogCase):
    def test_tasks_come_due_and_are_done(self):
        Log.objects.update(began=timezone.now() - timedelta(days=400))
        before = {one.task.key: one for one in due_of(self.project)}
        self.assertLess(before["leaks"].days, 0)
        self.assertIn("fluid", before)
        self.assertNotIn("level", before)
        record_done(
            project=self.project, author=self.user, key="leaks", on=timezone.localdate(), name="Ada", remark="dry"
        )
        after = {one.task.key: one for one in due_of(self.project)}
        self.assertGreater(after["leaks"].days, 150)
        self.assertEqual(after["leaks"].done.name, "Ada")
        for key, on, name in (
            ("leaks", timezone.localdate() + timedelta(days=9), "Ada"),
            ("leaks", date(2026, 1, 1), ""),
        ):
            with self.assertRaises(HeatError):
                record_done(project=self.project, author=self.user, key=key, on=on, name=name)

    def test_the_calendar_is_read_by_a_calendar_and_ends(self):
        made = open_calendar(project=self.project, author=self.user)
        stranger = Client()
        answer = stranger.get(f"/upkeep/{made.token}.ics")
        self.assertEqual(answer["Content-Type"], "text/calendar; charset=utf-8")
        events = icalendar.Calendar.from_ical(answer.content).walk("VEVENT")
        self.assertEqual(len(events), len(due_of(self.project)))
        self.assertIn("Antifreeze", " ".join(str(event["SUMMARY"]) for event in events))
        self.assertEqual(events[0].decoded("DTSTART"), due_of(self.project)[0].on)
        fresh = open_calendar(project=self.project, author=self.user)
        self.assertEqual(stranger.get(f"/upkeep/{made.token}.ics").status_code, 404)
        self.assertEqual(stranger.get(f"/upkeep/{fresh.token}.ics").status_code, 200)
        close_calendar(project=self.project, author=self.user)
        self.assertFalse(Calendar.objects.exists())
        self.assertEqual(stranger.get(f"/upkeep/{fresh.token}.ics").status_code, 404)

    def test_nothing_is_due_before_something_is_built(self):
        Log.objects.all().delete()
        self.assertEqual(due_of(self.project), [])


class OddPosts(ALogger):
    """A logger repeats what is not taken: one bad row is refused by itself and loses no other."""

    ODD = (
        {"at": "2026-11-30T10:00:00+23:59", "collector": 1},
        {"at": "0001-01-01T00:00:00+23:59", "collector": 1},
        {"at": "9999-12-31T23:59:59-23:59", "collector": 1},
        {"at": "x\0", "collector": 1},
        {"at": 5},
        [],
        None,
        "x",
        {"at": "2026-11-30T10:00:00", "n" * 5000: 1},
        {"at": "2026-11-30T10:00:00", "collector": "\ud83d"},
        {"at": "2026-11-30T10:00:00", "store": {"a": 1}},
        {"at": "2026-11-30T10:00:00", "store": [1] * 90_000},
        {"at": "2026-11-30T10:00:00", "collector": 10**400},
        {"at": "2026-11-30T10:00:00", "\ud83d": 1},
    )

    def test_row_by_row(self):
        now = timezone.now()
        for number, odd in enumerate(self.ODD):
            good = {"at": (now - timedelta(minutes=number)).isoformat(), "collector": 40.0, "remark": "a\0b\ud83d"}
            response = self.post([odd, good])
            self.assertEqual(response.status_code, 200, odd)
            self.assertEqual(response.json()["kept"] + response.json()["refused_count"], 2, str(odd)[:80])
            self.assertTrue(self.log.readings.filter(at=good["at"], remark="ab").exists())
