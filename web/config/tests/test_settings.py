"""What the settings promise: HTTPS, and a page for what broke."""

import os
import subprocess
import sys
from unittest.mock import patch

from axes.models import AccessAttempt
from django.conf import settings
from django.test import SimpleTestCase

from web.projects.tests.helpers import DeskCase


class Https(SimpleTestCase):
    def test_the_deployment_check_is_clean_with_https(self):
        environment = {**os.environ, "LEDGER_HTTPS": "1", "DJANGO_SETTINGS_MODULE": "web.config.settings"}
        command = [sys.executable, "manage.py", "check", "--deploy", "--fail-level", "WARNING"]
        done = subprocess.run(command, cwd=settings.ROOT, env=environment, capture_output=True, text=True, check=False)
        self.assertEqual(done.returncode, 0, done.stderr)

    def test_plain_requests_are_sent_to_https(self):
        with self.settings(SECURE_SSL_REDIRECT=True):
            answer = self.client.get("/sign-in")
        self.assertEqual((answer.status_code, answer.url), (301, "https://testserver/sign-in"))


class Address(DeskCase):
    def test_a_proxy_is_believed_only_where_one_is_reported_of(self):
        form = {"username": "asta", "password": "wrong"}
        headers = {"X-Forwarded-For": "10.9.9.9, 10.1.2.3"}
        # on loopback alone, whoever passes something on is a program of this machine: believed, with a warning
        for behind, loopback, address in (
            (False, False, "127.0.0.1"),
            (True, False, "10.1.2.3"),
            (False, True, "10.1.2.3"),
        ):
            with self.settings(BEHIND_PROXY=behind, ON_LOOPBACK=loopback):
                self.client.logout()
                self.client.post("/sign-in", form, headers=headers)
            self.assertEqual(AccessAttempt.objects.latest("pk").ip_address, address)

    def test_cookies_are_bound_to_the_host_with_https(self):
        environment = {**os.environ, "LEDGER_HTTPS": "1", "DJANGO_SETTINGS_MODULE": "web.config.settings"}
        question_key = "from django.conf import settings as s; print(s.SESSION_COOKIE_NAME, s.SESSION_COOKIE_SECURE)"
        done = subprocess.run(
            [sys.executable, "-c", question_key],
            cwd=settings.ROOT,
            env=environment,
            capture_output=True,
            text=True,
            check=False,
        )
        self.assertEqual(done.stdout.split(), ["__Host-sessionid", "True"])


class Broken(DeskCase):
    def test_a_fault_of_ours_is_reported_calmly(self):
        self.client.raise_request_exception = False
        with (
            patch("web.workspace.shell.tabs", side_effect=ZeroDivisionError("secret")),
            self.assertLogs("django.request"),
        ):
            answer = self.client.get(self.url("scheme"))
        self.assertContains(answer, "The fault is ours", status_code=500)
        self.assertNotContains(answer, "secret", status_code=500)
        self.assertIn("default-src 'none'", answer.headers["Content-Security-Policy"])
