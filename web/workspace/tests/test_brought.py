"""A project's file brought back, with its prices where that is asked for."""

import io
import json
from datetime import date, timedelta

from django.conf import settings
from django.utils import timezone
from PIL import Image

from web.accounts.models import User
from web.editor.tests.helpers import DesignPageCase
from web.logs.archive import SiteShape
from web.logs.models import Log
from web.logs.services import IncomingReading, add_photo, add_readings, begin_log, set_meter, strike
from web.logs.upkeep import record_done
from web.prices.books import currency_of, own_prices, set_currency, set_prices
from web.projects.archive import read_members
from web.projects.tests.test_archive import packed
from web.ui.pictures import PHOTO, drawn_anew


class Brought(DesignPageCase):
    def file(self):
        made = io.BytesIO(self.client.get(self.url("paper/project.zip")).content)
        made.name = "project.zip"
        return made

    def test_prices_come_only_where_they_are_requested_for(self):
        set_prices(owner=self.user, changes={"pump": 187.5})
        set_currency(owner=self.user, code="SEK")
        file, other = self.file(), User.objects.create_user("bo", password="quay-of-merrow-8")
        self.client.force_login(other)
        self.assertEqual(self.client.post("/projects/bring", {"file": file}).status_code, 302)
        self.assertEqual(own_prices(other), {})
        file.seek(0)
        self.assertEqual(self.client.post("/projects/bring", {"file": file, "prices": "1"}).status_code, 302)
        self.assertEqual((own_prices(other), currency_of(other)), ({"pump": 187.5}, "SEK"))

    def test_logs_come_with_it_to_the_last_reading(self):
        log = begin_log(design=self.fresh(), author=self.user, heights=[0.0, 0.85])
        at = timezone.now().replace(microsecond=0)
        lines = [
            IncomingReading(at - timedelta(minutes=5 * i), {"s0": 20.0 + i, "air": 4.5}, "hazy") for i in range(40)
        ]
        add_readings(log=log, author=self.user, readings=lines, source="table")
        strike(reading=log.readings.first(), author=self.user, why="draught")
        out = io.BytesIO()
        Image.new("RGB", (40, 30), "#886644").save(out, "JPEG")
        add_photo(log=log, author=self.user, remark="gauge", picture=drawn_anew(out.getvalue(), PHOTO))
        set_meter(log=log, author=self.user, month=date(2026, 5, 1), values={"litres": 3000.0})
        record_done(project=self.project, author=self.user, key="leaks", on=date(2026, 3, 1), name="Ada")
        file, other = self.file(), User.objects.create_user("bo", password="quay-of-merrow-8")
        self.client.force_login(other)
        self.client.post("/projects/bring", {"file": file})
        made = Log.objects.get(project__owner=other)
        fields = ("at", "values", "source", "remark", "struck", "why")
        self.assertEqual(list(made.readings.values(*fields)), list(log.readings.values(*fields)))
        self.assertEqual((made.document, made.heights, made.litres), (log.document, log.heights, log.litres))
        self.assertEqual((made.photos.get().remark, made.meters.get().values), ("gauge", {"litres": 3000.0}))
        self.assertEqual(made.project.upkeep.get().name, "Ada")
        self.assertIsNone(made.token)

    def test_garbled_logs_are_refused_and_nothing_is_stored(self):
        begin_log(design=self.fresh(), author=self.user)
        raw = self.file().read()
        members = read_members(raw)
        gold = {"at": "2026-05-02T10:00:00Z", "source": "typed", "values": {"gold": 1}}
        for change in (
            {"heights": [0.1, 0.2]},
            {"weather": 7},
            {"readings": [gold]},
            {"gold": 1},
            {"document": {"system": 4}},
        ):
            with self.subTest(change=change):
                payload = json.loads(members["logs.json"])
                payload["logs"][0] |= change
                file = io.BytesIO(packed({**members, "logs.json": json.dumps(payload).encode()}))
                file.name = "project.zip"
                self.assertContains(
                    self.client.post("/projects/bring", {"file": file}), "Not brought back", status_code=422
                )
        self.assertEqual(self.user.projects.count(), 1)

    def test_the_schema_of_logs_in_docs_is_that_of_the_types(self):
        stored = (settings.ROOT / "docs" / "logs.schema.json").read_text()
        self.assertEqual(json.loads(stored), SiteShape.model_json_schema(), "write it anew")

    def test_prices_in_another_currency_are_refused_and_nothing_is_stored(self):
        file, other = self.file(), User.objects.create_user("bo", password="quay-of-merrow-8")
        set_currency(owner=other, code="SEK")
        set_prices(owner=other, changes={"pump": 99.0})
        self.client.force_login(other)
        answer = self.client.post("/projects/bring", {"file": file, "prices": "1"})
        self.assertContains(answer, "EUR in a book of SEK", status_code=422)
        self.assertEqual((other.projects.count(), own_prices(other)), (0, {"pump": 99.0}))
