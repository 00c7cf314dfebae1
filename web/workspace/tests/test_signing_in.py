"""The second factor, sessions of one's own, keys for programs, and what is asked for before something weighty."""

import re
from datetime import timedelta

from django.conf import global_settings as default_settings
from django.contrib.auth.hashers import make_password
from django.core import mail
from django.core.management import call_command
from django.test import Client, TestCase, override_settings
from django.utils import timezone
from django_otp.oath import TOTP
from django_otp.plugins.otp_totp.models import TOTPDevice

from heat.errors import HeatError
from web.accounts import sessions as noting
from web.accounts.models import RecoveryCode, SignIn, Token, User
from web.accounts.tokens import MOST, make_token, open_tokens, token_of
from web.projects.climates import merrow_coast
from web.projects.services.designs import create_project
from web.ui.tests.browser import BrowserCase

PASSWORD = "quiet-harbour-9"


def code_of(device, ahead=0):
    """What an authenticator shows, by its own calculation."""
    totp = TOTP(device.bin_key)
    totp.time = timezone.now().timestamp() + 30 * ahead
    return f"{totp.token():06d}"


class Asta(TestCase):
    def setUp(self):
        noting._expected.clear()
        self.user = User.objects.create_user("asta", email="asta@merrow.example", password=PASSWORD)

    def sign_in(self, client=None, **more):
        form = {"username": "asta", "password": PASSWORD, **more}
        return (client or self.client).post("/sign-in", form)

    def turned_on(self):
        """The second factor set up; its recovery codes."""
        self.client.force_login(self.user)
        self.client.get("/account/second")
        device = TOTPDevice.objects.get(user=self.user)
        form = {"do": "on", "code": code_of(device), "password": PASSWORD}
        page = self.client.post("/account/second", form).content.decode()
        self.client.logout()
        TOTPDevice.objects.update(last_t=-1)  # as if half a minute had gone by
        return re.findall(r"<li><code>([a-z2-7]{5}-[a-z2-7]{5})</code></li>", page)


class SecondFactor(Asta):
    def test_the_password_alone_opens_nothing(self):
        self.assertEqual(len(self.turned_on()), 10)
        self.assertRedirects(self.sign_in(), "/sign-in/code")
        self.assertRedirects(self.client.get("/"), "/sign-in?next=/")
        answer = self.client.post("/sign-in/code", {"code": code_of(TOTPDevice.objects.get())})
        self.assertRedirects(answer, "/")
        self.assertIn("A second factor was set up", mail.outbox[0].body)

    def test_a_code_holds_once(self):
        self.turned_on()
        code = code_of(TOTPDevice.objects.get())
        self.sign_in()
        self.client.post("/sign-in/code", {"code": code})
        again = Client()
        self.sign_in(again)
        answer = again.post("/sign-in/code", {"code": code})
        self.assertEqual(answer.status_code, 422)
        self.assertNotIn("_auth_user_id", again.session)

    def test_guesses_wait(self):
        self.turned_on()
        self.sign_in()
        for guess in ("000000", "zzzzz-zzzzz", "\0", "x" * 9000):
            self.assertEqual(self.client.post("/sign-in/code", {"code": guess}).status_code, 422)
        answer = self.client.post("/sign-in/code", {"code": code_of(TOTPDevice.objects.get())})
        self.assertContains(answer, "Too many wrong codes", status_code=422)

    def test_a_recovery_code_holds_once_and_is_stored_hashed(self):
        codes = self.turned_on()
        self.assertNotIn(codes[0].replace("-", ""), RecoveryCode.objects.values_list("hashed", flat=True))
        self.sign_in()
        self.assertRedirects(self.client.post("/sign-in/code", {"code": codes[0].upper()}), "/")
        self.assertIn("recovery code was used", mail.outbox[-1].body)
        again = Client()
        self.sign_in(again)
        self.assertEqual(again.post("/sign-in/code", {"code": codes[0]}).status_code, 422)

    def test_the_half_way_ends_after_minutes(self):
        self.turned_on()
        self.sign_in()
        session = self.client.session
        session["half"] = {**session["half"], "at": session["half"]["at"] - 400}
        session.save()
        self.assertRedirects(self.client.get("/sign-in/code"), "/sign-in")

    def test_where_one_was_going_is_stored_and_elsewhere_is_not(self):
        self.turned_on()
        for wanted, led in (("/account", "/account"), ("http://elsewhere.example/", "/")):
            TOTPDevice.objects.update(last_t=-1)
            self.client.logout()
            self.sign_in(next=wanted)
            answer = self.client.post("/sign-in/code", {"code": code_of(TOTPDevice.objects.get())})
            self.assertRedirects(answer, led)

    def test_taking_it_away_requests_for_the_password_and_a_code(self):
        self.turned_on()
        self.client.force_login(self.user)
        refused = self.client.post("/account/second", {"do": "off", "password": "wrong"})
        self.assertContains(refused, "not your password", status_code=422)
        self.assertTrue(TOTPDevice.objects.exists())
        for code in ("", "000000"):  # the password alone is what the second factor is there against
            refused = self.client.post("/account/second", {"do": "off", "password": PASSWORD, "code": code})
            self.assertContains(refused, "Nothing was changed", status_code=422)
            TOTPDevice.objects.update(throttling_failure_count=0)
        self.assertTrue(TOTPDevice.objects.exists())
        code = code_of(TOTPDevice.objects.get())
        self.client.post("/account/second", {"do": "off", "password": PASSWORD, "code": code})
        self.assertEqual((TOTPDevice.objects.filter(confirmed=True).count(), RecoveryCode.objects.count()), (0, 0))
        self.assertRedirects(self.sign_in(Client()), "/", fetch_redirect_response=False)

    def test_whoever_runs_the_server_takes_it_away(self):
        self.turned_on()
        call_command("drop_second", "asta")
        self.assertFalse(TOTPDevice.objects.exists())

    def test_a_wrong_first_code_turns_nothing_on(self):
        self.client.force_login(self.user)
        self.client.get("/account/second")
        refused = self.client.post("/account/second", {"do": "on", "code": "123", "password": PASSWORD})
        self.assertContains(refused, "This code is not right", status_code=422)
        self.assertEqual(self.client.post("/account/second", {"do": "dance", "password": PASSWORD}).status_code, 200)


