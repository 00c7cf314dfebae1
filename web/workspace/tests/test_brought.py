"""A project's file brought back, with its prices where that is asked for."""

import io

from web.accounts.models import User
from web.prices.books import currency_of, own_prices, set_currency, set_prices
from web.sheet.tests.helpers import SheetCase


class Brought(SheetCase):
    def file(self):
        made = io.BytesIO(self.client.get(self.url("paper/project.zip")).content)
        made.name = "project.zip"
        return made

    def test_prices_come_only_where_they_are_asked_for(self):
        set_prices(owner=self.user, changes={"pump": 187.5})
        set_currency(owner=self.user, code="SEK")
        file, other = self.file(), User.objects.create_user("bo", password="quay-of-merrow-8")
        self.client.force_login(other)
        self.assertEqual(self.client.post("/projects/bring", {"file": file}).status_code, 302)
        self.assertEqual(own_prices(other), {})
        file.seek(0)
        self.assertEqual(self.client.post("/projects/bring", {"file": file, "prices": "1"}).status_code, 302)
        self.assertEqual((own_prices(other), currency_of(other)), ({"pump": 187.5}, "SEK"))

    def test_prices_in_another_currency_are_refused_and_nothing_is_kept(self):
        file, other = self.file(), User.objects.create_user("bo", password="quay-of-merrow-8")
        set_currency(owner=other, code="SEK")
        set_prices(owner=other, changes={"pump": 99.0})
        self.client.force_login(other)
        answer = self.client.post("/projects/bring", {"file": file, "prices": "1"})
        self.assertContains(answer, "EUR in a book of SEK", status_code=422)
        self.assertEqual((other.projects.count(), own_prices(other)), (0, {"pump": 99.0}))
