"""Accounts: guesses are limited, strangers kept out, passwords changed and reset, what is deleted can come back."""

import re
from datetime import timedelta

from django.core import mail
from django.test import TestCase, override_settings
from django.utils import timezone

from web.accounts.models import User
from web.logs.models import Log
from web.logs.services import begin_log
from web.projects.models import Project, Version, WeatherFile
from web.projects.services.deletion import sweep
from web.projects.tests.helpers import DeskCase

PASSWORD = "quiet-harbour-9"


class Units(TestCase):
    def test_back_to_a_page_of_ours_and_nowhere_else(self):
        self.client.force_login(User.objects.create_user("asta"))
        for back, led in (
            ("/account", "/account"),
            ("x", "/"),
            ("12:99", "/"),
            ("", "/"),
            ("//else.example/", "/"),
            ("http://else.example/", "/"),
            ("NaN", "/"),
            ("/\\else.example", "/"),
        ):
            answer = self.client.post("/units", {"units": "us", "back": back})
            self.assertRedirects(answer, led, fetch_redirect_response=False)


class SigningIn(TestCase):
    def setUp(self):
        self.user = User.objects.create_user("asta", email="asta@merrow.example", password=PASSWORD)

    def sign_in(self, password):
        return self.client.post("/sign-in", {"username": "asta", "password": password})

    def test_guesses_are_limited_by_name_and_address(self):
        for _ in range(7):
            self.assertContains(self.sign_in("wrong"), "do not match")
        self.assertEqual(self.sign_in("wrong").status_code, 429)
        self.assertContains(self.sign_in(PASSWORD), "Too many wrong passwords", status_code=429)
        self.assertNotIn("_auth_user_id", self.client.session)
        User.objects.create_user("bo", password=PASSWORD)
        answer = self.client.post("/sign-in", {"username": "bo", "password": PASSWORD})
        self.assertEqual(answer.status_code, 302)

    def test_a_right_password_forgets_the_wrong_ones(self):
        for _ in range(2):
            for _ in range(6):
                self.sign_in("wrong")
            self.assertEqual(self.sign_in(PASSWORD).status_code, 302)
            self.client.logout()

    def test_strangers_open_accounts_only_where_they_may(self):
        form = {"username": "new", "password1": PASSWORD, "password2": PASSWORD}
        with override_settings(SIGN_UP=False):
            self.assertEqual(self.client.post("/join", form).status_code, 403)
            self.assertContains(self.client.get("/join"), "whoever runs this server", status_code=403)
        self.assertRedirects(self.client.post("/join", form), "/")

    def test_a_lost_password_by_mail(self):
        self.client.post("/password", {"email": "nobody@merrow.example"})
        self.assertEqual(len(mail.outbox), 0)
        answer = self.client.post("/password", {"email": "asta@merrow.example"}, follow=True)
        self.assertContains(answer, "On its way")
        link = re.search(r"http://testserver:8000(/password/\S+)", mail.outbox[0].body).group(1)
        page = self.client.get(link, follow=True)
        self.assertContains(page, "A new password")
        fresh = "loud-harbour-10"
        done = self.client.post(
            page.request["PATH_INFO"], {"new_password1": fresh, "new_password2": fresh}, follow=True
        )
        self.assertContains(done, "holds from now on")
        self.assertEqual(self.sign_in(fresh).status_code, 302)

    def test_changed_when_signed_in(self):
        self.client.force_login(self.user)
        form = {"old_password": PASSWORD, "new_password1": "loud-harbour-10", "new_password2": "loud-harbour-10"}
        self.assertRedirects(self.client.post("/account/password", form), "/account")
        self.user.refresh_from_db()
        self.assertTrue(self.user.check_password("loud-harbour-10"))
        self.assertEqual(
            self.client.post(
                "/account", {"do": "keep", "email": "nonsense", "units": "us", "decimals": "ask"}
            ).status_code,
            422,
        )
        form = {"do": "keep", "email": "a@merrow.example", "units": "us", "decimals": "ask"}
        self.client.post("/account", form | {"password": "loud-harbour-10"})
        self.user.refresh_from_db()
        self.assertEqual((self.user.email, self.user.units), ("a@merrow.example", "us"))