class Passwords(TestCase):
    def test_every_letter_of_a_long_one_counts(self):
        long = "curlew over Ötzmoor " * 6 + "\U0001f31e"
        person = User(username="asta")
        person.set_password(long)
        self.assertTrue(person.check_password(long))
        self.assertFalse(person.check_password(long[:-1]))
        form = {"username": "long", "password1": long, "password2": long}
        self.assertRedirects(self.client.post("/join", form), "/")

    @override_settings(PASSWORD_HASHERS=default_settings.PASSWORD_HASHERS)
    def test_stored_salted_and_slow(self):
        one, two = make_password("quiet-harbour-9"), make_password("quiet-harbour-9")
        self.assertNotEqual(one, two)
        algorithm, rounds, salt, _hash = one.split("$")
        self.assertEqual(algorithm, "pbkdf2_sha256")
        self.assertGreaterEqual(int(rounds), 600_000)
        self.assertGreaterEqual(len(salt), 22)

    def test_no_address_or_header_holds_a_session(self):
        User.objects.create_user("asta", password=PASSWORD)
        answer = self.client.post("/sign-in", {"username": "asta", "password": PASSWORD}, follow=True)
        key = self.client.cookies["sessionid"].value
        self.assertNotIn(key, answer.content.decode() + str(answer.redirect_chain))
        self.assertTrue(self.client.cookies["sessionid"]["httponly"])


