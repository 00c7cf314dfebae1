"""Many guesses, many mails, many accounts: each bounded by where it comes from, and none keeps others waiting."""

import re
from concurrent.futures import ThreadPoolExecutor
from unittest.mock import patch

from django.contrib.auth.hashers import make_password
from django.core import mail
from django.test import Client, override_settings

from web.accounts.tokens import make_token, open_tokens
from web.ui.exclusive import Busy, exclusive
from web.workspace.tests.test_signing_in import Asta


class Floods(Asta):
    """Many names from one address, many mails, many accounts."""

    def test_names_sprayed_from_one_address_are_stopped_before_they_are_hashed(self):
        for i in range(30):
            self.client.post("/sign-in", {"username": f"name{i}", "password": "quiet-harbour-8"})
        with patch("django.contrib.auth.hashers.MD5PasswordHasher.encode", side_effect=AssertionError("hashed")):
            answer = self.sign_in()
        self.assertContains(answer, "from here", status_code=429)
        elsewhere = Client(REMOTE_ADDR="192.0.2.7")
        self.assertEqual(self.sign_in(elsewhere).status_code, 302)

    def test_so_many_mails_to_one_person_and_so_many_from_one_place(self):
        for _ in range(5):
            self.client.post("/password", {"email": "asta@merrow.example"})
        self.assertEqual(len(mail.outbox), 3)
        for i in range(6):
            answer = self.client.post("/password", {"email": f"p{i}@merrow.example"})
        self.assertEqual(answer.status_code, 429)

    def test_the_mail_states_an_hour_and_leads_to_this_server(self):
        self.client.post("/password", {"email": "asta@merrow.example"}, headers={"Host": "localhost:6666"})
        self.assertIn("within an hour", mail.outbox[0].body)
        self.assertIn("http://localhost:8000/password/", mail.outbox[0].body)
        with override_settings(PUBLIC_URL="https://heat.merrow.example"):
            self.client.post("/password", {"email": "asta@merrow.example"})
        self.assertIn("https://heat.merrow.example/password/", mail.outbox[1].body)

    def test_a_password_set_by_the_link_is_reported_and_ends_the_keys(self):
        make_token(user=self.user, name="logger", scopes=["read"])
        self.client.post("/password", {"email": "asta@merrow.example"})
        link = re.search(r"/password/\S+", mail.outbox[0].body).group()
        here = self.client.get(link, follow=True).request["PATH_INFO"]
        form = {"new_password1": "loud-harbour-10", "new_password2": "loud-harbour-10", "end_keys": "on"}
        self.client.post(here, form)
        self.assertIn("A new password was set by the link of a mail", mail.outbox[1].body)
        self.assertIn("1 key for a program was ended", mail.outbox[1].body)
        self.assertFalse(open_tokens(self.user).exists())

    @override_settings(PASSWORD_HASHERS=["web.accounts.backends.OneAtATime"])
    def test_one_hash_at_a_time_and_few_wait(self):
        with ThreadPoolExecutor(12) as threads:
            requested = [threads.submit(make_password, "quiet-harbour-9", "salt" * 8) for _ in range(12)]
        errors = [one.exception() for one in requested if one.exception()]
        self.assertTrue(errors and all(isinstance(error, Busy) for error in errors))
        self.assertGreaterEqual(len(requested) - len(errors), 4)
        with exclusive("password", 1.0), self.assertRaises(Busy), exclusive("password", 0.1):
            pass