class Private(DeskCase):
    def test_nothing_between_keeps_a_persons_pages(self):
        for address in ("/", self.url("scheme"), self.url("accounts.csv"), self.url("steps"), "/catalogue/"):
            answer = self.client.get(address)
            self.assertIn("no-store", answer["Cache-Control"], address)
            self.assertIn("HX-Request", answer["Vary"], address)
        self.client.logout()
        self.assertNotIn("no-store", self.client.get("/health").get("Cache-Control", ""))


class Deletion(DeskCase):
    def late(self, **fields):
        return {name: timezone.now() - timedelta(days=31) for name in fields}

    def test_a_project_is_out_of_sight_comes_back_and_goes_for_good(self):
        address = f"/projects/{self.project.pk}/delete"
        self.client.post(address)
        self.assertEqual(self.client.get(self.url("scheme")).status_code, 404)
        self.assertContains(self.client.get("/"), "1 deleted, kept for 30 days")
        stranger = User.objects.create_user("bo", password=PASSWORD)
        self.client.force_login(stranger)
        self.assertEqual(self.client.post(address, {"do": "restore"}).status_code, 404)
        self.client.force_login(self.user)
        self.client.post(address, {"do": "restore"})
        self.assertEqual(self.client.get(self.url("scheme")).status_code, 200)
        self.client.post(address)
        self.assertEqual(sweep()["projects"], 0)
        Project.objects.filter(pk=self.project.pk).update(deleted=timezone.now() - timedelta(days=31))
        self.assertEqual(sweep()["projects"], 1)
        self.assertFalse(Project.objects.filter(pk=self.project.pk).exists())

    def test_a_weather_year_unless_something_rests_on_it(self):
        self.client.post(self.url("weather/use"), {"climate": "merrow_hills"})
        first, second = WeatherFile.objects.filter(project=self.project).order_by("pk")
        post = lambda file, **more: self.client.post(self.url("weather/delete"), {"file": file.pk, **more})
        self.assertContains(post(first), "stays: the project or a saved version", status_code=422)
        self.assertContains(post(second), "stays", status_code=422)
        self.client.post(self.url("weather/use"), {"use": first.pk})
        self.assertEqual(post(second).status_code, 302)
        self.assertContains(self.client.get(self.url("site?view=weather")), f"deleted: {second.name}")
        self.assertEqual(post(second, do="restore").status_code, 302)
        self.assertIsNone(WeatherFile.objects.get(pk=second.pk).deleted)

    def test_what_has_a_log_goes_with_its_log(self):
        begin_log(design=self.design, author=self.user)
        self.client.post(self.url("weather/use"), {"climate": "merrow_hills"})
        Version.objects.all().delete()
        first = WeatherFile.objects.filter(project=self.project).order_by("pk")[0]
        answer = self.client.post(self.url("weather/delete"), {"file": first.pk})
        self.assertContains(answer, "the log of what was read", status_code=422)
        WeatherFile.objects.filter(pk=first.pk).update(**self.late(deleted=1))
        self.assertEqual(sweep()["files"], 0)
        Project.objects.filter(pk=self.project.pk).update(**self.late(deleted=1))
        self.assertEqual(sweep()["projects"], 1)
        self.assertFalse(Log.objects.exists() or Project.objects.filter(pk=self.project.pk).exists())

    def test_an_account_with_all_it_holds(self):
        begin_log(design=self.design, author=self.user)
        self.assertContains(self.client.post("/account", {"do": "leave"}), "is deleted on")
        self.assertContains(self.client.post("/account", {"do": "stay"}), "delete this account")
        self.client.post("/account", {"do": "leave"})
        sweep()
        self.assertTrue(User.objects.filter(pk=self.user.pk).exists())
        User.objects.filter(pk=self.user.pk).update(leaving=timezone.now() - timedelta(days=31))
        self.assertEqual(sweep()["accounts"], 1)
        self.assertFalse(User.objects.filter(pk=self.user.pk).exists())