class Sessions(Asta):
    def test_listed_and_ended(self):
        other = Client(headers={"User-Agent": "Mozilla/5.0 (X11; Linux x86_64) Firefox/130.0"})
        self.sign_in(other)
        self.sign_in()
        page = self.client.get("/account/sessions")
        self.assertContains(page, "Firefox on Linux")
        self.assertContains(page, "this one")
        theirs = SignIn.objects.get(agent__contains="Firefox")
        self.client.post("/account/sessions", {"do": "end", "number": theirs.pk})
        self.assertEqual(other.get("/account").status_code, 302)
        self.assertEqual(self.client.get("/account").status_code, 200)

    def test_all_others_at_once_but_never_another_persons(self):
        bo = Client()
        bo.force_login(User.objects.create_user("bo"))
        bos = SignIn.objects.get(user__username="bo")
        second = Client()
        self.sign_in(second)
        self.sign_in()
        self.client.post("/account/sessions", {"do": "end", "number": bos.pk})
        self.client.post("/account/sessions", {"do": "others"})
        self.assertEqual([c.get("/account").status_code for c in (bo, second, self.client)], [200, 302, 200])

    def test_a_session_that_goes_on_is_noted_seldom(self):
        self.sign_in()
        SignIn.objects.update(seen=timezone.now() - timedelta(days=1))
        noting._expected.clear()
        self.client.get("/account")
        observed = SignIn.objects.get().seen
        self.assertLess(timezone.now() - observed, timedelta(minutes=1))
        self.client.get("/account")
        self.assertEqual(SignIn.objects.get().seen, observed)

    def test_another_password_ends_the_others_and_is_reported(self):
        other = Client()
        self.sign_in(other)
        self.sign_in()
        form = {"old_password": PASSWORD, "new_password1": "loud-harbour-10", "new_password2": "loud-harbour-10"}
        self.client.post("/account/password", form)
        self.assertEqual(other.get("/account").status_code, 302)
        self.assertIn("The password was changed", mail.outbox[-1].body)

    def test_old_passwords_are_not_guessed_there(self):
        self.sign_in()
        form = {"new_password1": "loud-harbour-10", "new_password2": "loud-harbour-10"}
        codes = [
            self.client.post("/account/password", form | {"old_password": f"guess-{i}"}).status_code for i in range(9)
        ]
        self.assertEqual(codes[-1], 429)
        self.client.post("/account/password", form | {"old_password": PASSWORD})
        self.user.refresh_from_db()
        self.assertTrue(self.user.check_password(PASSWORD))

    def test_keys_end_with_the_password_where_that_is_wanted_and_are_named_where_not(self):
        for end, left in (("", 1), ("on", 0)):
            self.user.refresh_from_db()
            make_token(user=self.user, name="logger", scopes=["read"])
            self.client.force_login(self.user)
            self.assertContains(self.client.get("/account/password"), "you gave to")
            new = f"loud-harbour-1{left}"
            old = PASSWORD if left else "loud-harbour-11"
            form = {"old_password": old, "new_password1": new, "new_password2": new, "end_keys": end}
            page = self.client.post("/account/password", form, follow=True)
            self.assertContains(page, "1 key for a program was not ended" if left else "2 keys for programs were ended")
            self.assertIn("for program" if not left else "for a program", mail.outbox[-1].body)
            self.assertEqual(open_tokens(self.user).count(), left)


class Weighty(Asta):
    def test_another_mail_address_requests_for_the_password(self):
        self.client.force_login(self.user)
        form = {"do": "keep", "email": "thief@merrow.example", "units": "si", "decimals": "ask"}
        self.assertContains(self.client.post("/account", form), "needs your password", status_code=422)
        self.user.refresh_from_db()
        self.assertEqual(self.user.email, "asta@merrow.example")
        self.client.post("/account", form | {"email": "a@merrow.example", "password": PASSWORD})
        self.user.refresh_from_db()
        self.assertEqual(self.user.email, "a@merrow.example")
        self.assertEqual(mail.outbox[-1].to, ["asta@merrow.example"])

    def test_a_password_is_neither_short_nor_endless(self):
        for odd in ("short-one-9", "x9" * 65):
            form = {"username": "new", "password1": odd, "password2": odd}
            self.assertEqual(self.client.post("/join", form).status_code, 422)
        form = {"username": "new", "password1": "kelp ünd 9 stones", "password2": "kelp ünd 9 stones"}
        self.assertEqual(self.client.post("/join", form).status_code, 302)

    def test_what_happens_at_the_entrance_is_logged_without_secrets(self):
        with self.assertLogs("web.security", "INFO") as observed:
            self.client.post("/sign-in", {"username": "asta\nforged", "password": "guess-of-mine"})
            self.sign_in()
        text = "\n".join(observed.output)
        self.assertIn("signed in", text)
        self.assertIn(r"asta\nforged", text)
        self.assertNotIn("guess-of-mine", text)

    def test_units_request_for_nothing(self):
        self.client.force_login(self.user)
        form = {"do": "keep", "email": "asta@merrow.example", "units": "us", "decimals": "ask"}
        self.assertEqual(self.client.post("/account", form).status_code, 200)

    @override_settings(EMAIL_BACKEND="web.workspace.tests.test_signing_in.NoMail")
    def test_a_mail_that_fails_holds_up_nothing(self):
        self.client.force_login(self.user)
        self.client.get("/account/second")
        device = TOTPDevice.objects.get()
        with self.assertLogs("web.accounts", "WARNING"):
            form = {"do": "on", "code": code_of(device), "password": PASSWORD}
            self.assertContains(self.client.post("/account/second", form), "Recovery codes")


