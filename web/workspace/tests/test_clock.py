"""The clock set back a day, in the middle of things: order is by numbers, not by time; nothing is lost or opened."""

from datetime import timedelta
from unittest.mock import patch

from django.utils import timezone

from heat.errors import HeatError
from web.accounts.models import Token
from web.accounts.tokens import make_token, token_of
from web.firms.services import come, invite
from web.projects.models import Edit
from web.projects.services.edits import change_values, step_back
from web.projects.tests.helpers import FirmCase

VOLUME = "system.store.volume_l"


class SetBack(FirmCase):
    def yesterday(self):
        return patch("django.utils.timezone.now", return_value=timezone.now() - timedelta(days=1))

    def test_edits_keep_their_order_and_undo_takes_the_last(self):
        change_values(design=self.fresh(), author=self.user, changes={VOLUME: 410.0})
        with self.yesterday():
            change_values(design=self.fresh(), author=self.user, changes={VOLUME: 420.0})
            self.assertLess(Edit.objects.get(place=2).at, Edit.objects.get(place=1).at)
            self.assertEqual(self.client.get(f"/projects/{self.project.pk}/history").status_code, 200)
            self.assertEqual(self.client.get(self.url("scheme")).status_code, 200)
            step_back(design=self.fresh(), author=self.user)
        self.assertEqual(self.document()["system"]["store"]["volume_l"], 410.0)
        self.assertEqual(self.edit(VOLUME, "430").status_code, 200)

    def test_who_signed_in_stays_so_and_what_ended_stays_ended(self):
        made, text = make_token(user=self.user, name="", scopes=["read"])
        Token.objects.filter(pk=made.pk).update(ended=timezone.now())
        _requested, link = invite(firm=self.firm, author=self.user, role="viewer")
        come(token=link, user=self.people["stranger"])
        with self.yesterday():
            self.assertEqual(self.client.get(self.url("scheme")).status_code, 200)
            self.assertIsNone(token_of(text))
            with self.assertRaises(HeatError):
                come(token=link, user=self.people["editor"])

    def test_a_page_is_requested_again_under_its_key(self):
        self.edit(VOLUME, "410", key="once")
        with self.yesterday():
            self.assertEqual(self.edit(VOLUME, "410", key="once").status_code, 200)
        self.assertEqual(Edit.objects.count(), 1)
