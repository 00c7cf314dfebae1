"""A measured load from a table: looked at, used, refused."""

from datetime import datetime, timedelta

from django.core.files.uploadedfile import SimpleUploadedFile

from web.projects.models import Upload
from web.projects.tests.helpers import HTMX, DeskCase


class Loads(DeskCase):
    def upload(self, name, data):
        return self.client.post(self.url("load"), {"file": SimpleUploadedFile(name, data)}, follow=True)

    def load(self, text, name="meter.csv"):
        return self.upload(name, text.encode())

    def record(self, **change):
        upload = Upload.objects.get()
        return self.client.post(self.url(f"load/{upload.pk}"), {**upload.layout, **change}, follow=True)

    def test_daily_litres_with_semicolons_are_looked_at_then_used(self):
        days = [f"{datetime(2023, 1, 1) + timedelta(days=d):%d.%m.%Y};{'' if d == 9 else '150,5'}" for d in range(365)]
        page = self.load("Meter 3;\nDay;Water (L)\n" + "\n".join(days))
        self.assertContains(page, "What the columns hold")
        self.assertContains(page, "Line 12: 1 rows without a number")
        self.assertContains(page, "150.5 L a day")
        self.assertIsNone(self.document()["demand"]["measured_l"])
        page = self.record(do="use")
        self.assertContains(page, "litres by the hour, read from a table")
        self.assertAlmostEqual(sum(self.document()["demand"]["measured_l"]), 150.5 * 365, delta=5)
        self.client.post(self.url("undo"), {"screen": "demand"}, headers=HTMX)
        self.assertIsNone(self.document()["demand"]["measured_l"])

    def test_hourly_kilowatt_hours_become_a_load_of_their_own(self):
        hours = [f"{datetime(2023, 1, 1) + timedelta(hours=h):%Y-%m-%d %H:%M},{1 + h % 2}" for h in range(8760)]
        self.load("time,heat kWh\n" + "\n".join(hours))
        self.record(do="use")
        process = self.document()["demand"]["process"]
        self.assertTrue(process["fitted"])
        self.assertAlmostEqual(sum(process["hourly_kw"]), 1.5 * 8760)
        self.assertContains(self.client.get(self.url("demand?view=uses&use=load")), "read from a table")

    def test_wrong_loads_state_where(self):
        self.assertContains(self.load("nothing here\nbut words"), "no line of numbers", status_code=422)
        self.assertContains(self.upload("p.csv", b"\x89PNG\x00\x00"), "binary file", status_code=422)
        page = self.load("day,L\n" + "\n".join(f"2023-01-{d:02d},0" for d in range(1, 20)))
        self.assertContains(page, "every value is zero")
        self.assertContains(self.record(do="use"), "every value is zero", status_code=422)
        self.assertContains(self.record(value="x"), "does not fit", status_code=422)
        self.assertContains(self.record(unit="firkin"), "does not fit", status_code=422)
        self.assertContains(self.record(stamp_format="%Q"), "is no way to write a stamp")
        self.assertContains(self.record(stamp_format="\0%d"), "cannot be read")

    def test_the_oldest_tables_give_way(self):
        text = "day,L\n" + "\n".join(f"2023-01-{d:02d},5" for d in range(1, 20))
        for _ in range(22):
            self.load(text)
        self.assertEqual(self.project.uploads.count(), 20)

    def test_another_projects_table_is_not_found(self):
        self.assertEqual(self.client.post(self.url("load/999")).status_code, 404)