class NoMail:
    def __init__(self, *args, **kwargs):
        raise OSError("no way to the mail server")


class Keys(Asta):
    def test_made_displayed_once_and_ended(self):
        self.client.force_login(self.user)
        form = {"do": "make", "name": "logger", "scopes": ["read"], "days": "30", "password": PASSWORD, "key": "once"}
        page = self.client.post("/account/keys", form)
        text = re.search(r"rl_[\w-]{40,}", page.content.decode()).group()
        self.assertNotIn(text, self.client.get("/account/keys").content.decode())
        self.assertEqual(token_of(text).user, self.user)
        self.assertFalse(Token.objects.filter(hashed__contains=text[3:10]).exists())
        self.assertContains(self.client.post("/account/keys", form), "made already")
        self.assertEqual(Token.objects.count(), 1)
        self.client.post("/account/keys", {"do": "end", "number": Token.objects.get().pk})
        self.assertIsNone(token_of(text))

    def test_refused_in_words_and_what_was_typed_stays(self):
        self.client.force_login(self.user)
        good = {"do": "make", "name": "logger 7", "scopes": ["read"], "days": "30", "password": PASSWORD}
        for odd in ({"password": "wrong"}, {"scopes": []}, {"scopes": ["everything"]}, {"days": "0"}, {"days": "x"}):
            answer = self.client.post("/account/keys", good | odd)
            self.assertContains(answer, "logger 7", status_code=422)
        self.assertEqual(Token.objects.count(), 0)

    def test_for_one_project_reported_by_name(self):
        project = create_project(owner=self.user, name="Tern Lane", place="", weather=merrow_coast())
        make_token(user=self.user, name="logger", scopes=["read"], project=project.pk)
        make_token(user=self.user, name="other", scopes=["read"], project=project.pk + 1)
        self.client.force_login(self.user)
        page = self.client.get("/account/keys")
        self.assertContains(page, f'<option value="{project.pk}">Tern Lane</option>')
        self.assertContains(page, ">Tern Lane</td>")
        self.assertContains(page, f">number {project.pk + 1}</td>")

    def test_past_its_day_or_its_person_it_opens_nothing(self):
        made, text = make_token(user=self.user, name="", scopes=["read"])
        Token.objects.filter(pk=made.pk).update(until=timezone.now() - timedelta(seconds=1))
        self.assertIsNone(token_of(text))
        _made, text = make_token(user=self.user, name="", scopes=["read"])
        User.objects.update(is_active=False)
        self.assertIsNone(token_of(text))
        for odd in ("", "rl_", "x" * 5000, "\0"):
            self.assertIsNone(token_of(odd))

    def test_so_many_and_no_more(self):
        for _ in range(MOST):
            make_token(user=self.user, name="", scopes=["read"])
        self.assertRaises(HeatError, make_token, user=self.user, name="", scopes=["read"])

    def test_another_persons_key_is_not_ones_own(self):
        made, _text = make_token(user=User.objects.create_user("bo"), name="", scopes=["read"])
        self.client.force_login(self.user)
        self.client.post("/account/keys", {"do": "end", "number": made.pk})
        self.assertIsNone(Token.objects.get().ended)


class InTheBrowser(BrowserCase):
    def test_set_up_and_used(self):
        User.objects.create_user("asta", password=PASSWORD)
        self.sign_in("asta", PASSWORD)
        for address in ("account/sessions", "account/keys", "account/second", "account"):
            self.page.goto(f"{self.live_server_url}/{address}")
            self.accessible()
        self.page.click("text=Second factor")
        self.assertTrue(self.page.locator("svg.qr").is_visible())
        device = TOTPDevice.objects.get()
        self.page.fill("#id_code", code_of(device))
        self.page.fill("#id_password", PASSWORD)
        self.page.click("button[value=on]")
        recovery = self.page.text_content(".codes li >> nth=0")
        self.accessible()
        self.page.click("text=Sign out")
        self.sign_in("asta", PASSWORD)
        self.page.wait_for_url("**/sign-in/code")
        self.accessible()
        self.page.fill("#id_code", recovery)
        self.page.click("button")
        self.page.wait_for_selector("text=Projects of asta")
