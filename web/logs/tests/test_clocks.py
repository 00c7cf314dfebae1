"""Moments where clocks are unlike: at the date line, around summer time, on 29 February; typed by hand."""

from datetime import UTC, datetime, timedelta
from unittest.mock import patch

from django.utils import timezone

from web.logs.models import Log, Reading, hour_of, local_of, moment_of
from web.logs.services import IncomingReading, add_readings, begin_log
from web.logs.views import readings_of
from web.projects.models import WeatherFile
from web.projects.tests.helpers import DeskCase


class Moments(DeskCase):
    def log_at(self, offset_h):
        file = WeatherFile.objects.get(pk=self.project.weather_id)
        file.about = {**file.about, "utc_offset_h": offset_h}
        file.save(update_fields=["about"])
        log = begin_log(design=self.fresh(), author=self.user)
        return Log.objects.select_related("weather", "project").get(pk=log.pk)

    def test_either_side_of_the_date_line_it_is_the_place_s_own_day(self):
        now = datetime(2026, 5, 2, 11, 30, tzinfo=UTC)
        for offset, local, hour in (
            (14.0, datetime(2026, 5, 3, 1, 30), 24 * 122 + 1.5),  # 31 + 28 + 31 + 30 + 2 days before 3 May
            (-11.0, datetime(2026, 5, 2, 0, 30), 24 * 121 + 0.5),
        ):
            self.assertEqual(local_of(now, offset), local)
            self.assertEqual(moment_of(local, offset), now)
            self.assertEqual(hour_of(now, offset), hour)

    def test_a_reading_of_tomorrow_s_date_is_taken_where_it_is_tomorrow_already(self):
        log = self.log_at(14.0)
        now = datetime(2026, 5, 2, 23, 0, tzinfo=UTC)
        with patch.object(timezone, "now", return_value=now):
            made, _refused = readings_of([{"at": "2026-05-03T12:50:00", "collector": 40.0}], log)
            result = add_readings(log=log, author=self.user, readings=made, source="logger")
        self.assertEqual((result.stored, result.refused), (1, ()))
        self.assertEqual(Reading.objects.get().at, datetime(2026, 5, 2, 22, 50, tzinfo=UTC))

    def test_around_summer_time_moments_with_an_offset_are_reported_apart(self):
        log = self.log_at(1.0)
        rows = [
            {"at": f"2026-10-25T02:30:00+0{zone}:00", "collector": 40.0} for zone in (2, 1)
        ]  # the hour that is twice
        made, _refused = readings_of(rows, log)
        with patch.object(timezone, "now", return_value=datetime(2026, 11, 1, tzinfo=UTC)):
            result = add_readings(log=log, author=self.user, readings=made, source="logger")
        self.assertEqual(result.stored, 2)
        first, second = Reading.objects.order_by("at").values_list("at", flat=True)
        self.assertEqual(second - first, timedelta(hours=1))
        self.assertEqual([local_of(at, 1.0).hour for at in (first, second)], [1, 2])

    def test_29_february_is_checked_against_the_28th(self):
        self.assertEqual(hour_of(datetime(2028, 2, 29, 12, tzinfo=UTC), 0.0), 24 * 58 + 12)
        self.assertEqual(hour_of(datetime(2028, 3, 1, 12, tzinfo=UTC), 0.0), 24 * 59 + 12)
        reading = IncomingReading(datetime(2028, 2, 29, 12, tzinfo=UTC), {"collector": 40.0})
        log = self.log_at(0.0)
        with patch.object(timezone, "now", return_value=datetime(2028, 3, 2, tzinfo=UTC)):
            self.assertEqual(add_readings(log=log, author=self.user, readings=[reading], source="typed").stored, 1)
