"""What the settings promise: HTTPS, and a page for what broke."""

import os
import subprocess
import sys
from unittest.mock import patch

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


class Broken(DeskCase):
    def test_a_fault_of_ours_is_told_calmly(self):
        self.client.raise_request_exception = False
        with (
            patch("web.workspace.shell.tabs", side_effect=ZeroDivisionError("secret")),
            self.assertLogs("django.request"),
        ):
            answer = self.client.get(self.url("scheme"))
        self.assertContains(answer, "The fault is ours", status_code=500)
        self.assertNotContains(answer, "secret", status_code=500)
        self.assertIn("default-src 'none'", answer.headers["Content-Security-Policy"])
